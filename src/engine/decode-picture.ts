import { strFromU8 } from 'fflate'
import { decode as decodeJpeg } from 'jpeg-js'
import { init as initWebp, default as decodeWebp } from '@jsquash/webp/decode.js'
import { EXRLoader } from 'three/addons/loaders/EXRLoader.js'
import { HDRLoader } from 'three/addons/loaders/HDRLoader.js'
import { DataUtils, FloatType, HalfFloatType } from 'three'
import { UnreadableFileError } from '@/core/errors'
import { isCubeTable, readCubeTable, tablePicture } from '@/core/formats/cube-table'
import { jpegOrientation, uprightPixels } from '@/core/formats/jpeg-orientation'
import { PICTURE_KINDS } from '@/core/formats/picture-kinds'
import { readPng } from '@/core/formats/png'
import { linearToSrgb } from '@/core/math/colour'
import { fromRgba8, type RgbaPicture } from '@/core/picture/rgba-picture'
import { WEBP_DECODER } from './webp-binary'

/**
 * The one reader of pictures: layers, masks, domes and references go through it, in the browser and in Node, so that a file
 * that opens in one place opens in all and gives the same values.
 */

/** Most pixels a picture may claim: what fits in a gigabyte of floats with room to work. */
const MOST_PIXELS = 16384 * 16384

/** A decoded picture before it is display values. Rows from the top. */
interface Decoded {
  readonly width: number
  readonly height: number
  /** Interleaved; 1 to 4 a pixel: grey, grey and alpha, RGB, RGBA. */
  readonly channels: number
  readonly valueAt: (index: number) => number
}

/** A picture in linear light, and possibly beyond white (HDR, EXR), or in display values. */
export type DecodedPicture =
  { readonly space: 'display'; readonly picture: RgbaPicture } | ({ readonly space: 'linear' } & Decoded)

const begins = (bytes: Uint8Array, ...signature: number[]): boolean =>
  signature.every((v, i) => bytes[i] === v)
const textAt = (bytes: Uint8Array, at: number, text: string): boolean =>
  strFromU8(bytes.subarray(at, at + text.length), true) === text

/** Bytes of an HDR's head looked at; real ones are a few hundred. */
const LONGEST_HEAD = 65_536

function checkSize(width: number, height: number): void {
  if (width * height > MOST_PIXELS) throw new Error('it claims more pixels than can be held')
}

/** The library never comes back from a head without an end: what has none, or claims more than it can hold, goes no further. */
function checkHdrHead(bytes: Uint8Array): void {
  const head = strFromU8(bytes.subarray(0, LONGEST_HEAD), true)
  const size = /^#\?[^\n]*\n(?:[^\n]+\n)*\n-Y (\d{1,5}) \+X (\d{1,5})\n/.exec(head)
  if (!size || !/^FORMAT=32-bit_rle_rgbe\s*$/m.test(head)) throw new Error('its head has no end')
  const [rows, across] = [Number(size[1]), Number(size[2])]
  checkSize(across, rows)
  // The shortest a row can be: runs of 127 in each of four planes, behind four bytes of its own.
  const least = rows * (4 + 8 * Math.ceil(across / 127))
  const left = bytes.length - size[0].length
  if (least > left && 4 * rows * across > left) throw new Error('it is cut short')
}

/** Bytes of attributes that always take as many (OpenEXR file layout). The library reads so many, whatever a file says. */
const EXR_SIZES: Readonly<Record<string, number>> = {
  box2f: 16,
  box2i: 16,
  chromaticities: 32,
  compression: 1,
  double: 8,
  envmap: 1,
  float: 4,
  int: 4,
  keycode: 28,
  lineOrder: 1,
  m33f: 36,
  m44f: 64,
  rational: 8,
  tiledesc: 9,
  timecode: 8,
  v2f: 8,
  v2i: 8,
  v3f: 12,
  v3i: 12,
}
/** What the library takes of a file, and the kind of attribute that it takes each for. */
const EXR_NEEDED = { channels: 'chlist', compression: 'compression', dataWindow: 'box2i' } as const
/** Pixels that one value of a channel may stand for, along either way. */
const MOST_SAMPLING = 64

/**
 * Walks over an EXR's attributes (OpenEXR file layout), of each of its parts, as the library does: a head or a list of channels
 * without an end is one that it would never leave.
 */
function checkExrHead(bytes: Uint8Array): void {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  let at = 8
  const word = (what: string, limit = bytes.length): string => {
    const end = bytes.indexOf(0, at)
    if (end < 0 || end >= limit || end - at > 255) throw new Error(`its ${what} has no end`)
    const found = strFromU8(bytes.subarray(at, end), true)
    at = end + 1
    return found
  }
  const checkChannels = (end: number) => {
    const what = 'list of channels'
    // A name; a number, a flag and three bytes, and two numbers that tell how it is sampled.
    while (word(what, end) !== '') {
      if (at + 16 >= end) throw new Error(`its ${what} ends too soon`)
      const samplings = [view.getInt32(at + 8, true), view.getInt32(at + 12, true)]
      if (!samplings.every((own) => own >= 1 && own <= MOST_SAMPLING))
        throw new Error('a channel is sampled as none can be')
      at += 16
    }
    if (at !== end) throw new Error(`its ${what} ends too soon`)
  }
  // Its version says whether it has several parts.
  const hasParts = (bytes[5] & 16) !== 0
  do {
    const seen = new Map<string, string>()
    for (let name = word('head'); name !== ''; name = word('head')) {
      const type = word('head')
      if (at + 4 > bytes.length) throw new Error('its head has no end')
      const size = view.getUint32(at, true)
      at += 4
      if (size > bytes.length - at) throw new Error(`${name} is longer than the file`)
      if (Object.hasOwn(EXR_SIZES, type) && size !== EXR_SIZES[type])
        throw new Error(
          `its attribute ${name} has ${size} bytes, where the kind ${type} has ${EXR_SIZES[type]}`,
        )
      const end = at + size
      if (type === 'chlist') checkChannels(end)
      if (name === 'dataWindow' && type === 'box2i') {
        const [x0, y0, x1, y1] = [0, 4, 8, 12].map((by) => view.getInt32(at + by, true))
        if (!(x1 >= x0 && y1 >= y0 && x1 - x0 < 32768 && y1 - y0 < 32768)) throw new Error('its size is none')
        checkSize(x1 - x0 + 1, y1 - y0 + 1)
      }
      seen.set(name, type)
      at = end
    }
    for (const [name, type] of Object.entries(EXR_NEEDED))
      if (seen.get(name) !== type) throw new Error(`it has no ${name}`)
  } while (hasParts && bytes[at] !== 0)
}

function decodeLinear(bytes: Uint8Array, isExr: boolean): DecodedPicture {
  if (isExr) checkExrHead(bytes)
  else checkHdrHead(bytes)
  const copy = new Uint8Array(bytes).buffer
  const { width, height, data, type } = isExr
    ? new EXRLoader().setDataType(FloatType).parse(copy)
    : new HDRLoader().setDataType(FloatType).parse(copy)
  if (!data || !width || !height) throw new Error('it is empty')
  const channels = Math.round(data.length / (width * height))
  const decode = type === HalfFloatType ? (v: number) => DataUtils.fromHalfFloat(v) : (v: number) => v
  // The EXR reader gives rows from the bottom.
  const row = width * channels
  const valueAt = isExr
    ? (i: number) => decode(data[(height - 1 - Math.floor(i / row)) * row + (i % row)])
    : (i: number) => decode(data[i])
  return { space: 'linear', width, height, channels, valueAt }
}

let webpReady: Promise<void> | null = null

/** The decoder hands its pixels over in a browser's class; where there is none, anything with its fields will do. */
function ensureImageData(): void {
  if ('ImageData' in globalThis) return
  class Pixels {
    constructor(
      readonly data: Uint8ClampedArray,
      readonly width: number,
      readonly height: number,
    ) {}
  }
  Object.assign(globalThis, { ImageData: Pixels })
}

/** Size of a WebP by its head (RFC 9649, §2): extended, lossless or lossy. */
function webpSize(bytes: Uint8Array): readonly [number, number] {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  const u24 = (at: number) => view.getUint16(at, true) | (view.getUint8(at + 2) << 16)
  if (textAt(bytes, 12, 'VP8X')) return [1 + u24(24), 1 + u24(27)]
  if (textAt(bytes, 12, 'VP8L')) {
    const bits = view.getUint32(21, true)
    return [1 + (bits & 0x3fff), 1 + ((bits >>> 14) & 0x3fff)]
  }
  return [view.getUint16(26, true) & 0x3fff, view.getUint16(28, true) & 0x3fff]
}

async function readWebp(bytes: Uint8Array): Promise<RgbaPicture> {
  checkSize(...webpSize(bytes))
  ensureImageData()
  webpReady ??= WebAssembly.compile(Uint8Array.from(atob(WEBP_DECODER), (c) => c.charCodeAt(0))).then(
    (module) => initWebp(module),
  )
  await webpReady
  const { data, width, height } = await decodeWebp(new Uint8Array(bytes).buffer)
  return fromRgba8(data, width, height)
}

/** Most pixels that a byte of a JPEG can stand for: a block of 8 × 8 takes at least one bit (ITU-T T.81, F and G). */
const MOST_JPEG_SPREAD = 8 * 64
/** What the decoder takes of memory for a pixel, at the most, and beside its pixels. */
const JPEG_BYTES = { pixel: 48, more: 64e6 }

/**
 * Pixels that a JPEG claims in its frame header (ITU-T T.81, B.2.2), found over its segments.
 * @throws {Error} where it has none, or claims more than its bytes can stand for.
 */
function jpegPixels(bytes: Uint8Array): number {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  let at = 2
  while (at + 9 < bytes.length) {
    const marker = bytes[at + 1]
    // Filling, and markers without a segment.
    if (bytes[at] !== 0xff || marker === 0xff || marker === 1 || (marker >= 0xd0 && marker <= 0xd8)) at++
    else if (marker >= 0xc0 && marker <= 0xc2) {
      const pixels = view.getUint16(at + 5) * view.getUint16(at + 7)
      if (pixels === 0) throw new Error('its size is none')
      checkSize(pixels, 1)
      if (pixels > MOST_JPEG_SPREAD * bytes.length) throw new Error('it is cut short')
      return pixels
    } else at += 2 + view.getUint16(at + 2)
  }
  throw new Error('it has no frame header')
}

function readJpeg(bytes: Uint8Array): RgbaPicture {
  const claimed = jpegPixels(bytes)
  const { width, height, data } = decodeJpeg(bytes, {
    useTArray: true,
    formatAsRGBA: true,
    // Nor may any other frame header claim more.
    maxResolutionInMP: claimed / 1e6,
    maxMemoryUsageInMB: (JPEG_BYTES.pixel * claimed + JPEG_BYTES.more) / 2 ** 20,
  })
  return uprightPixels(fromRgba8(data, width, height), jpegOrientation(bytes))
}

/**
 * Reads PNG, JPEG (upright, as its camera noted), WebP, HDR and EXR, told apart by their first bytes; and grading tables, as
 * pictures of their entries.
 * @throws {UnreadableFileError} naming the file and why it cannot be read.
 */
export async function decodeAnyPicture(bytes: Uint8Array, name: string): Promise<DecodedPicture> {
  try {
    if (begins(bytes, 0x89, 0x50, 0x4e, 0x47)) return { space: 'display', picture: readPng(bytes, name) }
    if (begins(bytes, 0xff, 0xd8, 0xff)) return { space: 'display', picture: readJpeg(bytes) }
    if (textAt(bytes, 0, 'RIFF') && textAt(bytes, 8, 'WEBP'))
      return { space: 'display', picture: await readWebp(bytes) }
    if (begins(bytes, 0x76, 0x2f, 0x31, 0x01)) return decodeLinear(bytes, true)
    if (begins(bytes, 0x23, 0x3f)) return decodeLinear(bytes, false)
    if (isCubeTable(strFromU8(bytes.subarray(0, LONGEST_HEAD), true)))
      return { space: 'display', picture: tablePicture(readCubeTable(strFromU8(bytes), name)) }
  } catch (cause) {
    if (cause instanceof UnreadableFileError) throw cause
    const why = cause instanceof Error ? cause.message : String(cause)
    throw new UnreadableFileError(name, `cannot be read as a picture: ${why}`, { cause })
  }
  throw new UnreadableFileError(name, `is not a picture that can be read (${PICTURE_KINDS} are)`)
}

/** A picture in display values, straight alpha; light beyond white is white. @throws as {@link decodeAnyPicture}. */
export async function decodePicture(bytes: Uint8Array, name: string): Promise<RgbaPicture> {
  const decoded = await decodeAnyPicture(bytes, name)
  if (decoded.space === 'display') return decoded.picture
  const { width, height, channels, valueAt } = decoded
  const pixels = new Float32Array(4 * width * height)
  const hasAlpha = channels === 4 || channels === 2
  for (let p = 0; p < width * height; p++) {
    const from = channels * p
    const alpha = hasAlpha ? Math.min(1, Math.max(0, valueAt(from + channels - 1))) : 1
    for (let c = 0; c < 3; c++) {
      const value = valueAt(from + (channels < 3 ? 0 : c))
      // EXR is premultiplied. What is no number is dark.
      const straight = alpha > 0 && Number.isFinite(value) ? value / alpha : value === Infinity ? 1 : 0
      pixels[4 * p + c] = linearToSrgb(Math.min(1, Math.max(0, straight)))
    }
    pixels[4 * p + 3] = alpha
  }
  return { width, height, pixels }
}
