import type { Queue } from 'bullmq'
import type { Redis } from 'ioredis'
import { z } from 'zod'
import { UsageError } from '../usage-error'
import { taskName, type Task } from './job-store'
import { LEASE_MS, RETRY_MS, type QueueCounts, type TaskQueue } from './task-queue'

const QUEUE = 'relief-shares'
const taskSchema = z.object({ job: z.string(), share: z.number().int().min(0) })
/** Shares are handed out again as often as need be: how often is too often is noted in the store. */
const MOST_TRIES = 10_000

/** The queue of several machines, on a Redis or Valkey server. */
export class RedisQueue implements TaskQueue {
  private constructor(
    private readonly url: string,
    private readonly connection: Redis,
    private readonly queue: Queue<Task>,
  ) {}

  /** @throws {UsageError} where that is no address of such a server. One that is away is waited for. */
  static async open(url: string): Promise<RedisQueue> {
    if (!/^rediss?:\/\//.test(url) || !URL.canParse(url))
      throw new UsageError(`--redis takes an address that begins with redis:// (got "${url}")`)
    // Only who keeps a queue needs what it is kept with.
    const { Queue } = await import('bullmq')
    const connection = await connectionTo(url)
    const queue = new Queue<Task>(QUEUE, {
      connection,
      defaultJobOptions: {
        removeOnComplete: true,
        removeOnFail: true,
        attempts: MOST_TRIES,
        backoff: { type: 'exponential', delay: RETRY_MS, jitter: 0.2 },
      },
    })
    // Told where something is asked of it.
    queue.on('error', () => undefined)
    return new RedisQueue(url, connection, queue)
  }

  async offer(tasks: readonly Task[]): Promise<void> {
    // One of a name is there once.
    await this.queue.addBulk(
      tasks.map((task) => ({ name: 'share', data: task, opts: { jobId: taskName(task) } })),
    )
  }

  async withdraw(job: string): Promise<void> {
    for (const own of await this.queue.getJobs(['waiting', 'delayed', 'prioritized']))
      if (own.data.job === job) await own.remove().catch(() => undefined)
  }

  async counts(): Promise<QueueCounts> {
    const {
      waiting = 0,
      delayed = 0,
      active = 0,
    } = await this.queue.getJobCounts('waiting', 'delayed', 'active')
    return { waiting: waiting + delayed, running: active }
  }

  async serve(work: (task: Task) => Promise<void>, signal: AbortSignal): Promise<void> {
    const { UnrecoverableError, Worker } = await import('bullmq')
    const connection = await connectionTo(this.url)
    const worker = new Worker<Task>(
      QUEUE,
      async ({ data }) => {
        const task = taskSchema.safeParse(data)
        if (!task.success) throw new UnrecoverableError('is no share of a job')
        await work(task.data)
      },
      {
        connection,
        concurrency: 1,
        lockDuration: LEASE_MS,
        stalledInterval: LEASE_MS / 2,
        maxStalledCount: MOST_TRIES,
      },
    )
    // The connection comes back by itself.
    worker.on('error', () => undefined)
    await new Promise<void>((resolve) => {
      if (signal.aborted) resolve()
      else signal.addEventListener('abort', () => resolve(), { once: true })
    })
    await worker.close(true)
    connection.disconnect()
  }

  async close(): Promise<void> {
    await this.queue.close()
    this.connection.disconnect()
  }
}

/** Waits for a server that is away, however long; which the queue asks for. */
const connectionTo = async (url: string): Promise<Redis> => {
  const { Redis } = await import('ioredis')
  const own = new Redis(url, {
    maxRetriesPerRequest: null,
    retryStrategy: (times) => Math.min(2000, 100 * times),
  })
  own.on('error', () => undefined)
  return own
}
