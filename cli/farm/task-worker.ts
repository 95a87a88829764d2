import type { ChildProcess } from 'node:child_process'
import { existsSync } from 'node:fs'
import { z } from 'zod'
import type { Told } from '../told'
import type { Job } from './job-request'
import type { JobStore, ShareState, Task } from './job-store'
import { beginOwn } from './own-process'

/** A share that fails so often makes its job fail. */
const MOST_FAILURES = 3
/** A share whose worker dies so often is taken to be why. */
const MOST_STARTS = 60
/** How often it is looked whether a job is still wanted, and told how far it is. Milliseconds. */
const LOOK_MS = 400
/** The most of what a command says of its failure that is kept. */
const MOST_WORDS = 600

const toldSchema = z.object({ share: z.number(), rays: z.number() })

/** Where commands run. */
export interface Workshop {
  readonly store: JobStore
  /** Address of the module of the command. */
  readonly command: string
  readonly threads: number
  /** The longest that a share may take. Milliseconds. */
  readonly longestMs: number
}

/** The command ended otherwise than well. */
class CommandFailed extends Error {
  constructor(
    message: string,
    /** Whether it would end so again. */
    readonly isFinal: boolean,
  ) {
    super(message)
  }
}

/**
 * Does one share: by the same command that anyone can call, as a process of its own. What it made before it was interrupted is
 * gone on from.
 * @throws {Error} where it should be tried again.
 */
export async function doTask(shop: Workshop, task: Task, signal: AbortSignal): Promise<void> {
  const { store } = shop
  const job = await store.job(task.job)
  if (!job) return
  const before = await store.share(task)
  // The worker before may have ended between the last file and saying so.
  if (before.done || ['failed.json', 'result'].some((name) => existsSync(store.of(job.id, name)))) return
  if (before.starts >= MOST_STARTS)
    return store.fail(task, `share ${task.share} ended its worker ${MOST_STARTS} times`)
  const state: { now: ShareState } = { now: { ...before, starts: before.starts + 1 } }
  await store.noteShare(task, state.now)
  await store.begin(job.id)
  const began = performance.now()
  try {
    const isJoin = task.share === 0
    if (!isJoin || job.isShared)
      await run(shop, argsOf(store, job, task.share), store.of(job.id, 'files'), job.id, signal, (told) => {
        state.now = { ...state.now, progress: told.share, rays: told.rays }
        return store.noteShare(task, state.now)
      })
    if (isJoin) await store.finish(job.id)
    const seconds = (performance.now() - began) / 1000
    await store.noteShare(task, { ...state.now, progress: 1, seconds, done: true })
  } catch (error) {
    // A job that was taken away needs nothing more, and one that is stopped has not failed.
    if (!(await store.job(job.id))) return
    if (signal.aborted || !(error instanceof CommandFailed)) throw error
    const failures = state.now.failures + 1
    await store.noteShare(task, { ...state.now, failures })
    if (error.isFinal || failures >= MOST_FAILURES) return store.fail(task, error.message)
    throw error
  }
}

/** What the command is called with. A job that cannot be shared out is its own only share. */
function argsOf(store: JobStore, { id, command, args, out, shards, isShared }: Job, share: number): string[] {
  if (share === 0) {
    const folders = Array.from({ length: shards }, (_, i) => store.of(id, 'shares', String(i + 1)))
    return [
      'join',
      ...folders,
      '--overwrite',
      '--out',
      out === null ? store.of(id, 'made') : store.of(id, 'made', out),
    ]
  }
  const at = args.indexOf('--')
  const own = isShared
    ? ['--shard', `${share}/${shards}`, '--resume', '--out', store.of(id, 'shares', String(share))]
    : ['--overwrite', '--out', store.of(id, 'made', out ?? '')]
  return [command, ...args.slice(0, at), ...own, ...args.slice(at)]
}

async function run(
  { command, threads, longestMs, store }: Workshop,
  args: readonly string[],
  folder: string,
  id: string,
  signal: AbortSignal,
  tell: (told: Told) => Promise<void>,
): Promise<void> {
  const takesThreads = ['render', 'separate', 'turn', 'compose', 'hang'].includes(args[0])
  const call = takesThreads ? [args[0], `--threads=${threads}`, ...args.slice(1)] : args
  const child = beginOwn(command, call, true, {
    cwd: folder,
    stdio: ['ignore', 'ignore', 'pipe', 'ipc'],
    env: withoutSecrets(process.env),
  })
  let last: Told | null = null
  let words = ''
  let isLate = false
  child.on('message', (message) => {
    const told = toldSchema.safeParse(message)
    if (told.success) last = told.data
  })
  child.stderr?.on(
    'data',
    (piece: Buffer) => void (words = (words + piece.toString('utf8')).slice(-4 * MOST_WORDS)),
  )
  const stop = () => child.kill('SIGTERM')
  signal.addEventListener('abort', stop, { once: true })
  const began = performance.now()
  let noting: Promise<void> = Promise.resolve()
  const note = () => {
    const told = last
    last = null
    if (told) noting = noting.then(() => tell(told))
    return noting
  }
  const look = setInterval(() => {
    void note().catch(stop)
    isLate ||= performance.now() - began > longestMs
    if (isLate || !existsSync(store.of(id, 'job.json'))) stop()
  }, LOOK_MS)
  try {
    const code = await ended(child)
    clearInterval(look)
    await note()
    if (code === 0) return
    const line = words.trim().split('\n').at(-1)?.slice(0, MOST_WORDS) ?? ''
    if (isLate) throw new CommandFailed(`took longer than ${Math.round(longestMs / 60_000)} minutes`, true)
    if (code === null) throw new CommandFailed('the command was ended from outside', false)
    throw new CommandFailed(
      withoutPlace(line, folder, store.of(id)) || `the command ended with ${code}`,
      code === 2,
    )
  } finally {
    clearInterval(look)
    signal.removeEventListener('abort', stop)
  }
}

/** The environment of a command: what opens the server is not its own. */
const withoutSecrets = ({ RELIEF_TOKEN: _token, ...rest }: NodeJS.ProcessEnv): NodeJS.ProcessEnv => rest

/** Who asked is told names of files, never where they lie. */
const withoutPlace = (words: string, ...folders: readonly string[]): string =>
  folders.reduce((text, folder) => text.replaceAll(`${folder}/`, ''), words)

const ended = (child: ChildProcess): Promise<number | null> =>
  new Promise((resolve, reject) => {
    child.once('error', reject)
    child.once('exit', (code) => resolve(code))
  })
