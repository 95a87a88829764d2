import type { ChildProcess } from 'node:child_process'
import { randomBytes } from 'node:crypto'
import { mkdir } from 'node:fs/promises'
import { availableParallelism } from 'node:os'
import path from 'node:path'
import { parseOptions, wholeOption } from './arguments'
import { farmServer } from './farm/farm-server'
import { JobKeeper } from './farm/job-keeper'
import { JobStore } from './farm/job-store'
import { beginOwn } from './farm/own-process'
import { queueOf } from './farm/queue-of'
import { MOST_SHARDS } from './shards'
import { UsageError } from './usage-error'
import { untilEnded } from './until-ended'

const USAGE =
  'relief serve --store DIR [--host HOST] [--port N] [--token TOKEN] [--workers N] [--threads N] [--shards N] [--redis URL] [--body MB] [--room GB] [--jobs N]'

/** A worker that ends is begun again after so long, and twice as long each time it ends soon. Milliseconds. */
const AGAIN_MS = 200
const AGAIN_MOST_MS = 20_000

/** `relief serve`: renders for others, who send jobs and fetch what they become. */
export async function serve(argv: readonly string[]): Promise<void> {
  // 1. What is asked.
  const { values, positionals } = parseOptions(argv, {
    store: { type: 'string' },
    host: { type: 'string' },
    port: { type: 'string' },
    token: { type: 'string' },
    workers: { type: 'string' },
    threads: { type: 'string' },
    shards: { type: 'string' },
    redis: { type: 'string' },
    body: { type: 'string' },
    room: { type: 'string' },
    jobs: { type: 'string' },
  })
  if (positionals.length > 0 || !values.store) throw new UsageError(USAGE)
  const host = values.host ?? '127.0.0.1'
  const port = wholeOption(values.port, 'port', 0, 65_535) ?? 4700
  const given = values.token ?? process.env.RELIEF_TOKEN
  if (given === '') throw new UsageError('--token takes a word that others cannot guess')
  const token = given ?? randomBytes(24).toString('base64url')
  const workers = wholeOption(values.workers, 'workers', 0, 256) ?? 1
  const threads =
    wholeOption(values.threads, 'threads', 1, 256) ??
    Math.max(1, Math.floor(availableParallelism() / Math.max(1, workers)))
  // One worker alone does a job in one go; several share it, in pieces small enough that none waits long for the last.
  const usual = values.redis ? 16 : workers > 1 ? 4 * workers : 1
  const shards = wholeOption(values.shards, 'shards', 1, MOST_SHARDS) ?? usual
  const bodyMb = wholeOption(values.body, 'body', 1, 480) ?? 256
  const roomGb = wholeOption(values.room, 'room', 1, 100_000) ?? 20
  const openJobs = wholeOption(values.jobs, 'jobs', 1, 100_000) ?? 200

  // 2. The store, the queue and those who work.
  const folder = path.resolve(values.store)
  await mkdir(folder, { recursive: true })
  const queue = await queueOf(folder, values.redis)
  const keeper = new JobKeeper(new JobStore(folder), queue, shards, roomGb * 2 ** 30)
  await keeper.open()
  const server = farmServer(keeper, token, { bodyBytes: bodyMb * 2 ** 20, openJobs })
  const call = ['work', '--store', folder, '--threads', String(threads)]
  const own = new OwnWorkers(workers, values.redis ? [...call, '--redis', values.redis] : call)
  try {
    await new Promise<void>((resolve, reject) => {
      server.once('error', reject)
      server.listen(port, host, resolve)
    })
    const at = server.address()
    const shown = typeof at === 'object' && at ? at.port : port
    process.stdout.write(`relief serve: http://${host.includes(':') ? `[${host}]` : host}:${shown}\n`)
    if (given === undefined) process.stdout.write(`relief serve: token ${token}\n`)
    own.begin()
    await untilEnded()
  } finally {
    // What is being done is given up, and gone on from at the next start.
    own.end()
    server.close()
    server.closeAllConnections()
    await keeper.close()
    await Promise.race([queue.close(), new Promise((resolve) => setTimeout(resolve, 1000).unref())])
  }
}

/** Workers that are begun again when they end. */
class OwnWorkers {
  private readonly children = new Set<ChildProcess>()
  private isOver = false

  constructor(
    private readonly count: number,
    private readonly call: readonly string[],
  ) {}

  begin(): void {
    for (let i = 0; i < this.count; i++) this.beginOne(AGAIN_MS)
  }

  end(): void {
    this.isOver = true
    for (const child of this.children) child.kill('SIGTERM')
  }

  private beginOne(again: number): void {
    if (this.isOver) return
    const began = performance.now()
    const child = beginOwn(import.meta.url, this.call, false, {
      stdio: ['ignore', 'ignore', 'inherit', 'ipc'],
    })
    this.children.add(child)
    child.once('exit', (_code, signal) => {
      this.children.delete(child)
      // One that was killed may come back at once; one that cannot begin would only be in the way.
      const isSoon = signal === null && performance.now() - began < 5000
      setTimeout(() => this.beginOne(isSoon ? Math.min(AGAIN_MOST_MS, 2 * again) : AGAIN_MS), again)
    })
  }
}
