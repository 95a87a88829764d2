import { ALL_FORMATS, BlobSource, Input, VideoSampleSink } from 'mediabunny'
import { CancelledError, UnreadableFileError } from '@/core/errors'
import { MOST_SEQUENCE_FRAMES } from '@/core/turn/sequence'

/** A film as pictures, one after the other. */
export interface ReadFilm {
  readonly width: number
  readonly height: number
  /** Pictures a second. */
  readonly rate: number
  /** About how many there are. */
  readonly count: number
  /** Draws each on the canvas that it is given, cleared before. */
  readonly frames: (context: OffscreenCanvasRenderingContext2D) => AsyncGenerator<void>
  readonly close: () => void
}

/** Moving pictures that are no films to a film's reader. */
const PICTURES: Readonly<Record<string, string>> = {
  gif: 'image/gif',
  webp: 'image/webp',
  apng: 'image/png',
  png: 'image/png',
  avif: 'image/avif',
}
/** The longest and the slowest that a film is believed to be. */
const [MOST_RATE, LEAST_RATE] = [240, 0.01]

const rateOf = (count: number, seconds: number): number => {
  const rate = seconds > 0 ? count / seconds : 1
  // Times are told in thousandths or in shares of the rate: what is nearly whole is.
  const whole = Math.round(rate)
  const near = whole > 0 && Math.abs(rate / whole - 1) < 0.004 ? whole : rate
  return Math.min(MOST_RATE, Math.max(LEAST_RATE, near))
}

/** @throws {UnreadableFileError} naming the file and why it cannot be read here. */
export async function readFilm(file: Blob, name: string): Promise<ReadFilm> {
  const ending = /\.([^.]+)$/.exec(name)?.[1].toLowerCase() ?? ''
  const media = PICTURES[ending]
  return media ? readMoving(file, name, media) : readTrack(file, name)
}

/** The film's track, and what the file says of it. @throws {UnreadableFileError} naming the file. */
export async function openTrack(file: Blob, name: string) {
  const input = new Input({ source: new BlobSource(file), formats: ALL_FORMATS })
  try {
    const track = await input.getPrimaryVideoTrack()
    if (!track) throw new UnreadableFileError(name, 'holds no moving pictures')
    const { packetCount } = await track.computePacketStats()
    const seconds = (await track.computeDuration()) - (await track.getFirstTimestamp())
    if (packetCount === 0) throw new UnreadableFileError(name, 'holds no pictures')
    const [width, height] = [await track.getDisplayWidth(), await track.getDisplayHeight()]
    return { input, track, width, height, rate: rateOf(packetCount, seconds), count: packetCount }
  } catch (error) {
    input.dispose()
    throw filmProblem(error, name)
  }
}

function filmProblem(error: unknown, name: string): UnreadableFileError {
  if (error instanceof UnreadableFileError) return error
  const why = error instanceof Error ? error.message : String(error)
  return new UnreadableFileError(name, `cannot be read as a film (${why})`, { cause: error })
}

async function readTrack(file: Blob, name: string): Promise<ReadFilm> {
  const { input, track, ...film } = await openTrack(file, name)
  const { width, height } = film
  try {
    if (!(await track.canDecode()))
      throw new UnreadableFileError(name, 'is in a form that this browser does not read')
    const sink = new VideoSampleSink(track)
    return {
      ...film,
      close: () => input.dispose(),
      async *frames(context) {
        for await (const sample of sink.samples()) {
          context.clearRect(0, 0, width, height)
          sample.draw(context, 0, 0, width, height)
          sample.close()
          yield
        }
      },
    }
  } catch (error) {
    input.dispose()
    throw filmProblem(error, name)
  }
}

async function readMoving(file: Blob, name: string, media: string): Promise<ReadFilm> {
  if (typeof ImageDecoder === 'undefined' || !(await ImageDecoder.isTypeSupported(media)))
    throw new UnreadableFileError(name, 'is in a form that this browser does not read')
  const decoder = new ImageDecoder({ data: await file.arrayBuffer(), type: media, preferAnimation: true })
  try {
    await decoder.completed
    await decoder.tracks.ready
    const count = decoder.tracks.selectedTrack?.frameCount ?? 0
    const first = (await decoder.decode({ frameIndex: 0 })).image
    const [width, height] = [first.displayWidth, first.displayHeight]
    const seconds = (first.duration ?? 100_000) / 1e6
    first.close()
    return {
      width,
      height,
      rate: rateOf(1, seconds),
      count,
      close: () => decoder.close(),
      async *frames(context) {
        for (let frameIndex = 0; frameIndex < count; frameIndex++) {
          const { image } = await decoder.decode({ frameIndex })
          context.clearRect(0, 0, width, height)
          context.drawImage(image, 0, 0)
          image.close()
          yield
        }
      },
    }
  } catch (error) {
    decoder.close()
    const why = error instanceof Error ? error.message : String(error)
    throw new UnreadableFileError(name, `cannot be read as moving pictures (${why})`, { cause: error })
  }
}

/** A film whose pictures are kept. */
export interface TakenFilm extends Pick<ReadFilm, 'width' | 'height' | 'rate'> {
  readonly frames: readonly { readonly name: string; readonly fileId: string }[]
}

/**
 * Keeps the pictures of a film, one after the other: never more than one of them is held.
 * @param keep is given each as a PNG file. @param tell told how much is done, 0…1.
 * @throws {UnreadableFileError} naming the file; {CancelledError} when aborted. What was kept by then is nobody's: it is swept.
 */
export async function takeFilm(
  file: Blob,
  name: string,
  keep: (name: string, png: Uint8Array) => Promise<string>,
  tell: (share01: number) => void,
  signal?: AbortSignal,
): Promise<TakenFilm> {
  const film = await readFilm(file, name)
  // It is open: that it opens at all is waited for no longer.
  tell(0)
  try {
    const { width, height, rate, count } = film
    const context = new OffscreenCanvas(width, height).getContext('2d')
    if (!context) throw new Error('this browser gives a worker no canvas')
    const stem = name.replace(/\.[^.]+$/, '')
    const frames: TakenFilm['frames'][number][] = []
    for await (const _ of film.frames(context)) {
      if (signal?.aborted) throw new CancelledError(name)
      if (frames.length === MOST_SEQUENCE_FRAMES)
        throw new UnreadableFileError(name, `holds more than ${MOST_SEQUENCE_FRAMES} pictures`)
      const own = `${stem}_${String(frames.length).padStart(4, '0')}.png`
      const picture = await context.canvas.convertToBlob({ type: 'image/png' })
      frames.push({ name: own, fileId: await keep(own, new Uint8Array(await picture.arrayBuffer())) })
      tell(Math.min(1, frames.length / Math.max(1, count)))
    }
    if (frames.length === 0) throw new UnreadableFileError(name, 'holds no pictures')
    return { width, height, rate, frames }
  } finally {
    film.close()
  }
}
