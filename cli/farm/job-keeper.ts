import type { AskedJob } from './job-request'
import type { JobState, JobStore } from './job-store'
import type { QueueCounts, TaskQueue } from './task-queue'

/** How often it is looked what is still to be done. Milliseconds. */
const LOOK_MS = 1000
/** A queue that does not answer for so long is away. Milliseconds. */
const AWAY_MS = 1500

interface Counted {
  readonly state: JobState['state']
  readonly rays: number
  /** That it took; null until it is done. */
  readonly seconds: number | null
}

/** Keeps jobs going: what the store says is to be done stands in the queue, also where that was lost. */
export class JobKeeper {
  private readonly known = new Map<string, Counted>()
  private timer: NodeJS.Timeout | null = null
  private looking: Promise<void> = Promise.resolve()
  private isClosed = false
  private failures = 0
  private readonly began = Date.now()

  constructor(
    readonly store: JobStore,
    private readonly queue: TaskQueue,
    /** Into how many shares a job is dealt out where it does not say. */
    readonly shards: number,
    /** The most bytes that the store may take; the results nobody asked for longest go first. */
    private readonly roomBytes: number,
  ) {}

  async open(): Promise<void> {
    await this.store.open()
    for (const id of await this.store.ids()) await this.count(id)
    // Those before it began are not its own.
    this.failures = 0
    this.look()
  }

  async close(): Promise<void> {
    this.isClosed = true
    if (this.timer) clearTimeout(this.timer)
    await Promise.race([this.looking, timeout(AWAY_MS)])
  }

  /** Jobs that wait or are being done. */
  get openJobs(): number {
    return this.countOf('waiting') + this.countOf('running')
  }

  /** Takes a job in. One that failed before is tried anew. @returns whether it is new. */
  async add(asked: AskedJob): Promise<boolean> {
    const { id } = asked.job
    const isNew = await this.store.add(asked)
    if (!isNew) {
      const job = await this.store.job(id)
      if (job && (await this.store.state(job)).state === 'failed') await this.store.retry(id)
    }
    await this.count(id)
    this.lookSoon(0)
    return isNew
  }

  async remove(id: string): Promise<void> {
    await this.store.remove(id)
    this.known.delete(id)
    // Where the queue is away, who takes a share of it later finds that it is gone.
    void this.queue.withdraw(id).catch(() => undefined)
  }

  async health(): Promise<Record<string, unknown>> {
    const queue = await this.queueCounts()
    return {
      status: queue ? 'ok' : 'queue away',
      seconds: Math.round((Date.now() - this.began) / 1000),
      jobs: { waiting: this.countOf('waiting'), running: this.countOf('running') },
      queue,
      raysPerSecond: this.raysOfJobs(),
    }
  }

  /** Rays a second that whole jobs came to, from their first share to their result: of the middle one; null before there is one. */
  private raysOfJobs(): number | null {
    const rates = [...this.known.values()]
      .flatMap(({ rays, seconds }) => (seconds !== null && seconds > 0 && rays > 0 ? [rays / seconds] : []))
      .sort((a, b) => a - b)
    return rates.length > 0 ? Math.round(rates[rates.length >> 1]) : null
  }

  /** In the text format that monitors read (OpenMetrics' forerunner, version 0.0.4). */
  async metrics(): Promise<string> {
    const queue = await this.queueCounts()
    const rays = [...this.known.values()].reduce((sum, own) => sum + own.rays, 0)
    const lines: string[] = []
    const add = (
      name: string,
      type: 'gauge' | 'counter',
      help: string,
      values: readonly [string, number][],
    ) => {
      lines.push(`# HELP relief_${name} ${help}`, `# TYPE relief_${name} ${type}`)
      for (const [labels, value] of values) lines.push(`relief_${name}${labels} ${value}`)
    }
    add('queue_reachable', 'gauge', 'Whether the queue answers.', [['', queue ? 1 : 0]])
    if (queue)
      add('queue_shares', 'gauge', 'Shares in the queue.', [
        ['{state="waiting"}', queue.waiting],
        ['{state="running"}', queue.running],
      ])
    add(
      'jobs',
      'gauge',
      'Jobs in the store.',
      (['waiting', 'running', 'done', 'failed'] as const).map((state) => [
        `{state="${state}"}`,
        this.countOf(state),
      ]),
    )
    add('rays_total', 'counter', 'Rays traced for the jobs in the store.', [['', rays]])
    add('rays_per_second', 'gauge', 'Rays a second over the last minute.', [['', this.raysASecond(rays)]])
    add('failures_total', 'counter', 'Jobs that failed since the server began.', [['', this.failures]])
    return lines.join('\n') + '\n'
  }

  private readonly raysAt: { readonly time: number; readonly rays: number }[] = []

  private raysASecond(rays: number): number {
    const time = Date.now()
    this.raysAt.push({ time, rays })
    while (this.raysAt.length > 2 && time - this.raysAt[0].time > 60_000) this.raysAt.shift()
    const [first] = this.raysAt
    return time > first.time ? Math.max(0, Math.round((1000 * (rays - first.rays)) / (time - first.time))) : 0
  }

  private countOf(state: JobState['state']): number {
    return [...this.known.values()].filter((own) => own.state === state).length
  }

  /** Null where it does not answer. */
  private queueCounts(): Promise<QueueCounts | null> {
    return Promise.race([this.queue.counts().catch(() => null), timeout(AWAY_MS).then(() => null)])
  }

  private lookSoon(ms: number): void {
    if (this.isClosed) return
    if (this.timer) clearTimeout(this.timer)
    this.timer = setTimeout(() => this.look(), ms)
  }

  private look(): void {
    this.looking = this.looking
      .then(() => this.fill())
      .catch((error: unknown) => {
        process.stderr.write(`relief serve: ${error instanceof Error ? error.message : String(error)}\n`)
      })
      .finally(() => this.lookSoon(LOOK_MS))
  }

  /** Offers what is to be done, and makes room. */
  private async fill(): Promise<void> {
    for (const [id, { state }] of [...this.known]) {
      if (state !== 'waiting' && state !== 'running') continue
      const job = await this.store.job(id)
      if (!job) {
        this.known.delete(id)
        continue
      }
      const tasks = await this.store.tasks(job)
      // A queue that is away is not waited for: the next look offers them again.
      await Promise.race([this.queue.offer(tasks), timeout(AWAY_MS)])
      await this.count(id)
    }
    await this.makeRoom()
  }

  private async count(id: string): Promise<void> {
    const job = await this.store.job(id)
    if (!job) {
      this.known.delete(id)
      return
    }
    const { state, rays, seconds } = await this.store.state(job)
    if (state === 'failed' && this.known.get(id)?.state !== 'failed') this.failures++
    this.known.set(id, { state, rays, seconds })
  }

  private nextRoom = 0

  private async makeRoom(): Promise<void> {
    const over = [...this.known].filter(([, { state }]) => state === 'done' || state === 'failed')
    if (over.length === 0 || Date.now() < this.nextRoom) return
    this.nextRoom = Date.now() + 30_000
    const sizes = await Promise.all(
      [...this.known.keys()].map(async (id) => ({
        id,
        bytes: await this.store.bytes(id),
        used: await this.store.lastUse(id),
      })),
    )
    let bytes = sizes.reduce((sum, own) => sum + own.bytes, 0)
    for (const own of sizes.sort((a, b) => a.used - b.used)) {
      if (bytes <= this.roomBytes) break
      if (!over.some(([id]) => id === own.id)) continue
      await this.remove(own.id)
      bytes -= own.bytes
    }
  }
}

const timeout = (ms: number): Promise<void> => new Promise((resolve) => setTimeout(resolve, ms).unref())
