import type { Task } from './job-store'

/** Who does which share next. All that is to last stands in the store: a queue that was lost is filled again from there. */
export interface TaskQueue {
  /** Puts shares at the end; those that wait or are being done already stay as they are. */
  readonly offer: (tasks: readonly Task[]) => Promise<void>
  /** Takes the shares of a job out; those that are being done are given up by who does them. */
  readonly withdraw: (job: string) => Promise<void>
  readonly counts: () => Promise<QueueCounts>
  /**
   * Hands out shares one after the other until the signal is aborted. A share whose worker dies is handed out again.
   * @param work does one; where it fails, the share is handed out again after a while.
   */
  readonly serve: (work: (task: Task) => Promise<void>, signal: AbortSignal) => Promise<void>
  readonly close: () => Promise<void>
}

export interface QueueCounts {
  readonly waiting: number
  readonly running: number
}

/** A share whose worker gave no sign of life for so long is handed out again. Milliseconds. */
export const LEASE_MS = 4000
/** How often a worker gives one. Milliseconds. */
export const BEAT_MS = 1000
/** A share that failed waits so long, and twice as long each time, up to a minute. Milliseconds. */
export const RETRY_MS = 1000
