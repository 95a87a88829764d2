import { Worker } from 'node:worker_threads'
import { UnreadableFileError } from '@/core/errors'
import { withinPatience } from '@/data/film-patience'

/** Films are opened in a thread of their own, as the application does: one that leads in circles is given up. */
let thread: Promise<Worker> | null = null
/** The one that takes its place, begun beforehand. */
let spare: Promise<Worker> | null = null

/** A thread that has read its program, which is bundled beside this one. */
const begun = (): Promise<Worker> =>
  new Promise((resolve, reject) => {
    const own = new Worker(new URL('./film-thread.mjs', import.meta.url))
    own.once('message', () => {
      own.unref()
      resolve(own)
    })
    own.once('error', reject)
  })

/** How long a spoiled film of a few hundred bytes may take, and a sound one on a busy machine. Milliseconds. */
const [PATIENCE_MS, SOUND_MS] = [200, 20_000]

/** @throws {UnreadableFileError} naming the film. */
export async function openApart(bytes: Uint8Array, name: string, isSound: boolean): Promise<void> {
  thread ??= spare ?? begun()
  spare ??= begun()
  const own = await thread
  let fail: (error: unknown) => void = () => undefined
  const answered = new Promise<{ refused: string | null; problem: string | null }>((resolve, reject) => {
    own.once('message', resolve)
    fail = reject
    own.once('error', fail)
  })
  own.postMessage({ bytes, name })
  const { refused, problem } = await withinPatience(
    name,
    bytes.length,
    answered,
    () => {
      thread = spare
      spare = null
      void own.terminate()
    },
    isSound ? SOUND_MS : PATIENCE_MS,
  ).finally(() => own.off('error', fail))
  if (problem !== null) throw new Error(problem)
  if (refused !== null) throw new UnreadableFileError(name, refused)
}
