import { BlobReader, ZipWriter } from '@zip.js/zip.js'
import {
  Mp4OutputFormat,
  Output,
  Quality,
  StreamTarget,
  VideoSample,
  VideoSampleSource,
  WebMOutputFormat,
  type StreamTargetChunk,
} from 'mediabunny'
import { z } from 'zod'
import { UnreadableFileError } from '@/core/errors'
import { apngWriter } from '@/core/film/apng-writer'
import {
  bitsForSize,
  FILM_FORMATS,
  filmFormats,
  numberedName,
  quantizerOf,
  type EncodedFilm,
} from '@/core/film/film-formats'
import type { FilmShape, FilmWriter } from '@/core/film/film-size'
import { FilmPalette, gifWriter } from '@/core/film/gif-writer'
import { webpWriter } from '@/core/film/webp-writer'
import { readPng } from '@/core/formats/png'
import { answerRequests } from '@/core/workers/answer-requests'
import { dropFilms, openFilmFile, type FilmFile } from './film-file'
import { loadFrame } from './stored-frames'

/** Makes films of frames that are kept: one frame after the other, never more than a few in memory. */
const request = z.number()
export const filmOrderSchema = z.strictObject({
  projectId: z.string(),
  /** Names of the frames, in order. */
  names: z.array(z.string()).min(1),
  /** The number of the first. */
  from: z.number().int().min(0),
  format: z.enum(FILM_FORMATS),
  width: z.number().int().positive(),
  height: z.number().int().positive(),
  rate: z.number().positive(),
  /** How often it is played; 0: again and again. */
  plays: z.number().int().min(0).max(10_000),
  /** Of formats with loss: by a figure, 0…100, or by what it may take. */
  by: z.union([
    z.strictObject({ quality: z.number().min(0).max(100) }),
    z.strictObject({ bytes: z.number().positive() }),
  ]),
  /** Of a GIF: how much its colours are mixed by patterns, 0…1. */
  dither: z.number().min(0).max(1),
  /** Whether what is clear stays so. */
  isClear: z.boolean(),
  /** Names of numbered pictures. */
  pattern: z.string(),
})
export type FilmOrder = z.infer<typeof filmOrderSchema>
const requestSchema = z.discriminatedUnion('type', [
  z.strictObject({ type: z.literal('write'), request, order: filmOrderSchema }),
  /** About how many bytes it would take. */
  z.strictObject({ type: z.literal('measure'), request, order: filmOrderSchema }),
])
export type FilmRequest = z.infer<typeof requestSchema>
export type FilmReply =
  | { readonly request: number; readonly type: 'film'; readonly file: Blob }
  | { readonly request: number; readonly type: 'size'; readonly bytes: number }

type Tell = (share01: number) => void

async function pictureOf({ projectId, names, from }: FilmOrder, i: number): Promise<Blob> {
  const picture = await loadFrame(projectId, names[i])
  if (!picture) throw new UnreadableFileError(`frame ${from + i}`, 'is not rendered any more')
  return picture
}

/** Pixels of frames, straight 8-bit RGBA. */
class Pixels {
  private readonly context: OffscreenCanvasRenderingContext2D

  constructor(private readonly order: FilmOrder) {
    const context = new OffscreenCanvas(order.width, order.height).getContext('2d', {
      willReadFrequently: true,
    })
    if (!context) throw new Error('this browser gives a worker no canvas')
    this.context = context
  }

  private async exactly(i: number): Promise<Uint8ClampedArray<ArrayBuffer>> {
    const bytes = new Uint8Array(await (await pictureOf(this.order, i)).arrayBuffer())
    const { pixels } = readPng(bytes, `frame ${this.order.from + i}`)
    const out = new Uint8ClampedArray(pixels.length)
    for (let k = 0; k < out.length; k++) out[k] = 255 * pixels[k]
    return out
  }

  /** Draws a frame; on white where the film cannot be clear. */
  async draw(i: number): Promise<OffscreenCanvas> {
    const { width, height, isClear } = this.order
    const bitmap = await createImageBitmap(await pictureOf(this.order, i), { premultiplyAlpha: 'none' })
    this.context.globalCompositeOperation = 'copy'
    this.context.drawImage(bitmap, 0, 0, width, height)
    bitmap.close()
    if (!isClear) {
      this.context.globalCompositeOperation = 'destination-over'
      this.context.fillStyle = '#fff'
      this.context.fillRect(0, 0, width, height)
    }
    return this.context.canvas
  }

  async rgba(i: number): Promise<Uint8ClampedArray<ArrayBuffer>> {
    // A canvas multiplies colours by what is clear, and rounds them.
    if (this.order.isClear) return this.exactly(i)
    await this.draw(i)
    return this.context.getImageData(0, 0, this.order.width, this.order.height)
      .data as Uint8ClampedArray<ArrayBuffer>
  }
}

const shapeOf = ({ width, height, rate, plays, names }: FilmOrder): FilmShape => ({
  width,
  height,
  rate,
  plays,
  frames: names.length,
})

const bytesOf = ({ buffer }: Uint8ClampedArray<ArrayBuffer>): Uint8Array<ArrayBuffer> =>
  new Uint8Array(buffer)

/** Pictures after each other, without loss or with few colours. */
async function writeFrames(order: FilmOrder, file: FilmFile, tell: Tell): Promise<void> {
  const pixels = new Pixels(order)
  const count = order.names.length
  const shape = shapeOf(order)
  let writer: FilmWriter
  let begun = 0
  if (order.format === 'gif') {
    // Its colours are chosen from all of it first.
    const palette = new FilmPalette(count)
    for (let i = 0; i < count; i++) {
      palette.look(bytesOf(await pixels.rgba(i)))
      tell((0.3 * (i + 1)) / count)
    }
    begun = 0.3
    writer = gifWriter(shape, palette.colours(), order.isClear, order.dither)
  } else writer = apngWriter(shape)
  for (let i = 0; i < count; i++) {
    file.write(writer.frame(bytesOf(await pixels.rgba(i))), file.length())
    tell(begun + ((1 - begun) * (i + 1)) / count)
  }
  file.write(writer.end(), file.length())
}

async function writeWebp(order: FilmOrder, file: FilmFile, tell: Tell): Promise<void> {
  const pixels = new Pixels(order)
  const writer = webpWriter(shapeOf(order), order.isClear)
  const quality = 'quality' in order.by ? order.by.quality : await webpQuality(order, order.by.bytes, pixels)
  file.write(writer.head(), 0)
  for (let i = 0; i < order.names.length; i++) {
    const canvas = await pixels.draw(i)
    const picture = await canvas.convertToBlob({ type: 'image/webp', quality: quality / 100 })
    if (picture.type !== 'image/webp') throw new Error('this browser writes no WebP')
    file.write(writer.frame(new Uint8Array(await picture.arrayBuffer())), file.length())
    tell((i + 1) / order.names.length)
  }
  file.write(writer.head(), 0)
}

/** The best quality with which a film of pictures takes no more than so many bytes, by some of them. */
async function webpQuality(order: FilmOrder, bytes: number, pixels: Pixels): Promise<number> {
  const count = order.names.length
  const looked = [...new Set([0, 1, 2, 3].map((k) => Math.floor((k * count) / 4)))]
  let [low, high] = [0, 99]
  while (low < high) {
    const quality = Math.ceil((low + high) / 2)
    let sum = 0
    for (const i of looked) {
      const canvas = await pixels.draw(i)
      sum += (await canvas.convertToBlob({ type: 'image/webp', quality: quality / 100 })).size
    }
    if ((sum / looked.length) * count <= 0.97 * bytes) low = quality
    else high = quality - 1
  }
  return low
}

const CODECS = { mp4: 'avc', webm: 'vp9', av1: 'av1' } as const

async function writeEncoded(
  order: FilmOrder & { readonly format: EncodedFilm },
  file: FilmFile,
  tell: Tell,
): Promise<void> {
  const { format, by, rate, width, height, names, plays } = order
  const rounds = Math.max(1, plays)
  const target = new StreamTarget(
    new WritableStream<StreamTargetChunk>({
      write: ({ data, position }) => file.write(data, position),
    }),
    { chunked: true, chunkSize: 2 ** 20 },
  )
  const output = new Output({
    format: format === 'mp4' ? new Mp4OutputFormat({ fastStart: false }) : new WebMOutputFormat(),
    target,
  })
  const pixelsPerSecond = width * height * rate
  const quality =
    'bytes' in by
      ? new Quality({ bitrate: bitsForSize(by.bytes, names.length * rounds, rate), bitrateMode: 'variable' })
      : new Quality({
          quantizer: quantizerOf(format, by.quality),
          // Where the encoder takes no quantizer: from a tenth of a bit a pixel to a whole one.
          bitrate: Math.round(pixelsPerSecond * 0.02 * 50 ** (by.quality / 100)),
        })
  const isClear = order.isClear && filmFormats[format].hasAlpha
  const source = new VideoSampleSource({
    codec: CODECS[format],
    quality,
    keyFrameInterval: 2,
    alpha: isClear ? 'keep' : 'discard',
    latencyMode: 'quality',
  })
  output.addVideoTrack(source, { frameRate: Number.isInteger(rate) ? rate : undefined })
  await output.start()
  const pixels = new Pixels({ ...order, isClear })
  // Colours are told in pairs of pixels: an odd side loses its last row or column.
  const [w, h] = [width & ~1, height & ~1]
  const total = names.length * rounds
  for (let i = 0; i < total; i++) {
    const rgba = await pixels.rgba(i % names.length)
    const sample = new VideoSample(w === width && h === height ? rgba : cut(rgba, width, w, h), {
      format: isClear ? 'RGBA' : 'RGBX',
      codedWidth: w,
      codedHeight: h,
      timestamp: i / rate,
      duration: 1 / rate,
    })
    await source.add(sample)
    sample.close()
    tell((i + 1) / total)
  }
  await output.finalize()
}

function cut(rgba: Uint8ClampedArray, width: number, w: number, h: number): Uint8ClampedArray<ArrayBuffer> {
  const out = new Uint8ClampedArray(4 * w * h)
  for (let y = 0; y < h; y++) out.set(rgba.subarray(4 * y * width, 4 * (y * width + w)), 4 * y * w)
  return out
}

/** Pictures as they were rendered, under numbers. */
async function writeNumbered(order: FilmOrder, file: FilmFile, tell: Tell): Promise<void> {
  const zip = new ZipWriter(
    new WritableStream<Uint8Array>({ write: (bytes) => file.write(bytes, file.length()) }),
    { useWebWorkers: false },
  )
  for (let i = 0; i < order.names.length; i++) {
    const name = numberedName(order.pattern, order.from + i, 'png')
    await zip.add(name, new BlobReader(await pictureOf(order, i)), { level: 0 })
    tell((i + 1) / order.names.length)
  }
  await zip.close()
}

async function write(order: FilmOrder, file: FilmFile, tell: Tell): Promise<void> {
  switch (order.format) {
    case 'gif':
    case 'apng':
      return writeFrames(order, file, tell)
    case 'webp':
      return writeWebp(order, file, tell)
    case 'png':
      return writeNumbered(order, file, tell)
    default:
      return writeEncoded({ ...order, format: order.format }, file, tell)
  }
}

/** Frames that are written to tell how large a film will be. */
const MEASURED = 9

/** A film of one frame, and of some: what each more takes. */
async function measured(order: FilmOrder): Promise<number> {
  const count = order.names.length
  const some = Math.min(MEASURED, count)
  const from = Math.floor((count - some) / 2)
  const lengthOf = async (frames: number): Promise<number> => {
    const file = await openFilmFile('')
    try {
      const names = order.names.slice(from, from + frames)
      const by = 'bytes' in order.by ? { bytes: Math.max(1, (order.by.bytes * frames) / count) } : order.by
      await write({ ...order, names, by, plays: Math.min(1, order.plays) }, file, () => undefined)
      return file.length()
    } finally {
      await file.drop()
    }
  }
  if ('bytes' in order.by && filmFormats[order.format].isLossy) return order.by.bytes
  const one = await lengthOf(1)
  const more = some > 1 ? ((await lengthOf(some)) - one) / (some - 1) : 0
  const rounds = filmFormats[order.format].saysPlays || order.format === 'png' ? 1 : Math.max(1, order.plays)
  return Math.round(one + Math.max(0, more) * (count * rounds - 1))
}

async function answer(message: FilmRequest, tell: Tell): Promise<{ readonly reply: FilmReply }> {
  const { request, order } = message
  if (message.type === 'measure') return { reply: { request, type: 'size', bytes: await measured(order) } }
  await dropFilms()
  const file = await openFilmFile(filmFormats[order.format].media)
  try {
    await write(order, file, tell)
    return { reply: { request, type: 'film', file: await file.end() } }
  } catch (error) {
    await file.drop()
    throw error
  }
}

const serve = answerRequests(
  (message) => requestSchema.parse(message),
  answer,
  (reply) => self.postMessage(reply),
)
self.onmessage = (event: MessageEvent<unknown>) => void serve(event.data)
