import path from 'node:path'
import { RedisQueue } from './redis-queue'
import { SqliteQueue } from './sqlite-queue'
import type { TaskQueue } from './task-queue'

/** The queue of a store: in a file beside it, or on a server where several machines work. */
export const queueOf = (store: string, redis: string | undefined): Promise<TaskQueue> =>
  redis === undefined ? SqliteQueue.open(path.join(store, 'queue.db')) : RedisQueue.open(redis)
