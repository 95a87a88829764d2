import { randomUUID } from 'node:crypto'
import { setTimeout as wait } from 'node:timers/promises'
import type Database from 'libsql'
import { z } from 'zod'
import type { Task } from './job-store'
import { BEAT_MS, LEASE_MS, RETRY_MS, type QueueCounts, type TaskQueue } from './task-queue'

/** How often a worker that has nothing to do looks for something. Milliseconds. */
const LOOK_MS = 200
/** How long one waits while another process writes. Milliseconds. */
const BUSY_MS = 10_000

const taskRow = z.object({ job: z.string(), share: z.number().int(), tries: z.number().int() })
const countRow = z.object({ waiting: z.number().int(), running: z.number().int() })

/** The queue of one machine: a table in a file, which any number of its processes work on. */
export class SqliteQueue implements TaskQueue {
  private constructor(private readonly database: Database.Database) {}

  /** Opens the file, or makes it. */
  static async open(file: string): Promise<SqliteQueue> {
    // Only who keeps a queue needs what it is kept with.
    const { default: Opened } = await import('libsql')
    const database = new Opened(file, { timeout: BUSY_MS })
    database.exec(`
      PRAGMA journal_mode = WAL;
      PRAGMA synchronous = NORMAL;
      CREATE TABLE IF NOT EXISTS tasks (
        job TEXT NOT NULL,
        share INTEGER NOT NULL,
        number INTEGER NOT NULL,
        worker TEXT,
        until INTEGER NOT NULL DEFAULT 0,
        tries INTEGER NOT NULL DEFAULT 0,
        PRIMARY KEY (job, share)
      );
    `)
    return new SqliteQueue(database)
  }

  offer(tasks: readonly Task[]): Promise<void> {
    const add = this.database.prepare(
      'INSERT OR IGNORE INTO tasks (job, share, number) VALUES (?, ?, (SELECT coalesce(max(number), 0) + 1 FROM tasks))',
    )
    this.database.transaction(() => {
      for (const { job, share } of tasks) add.run(job, share)
    })()
    return Promise.resolve()
  }

  withdraw(job: string): Promise<void> {
    this.database.prepare('DELETE FROM tasks WHERE job = ?').run(job)
    return Promise.resolve()
  }

  counts(): Promise<QueueCounts> {
    const row: unknown = this.database
      .prepare(
        `SELECT count(*) FILTER (WHERE worker IS NULL OR until < ?) AS waiting,
                count(*) FILTER (WHERE worker IS NOT NULL AND until >= ?) AS running FROM tasks`,
      )
      .get(Date.now(), Date.now())
    return Promise.resolve(countRow.parse(row))
  }

  async serve(work: (task: Task) => Promise<void>, signal: AbortSignal): Promise<void> {
    const worker = randomUUID()
    while (!signal.aborted) {
      const taken = this.take(worker)
      if (taken) await this.done(taken, worker, work)
      else await wait(LOOK_MS, undefined, { signal }).catch(() => undefined)
    }
  }

  close(): Promise<void> {
    this.database.close()
    return Promise.resolve()
  }

  /** The next share that nobody works on, or whose worker gave no sign of life. */
  private take(worker: string): z.infer<typeof taskRow> | null {
    const now = Date.now()
    const row: unknown = this.database
      .prepare(
        `UPDATE tasks SET worker = ?, until = ?, tries = tries + 1
         WHERE rowid = (SELECT rowid FROM tasks WHERE until < ? ORDER BY number LIMIT 1)
         RETURNING job, share, tries`,
      )
      .get(worker, now + LEASE_MS, now)
    return row === undefined ? null : taskRow.parse(row)
  }

  private async done(
    { job, share, tries }: z.infer<typeof taskRow>,
    worker: string,
    work: (task: Task) => Promise<void>,
  ): Promise<void> {
    const own = 'WHERE job = ? AND share = ? AND worker = ?'
    const extend = this.database.prepare(`UPDATE tasks SET until = ? ${own}`)
    const beat = setInterval(() => {
      try {
        extend.run(Date.now() + LEASE_MS, job, share, worker)
      } catch {
        // Another process is writing; the next beat comes soon.
      }
    }, BEAT_MS)
    try {
      await work({ job, share })
      clearInterval(beat)
      this.database.prepare(`DELETE FROM tasks ${own}`).run(job, share, worker)
    } catch {
      clearInterval(beat)
      const later = Math.min(60_000, RETRY_MS * 2 ** Math.min(10, tries - 1))
      this.database
        .prepare(`UPDATE tasks SET worker = NULL, until = ? ${own}`)
        .run(Date.now() + later, job, share, worker)
    }
  }
}
