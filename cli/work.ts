import { stat } from 'node:fs/promises'
import { availableParallelism } from 'node:os'
import path from 'node:path'
import { UnreadableFileError } from '@/core/errors'
import { parseOptions, wholeOption } from './arguments'
import { JobStore } from './farm/job-store'
import { queueOf } from './farm/queue-of'
import { doTask } from './farm/task-worker'
import { untilEnded } from './until-ended'
import { UsageError } from './usage-error'

/** Longest that a share may take where nothing else is said. Minutes. */
const LONGEST_MINUTES = 240

/** `relief work`: does shares of the jobs that a server takes in, on this machine or on another that sees its store. */
export async function work(argv: readonly string[]): Promise<void> {
  const { values, positionals } = parseOptions(argv, {
    store: { type: 'string' },
    redis: { type: 'string' },
    threads: { type: 'string' },
    longest: { type: 'string' },
  })
  if (positionals.length > 0 || !values.store)
    throw new UsageError('relief work --store DIR [--redis URL] [--threads N] [--longest MINUTES]')
  const folder = path.resolve(values.store)
  if (!(await stat(path.join(folder, 'jobs')).catch(() => null)))
    throw new UnreadableFileError(folder, 'is no store of relief serve')
  const threads = wholeOption(values.threads, 'threads', 1, 256) ?? availableParallelism()
  const longest = wholeOption(values.longest, 'longest', 1, 100_000) ?? LONGEST_MINUTES
  const shop = {
    store: new JobStore(folder),
    command: import.meta.url,
    threads,
    longestMs: longest * 60_000,
  }
  const queue = await queueOf(folder, values.redis)
  const abort = new AbortController()
  void untilEnded().then(() => abort.abort())
  try {
    await queue.serve((task) => doTask(shop, task, abort.signal), abort.signal)
  } finally {
    await Promise.race([queue.close(), new Promise((resolve) => setTimeout(resolve, 1000).unref())])
  }
}
