import { strFromU8 } from 'fflate'
import { EXRLoader } from 'three/addons/loaders/EXRLoader.js'
import { HDRLoader } from 'three/addons/loaders/HDRLoader.js'
import { DataUtils, FloatType, HalfFloatType } from 'three'
import { UnreadableFileError } from '@/core/errors'
import type { DomeRaster } from '@/core/passes/dome-picture'
import { srgbToLinear } from '@/core/math/colour'

/** Largest picture a dome uses, in pixels; larger ones are thinned: light has no finer grain. */
const MOST_PIXELS = 1024 * 512

/** Rows from the top, averaged down to a size that lighting needs. */
function thinned(
  width: number,
  height: number,
  valueAt: (x: number, y: number, channel: number) => number,
): DomeRaster {
  const step = Math.max(1, Math.ceil(Math.sqrt((width * height) / MOST_PIXELS)))
  const [w, h] = [Math.max(1, Math.floor(width / step)), Math.max(1, Math.floor(height / step))]
  const pixels = new Float32Array(3 * w * h)
  for (let y = 0; y < h; y++) {
    for (let x = 0; x < w; x++) {
      for (let c = 0; c < 3; c++) {
        let sum = 0
        for (let j = 0; j < step; j++)
          for (let i = 0; i < step; i++) {
            const value = valueAt(x * step + i, y * step + j, c)
            sum += value > 0 && Number.isFinite(value) ? value : 0
          }
        pixels[3 * (y * w + x) + c] = sum / (step * step)
      }
    }
  }
  return { width: w, height: h, pixels }
}

/** Bytes of an HDR's head looked at; real ones are a few hundred. */
const LONGEST_HEAD = 65_536

/** The library never comes back from a head without an end: what has none, or claims more than it can hold, goes no further. */
function checkHdrHead(bytes: Uint8Array): void {
  const head = strFromU8(bytes.subarray(0, LONGEST_HEAD), true)
  const size = /^#\?[^\n]*\n(?:[^\n]+\n)*\n-Y (\d{1,5}) \+X (\d{1,5})\n/.exec(head)
  if (!size || !/^FORMAT=32-bit_rle_rgbe\s*$/m.test(head)) throw new Error('its head has no end')
  // The shortest a row can be: runs of 127 in each of four planes, behind four bytes of its own.
  const least = Number(size[1]) * (4 + 8 * Math.ceil(Number(size[2]) / 127))
  if (
    least > bytes.length - size[0].length &&
    4 * Number(size[1]) * Number(size[2]) > bytes.length - size[0].length
  )
    throw new Error('it is cut short')
}

/** Walks over an EXR's attributes (OpenEXR file layout): a head without an end is one the library would never leave. */
function checkExrHead(bytes: Uint8Array): void {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  let at = 8
  const word = (): string => {
    const end = bytes.indexOf(0, at)
    if (end < 0 || end - at > 255) throw new Error('its head has no end')
    const found = strFromU8(bytes.subarray(at, end), true)
    at = end + 1
    return found
  }
  const seen = new Set<string>()
  for (let name = word(); name !== ''; name = word()) {
    word()
    if (at + 4 > bytes.length) throw new Error('its head has no end')
    const size = view.getUint32(at, true)
    at += 4
    if (size > bytes.length - at) throw new Error(`${name} is longer than the file`)
    if (name === 'channels' && (size === 0 || bytes[at + size - 1] !== 0))
      throw new Error('its channels have no end')
    if (name === 'dataWindow') {
      const [x0, y0, x1, y1] = [0, 4, 8, 12].map((by) => view.getInt32(at + by, true))
      if (!(x1 >= x0 && y1 >= y0 && x1 - x0 < 32768 && y1 - y0 < 32768)) throw new Error('its size is none')
    }
    seen.add(name)
    at += size
  }
  for (const name of ['channels', 'compression', 'dataWindow'])
    if (!seen.has(name)) throw new Error(`it has no ${name}`)
}

/**
 * A picture of the surroundings in linear light: HDR, EXR, or any picture the browser reads (PNG, JPEG, WebP).
 * @throws {UnreadableFileError} naming the file.
 */
export async function decodeDome(bytes: Uint8Array, name: string): Promise<DomeRaster> {
  const isExr = bytes[0] === 0x76 && bytes[1] === 0x2f && bytes[2] === 0x31 && bytes[3] === 0x01
  const isHdr = bytes[0] === 0x23 && bytes[1] === 0x3f
  try {
    if (isHdr) checkHdrHead(bytes)
    if (isExr) checkExrHead(bytes)
    if (isExr || isHdr) {
      const copy = new Uint8Array(bytes).buffer
      const { width, height, data, type } = isExr
        ? new EXRLoader().setDataType(FloatType).parse(copy)
        : new HDRLoader().setDataType(FloatType).parse(copy)
      if (!data || !width || !height) throw new Error('it is empty')
      const channels = Math.round(data.length / (width * height))
      const decode = type === HalfFloatType ? (v: number) => DataUtils.fromHalfFloat(v) : (v: number) => v
      // The EXR reader gives rows from the bottom.
      const row = (y: number) => (isExr ? height - 1 - y : y)
      return thinned(width, height, (x, y, c) =>
        decode(data[channels * (row(y) * width + x) + Math.min(c, channels - 1)]),
      )
    }
    const bitmap = await createImageBitmap(new Blob([new Uint8Array(bytes)]))
    const context = new OffscreenCanvas(bitmap.width, bitmap.height).getContext('2d')
    if (!context) throw new Error('no canvas')
    context.drawImage(bitmap, 0, 0)
    const { data, width, height } = context.getImageData(0, 0, bitmap.width, bitmap.height)
    return thinned(width, height, (x, y, c) => srgbToLinear(data[4 * (y * width + x) + c] / 255))
  } catch (cause) {
    throw new UnreadableFileError(
      name,
      'is not a picture that can light a scene (HDR, EXR, PNG, JPEG and WebP are)',
      { cause },
    )
  }
}
