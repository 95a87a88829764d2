import { CancelledError } from '@/core/errors'
import { browserPort } from '@/core/workers/browser-port'
import { WorkerChannel } from '@/core/workers/worker-channel'
import { withinPatience } from './film-patience'
import { dropFilm, dropHandedOver, newFilmPlace, type FilmPlace } from './film-place'
import type { TakenFilm } from './film-reader'
import type { FilmOrder, FilmReply, FilmRequest } from './film-worker'

type FilmChannel = WorkerChannel<FilmRequest, FilmReply>

/** Does something in a film worker of its own, which a cancel ends at once. */
async function alone<T>(signal: AbortSignal, task: (own: FilmChannel) => Promise<T>): Promise<T> {
  const own: FilmChannel = new WorkerChannel((onMessage, onError) =>
    browserPort(
      new Worker(new URL('./film-worker.ts', import.meta.url), { type: 'module' }),
      onMessage,
      onError,
      'the film worker stopped',
    ),
  )
  const cancel = () => own.fail(new CancelledError('The film'))
  signal.addEventListener('abort', cancel)
  try {
    if (signal.aborted) throw new CancelledError('The film')
    return await task(own)
  } finally {
    signal.removeEventListener('abort', cancel)
    own.close()
  }
}

/** The same, with a place to write to, where nothing stays when it does not end well. */
async function atPlace<T>(
  signal: AbortSignal,
  task: (own: FilmChannel, place: FilmPlace) => Promise<T>,
): Promise<T> {
  const place = await newFilmPlace()
  try {
    return await alone(signal, (own) => task(own, place))
  } catch (error) {
    await dropFilm(place)
    throw error
  }
}

/** Makes a film of frames that are kept; the one before makes room. @throws {CancelledError} when aborted; {Error} in words. */
export async function writeFilm(
  order: FilmOrder,
  signal: AbortSignal,
  onProgress: (share01: number) => void,
): Promise<Blob> {
  await dropHandedOver()
  return atPlace(
    signal,
    async (own, place) => (await own.ask({ type: 'write', order, place }, 'film', { onProgress })).file,
  )
}

/** About how many bytes a film would take: some of its frames are written to tell. */
export const measureFilm = (order: FilmOrder, signal: AbortSignal): Promise<number> =>
  atPlace(signal, async (own, place) => (await own.ask({ type: 'measure', order, place }, 'size')).bytes)

/** Keeps the pictures of a film that was brought. @throws {CancelledError} when aborted; {Error} in words, naming the file. */
export const takeFilmFile = (
  projectId: string,
  file: File,
  signal: AbortSignal,
  onProgress: (share01: number) => void,
): Promise<TakenFilm> =>
  alone(signal, async (own) => {
    const { name } = file
    let isOpen = () => undefined as void
    const opened = new Promise<void>((resolve) => (isOpen = resolve))
    const taken = own.ask({ type: 'take', projectId, name, file }, 'taken', {
      onProgress: (share01) => {
        isOpen()
        onProgress(share01)
      },
    })
    // It is told where it is waited for.
    taken.catch(isOpen)
    await withinPatience(name, file.size, opened, () => own.close())
    return (await taken).film
  })
