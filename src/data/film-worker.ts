// One file: one worker: its ways to write a film share pixels, words and what is beside.
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
import { apngWriter } from '@/core/film/apng-writer'
import { BESIDE, besideSize, framesBeside } from '@/core/film/beside'
import { BurnIn } from '@/core/film/burn-in'
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
import { stillsGrid } from '@/core/film/stills-sheet'
import { webpWriter } from '@/core/film/webp-writer'
import { readPng } from '@/core/formats/png'
import { PngStream } from '@/core/formats/png-stream'
import { unfoldWoff } from '@/core/formats/woff'
import { parseHex } from '@/core/math/colour'
import { MAX_PICTURE_SIDE, type Frame } from '@/core/scene/camera'
import { openFont } from '@/core/type/shaper'
import { answerRequests } from '@/core/workers/answer-requests'
import { takeFilm, type TakenFilm } from './film-reader'
import { newId } from './new-project'
import { saveFile, storageProblem } from './project-repository'
import { openFilmFile, type FilmFile } from './film-file'
import { filmPlaceSchema, type FilmPlace } from './film-place'
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
  /** Words in the corner of each frame, and the files of the font that they are set in. */
  burnIn: z
    .strictObject({ files: z.array(z.instanceof(Uint8Array)).min(1), words: z.array(z.string()).min(1) })
    .nullable(),
  /** Frames of another turntable, as large and as many, that are seen together with these. */
  beside: z.strictObject({ names: z.array(z.string()).min(1), how: z.enum(BESIDE) }).nullable(),
  /** Of a sheet of stills: how many, in how many columns, and closer views of the same, one below each. */
  stills: z.strictObject({
    columns: z.number().int().min(1).max(64),
    closer: z.array(z.string()).nullable(),
    paper: z.string(),
  }),
})
export type FilmOrder = z.infer<typeof filmOrderSchema>
const requestSchema = z.discriminatedUnion('type', [
  z.strictObject({ type: z.literal('write'), request, order: filmOrderSchema, place: filmPlaceSchema }),
  /** About how many bytes it would take; what is written to tell goes to a place, and is gone in the end. */
  z.strictObject({ type: z.literal('measure'), request, order: filmOrderSchema, place: filmPlaceSchema }),
  /** Keeps the pictures of a film that was brought. */
  z.strictObject({
    type: z.literal('take'),
    request,
    projectId: z.string(),
    name: z.string(),
    file: z.instanceof(Blob),
  }),
])
export type FilmRequest = z.infer<typeof requestSchema>
export type FilmReply =
  | { readonly request: number; readonly type: 'film'; readonly file: Blob }
  | { readonly request: number; readonly type: 'size'; readonly bytes: number }
  | { readonly request: number; readonly type: 'taken'; readonly film: TakenFilm }

type Tell = (share01: number) => void

async function pictureOf({ projectId, names, from }: FilmOrder, i: number): Promise<Blob> {
  const picture = await loadFrame(projectId, names[i])
  if (!picture) throw new Error(`frame ${from + i} is not rendered any more`)
  return picture
}

/** How large the pictures of a film are. */
const filmSize = ({ width, height, beside }: FilmOrder) =>
  beside ? besideSize({ width, height }, beside.how) : { width, height }

/** Whether its frames are as they are kept. */
const isPlain = ({ burnIn, beside }: FilmOrder): boolean => burnIn === null && beside === null

/** Pixels of frames, straight 8-bit RGBA. */
class Pixels {
  private readonly context: OffscreenCanvasRenderingContext2D
  private readonly burnIn: BurnIn | null

  constructor(private readonly order: FilmOrder) {
    const { width, height, burnIn } = order
    this.context = contextOf(width, height)
    const files = burnIn?.files.map((bytes) => openFont(unfoldWoff(bytes)))
    this.burnIn = files ? new BurnIn(filmSize(order), files) : null
  }

  private async exactly(picture: Blob, i: number): Promise<Uint8ClampedArray<ArrayBuffer>> {
    const bytes = new Uint8Array(await picture.arrayBuffer())
    const { pixels } = readPng(bytes, `frame ${this.order.from + i}`)
    const out = new Uint8ClampedArray(pixels.length)
    for (let k = 0; k < out.length; k++) out[k] = 255 * pixels[k]
    return out
  }

  /** A kept frame; on white where the film cannot be clear. */
  private async kept(picture: Blob, i: number): Promise<Uint8ClampedArray<ArrayBuffer>> {
    const { context, order } = this
    const { width, height, isClear } = order
    // A canvas multiplies colours by what is clear, and rounds them.
    if (isClear) return this.exactly(picture, i)
    const bitmap = await createImageBitmap(picture, { premultiplyAlpha: 'none' })
    context.globalCompositeOperation = 'copy'
    context.drawImage(bitmap, 0, 0, width, height)
    bitmap.close()
    context.globalCompositeOperation = 'destination-over'
    context.fillStyle = '#fff'
    context.fillRect(0, 0, width, height)
    return context.getImageData(0, 0, width, height).data as Uint8ClampedArray<ArrayBuffer>
  }

  /** A picture of the film, with all that is seen together with the frame. */
  async rgba(i: number): Promise<Uint8ClampedArray<ArrayBuffer>> {
    const { order, burnIn } = this
    const { beside } = order
    let made = await this.kept(await pictureOf(order, i), i)
    if (beside) {
      const other = await this.kept(await pictureOf({ ...order, names: beside.names }, i), i)
      made = framesBeside(made, other, order, beside.how)
    }
    if (burnIn && order.burnIn) burnIn.over(made, order.burnIn.words[i % order.burnIn.words.length])
    return made
  }
}

function contextOf(width: number, height: number): OffscreenCanvasRenderingContext2D {
  const context = new OffscreenCanvas(width, height).getContext('2d', { willReadFrequently: true })
  if (!context) throw new Error('this browser gives a worker no canvas')
  return context
}

const shapeOf = (order: FilmOrder): FilmShape => ({
  ...filmSize(order),
  rate: order.rate,
  plays: order.plays,
  frames: order.names.length,
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
    const picture = await webpOf(order, await pixels.rgba(i), quality)
    if (picture.type !== 'image/webp') throw new Error('this browser writes no WebP')
    file.write(writer.frame(new Uint8Array(await picture.arrayBuffer())), file.length())
    tell((i + 1) / order.names.length)
  }
  file.write(writer.head(), 0)
}

function webpOf(order: FilmOrder, rgba: Uint8ClampedArray<ArrayBuffer>, quality: number): Promise<Blob> {
  const { width, height } = filmSize(order)
  const context = contextOf(width, height)
  context.putImageData(new ImageData(rgba, width, height), 0, 0)
  return context.canvas.convertToBlob({ type: 'image/webp', quality: quality / 100 })
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
      sum += (await webpOf(order, await pixels.rgba(i), quality)).size
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
  const { format, by, rate, names, plays } = order
  const { width, height } = filmSize(order)
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

/** Pictures under numbers: as they were rendered where nothing is laid over them. */
async function writeNumbered(order: FilmOrder, file: FilmFile, tell: Tell): Promise<void> {
  const zip = new ZipWriter(
    new WritableStream<Uint8Array>({ write: (bytes) => file.write(bytes, file.length()) }),
    { useWebWorkers: false },
  )
  const pixels = isPlain(order) ? null : new Pixels({ ...order, isClear: true })
  for (let i = 0; i < order.names.length; i++) {
    const name = numberedName(order.pattern, order.from + i, 'png')
    const picture = pixels
      ? new Blob(pngOf(filmSize(order), await pixels.rgba(i)))
      : await pictureOf(order, i)
    await zip.add(name, new BlobReader(picture), { level: 0 })
    tell((i + 1) / order.names.length)
  }
  await zip.close()
}

/** A PNG file of straight 8-bit RGBA. */
function pngOf({ width, height }: Frame, rgba: Uint8ClampedArray<ArrayBuffer>): Uint8Array<ArrayBuffer>[] {
  const pieces: Uint8Array<ArrayBuffer>[] = []
  const stream = new PngStream(width, height, 8, (bytes) => pieces.push(new Uint8Array(bytes)))
  stream.write(bytesOf(rgba))
  return pieces
}

/** All pictures on one, a row of them after the other: no more than a row is in memory. */
async function writeStills(order: FilmOrder, file: FilmFile, tell: Tell): Promise<void> {
  const { names, stills, isClear } = order
  const cell = filmSize(order)
  const grid = stillsGrid(cell, names.length, stills.columns, stills.closer ? 2 : 1)
  const { width, height, tops, places } = grid
  if (width > MAX_PICTURE_SIDE || height > MAX_PICTURE_SIDE)
    throw new Error(
      `the sheet would measure ${width} × ${height}: no side may be longer than ${MAX_PICTURE_SIDE}`,
    )
  const stream = new PngStream(width, height, 8, (bytes) => file.write(bytes, file.length()))
  const own = new Pixels(order)
  const closer = stills.closer ? new Pixels({ ...order, names: stills.closer, burnIn: null }) : null
  const [r, g, b] = parseHex(stills.paper)
  const paper = isClear ? [0, 0, 0, 0] : [255 * r, 255 * g, 255 * b, 255].map(Math.round)
  let from = 0
  for (const [row, top] of tops.entries()) {
    const to = row === tops.length - 1 ? height : top + cell.height
    const band = new Uint8Array(4 * width * (to - from))
    for (let k = 0; k < band.length; k++) band[k] = paper[k & 3]
    for (const [i, [x, y]] of places.entries()) {
      if (y !== top) continue
      const picture = await (i < names.length || !closer ? own.rgba(i) : closer.rgba(i - names.length))
      for (let v = 0; v < cell.height; v++)
        band.set(
          picture.subarray(4 * v * cell.width, 4 * (v + 1) * cell.width),
          4 * ((y + v - from) * width + x),
        )
    }
    stream.write(band)
    from = to
    tell((row + 1) / tops.length)
  }
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
    case 'stills':
      return writeStills(order, file, tell)
    default:
      return writeEncoded({ ...order, format: order.format }, file, tell)
  }
}

/** Frames that are written to tell how large a film will be. */
const MEASURED = 9

/** A film of one frame, and of some: what each more takes. */
async function measured(order: FilmOrder, place: FilmPlace): Promise<number> {
  const count = order.names.length
  const some = Math.min(MEASURED, count)
  const from = Math.floor((count - some) / 2)
  const lengthOf = async (frames: number): Promise<number> => {
    const file = await openFilmFile(place, '')
    try {
      const names = order.names.slice(from, from + frames)
      const by = 'bytes' in order.by ? { bytes: Math.max(1, (order.by.bytes * frames) / count) } : order.by
      await write({ ...order, names, by, plays: Math.min(1, order.plays) }, file, () => undefined)
      return file.length()
    } finally {
      await file.drop()
    }
  }
  if (order.format === 'stills') {
    const sizes = await Promise.all(order.names.map(async (_, i) => (await pictureOf(order, i)).size))
    const sum = sizes.reduce((all, own) => all + own, 0)
    return order.stills.closer ? 2 * sum : sum
  }
  if ('bytes' in order.by && filmFormats[order.format].isLossy) return order.by.bytes
  const one = await lengthOf(1)
  const more = some > 1 ? ((await lengthOf(some)) - one) / (some - 1) : 0
  const rounds = filmFormats[order.format].saysPlays || order.format === 'png' ? 1 : Math.max(1, order.plays)
  return Math.round(one + Math.max(0, more) * (count * rounds - 1))
}

async function answer(message: FilmRequest, tell: Tell): Promise<{ readonly reply: FilmReply }> {
  const { request } = message
  if (message.type === 'take') {
    const { projectId, file, name } = message
    const keep = async (own: string, png: Uint8Array): Promise<string> => {
      const fileId = newId()
      await saveFile(projectId, fileId, own, png).catch((error: unknown) => {
        throw new Error(storageProblem(error), { cause: error })
      })
      return fileId
    }
    return { reply: { request, type: 'taken', film: await takeFilm(file, name, keep, tell) } }
  }
  const { order, place } = message
  if (message.type === 'measure')
    return { reply: { request, type: 'size', bytes: await measured(order, place) } }
  const file = await openFilmFile(place, filmFormats[order.format].media)
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
