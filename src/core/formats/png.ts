import { decode, encode } from 'fast-png'
import { UnreadableFileError } from '../errors'
import type { RgbaPicture } from '../picture/rgba-picture'

/** Straight RGBA, 8 or 16 bits a channel, as a PNG file. */
export function writePng(
  width: number,
  height: number,
  rgba: Uint8Array | Uint8ClampedArray | Uint16Array,
): Uint8Array {
  const depth = rgba instanceof Uint16Array ? 16 : 8
  return encode({ width, height, channels: 4, depth, data: rgba })
}

/** Most pixels a picture may claim: a guard against small files that claim to be huge. */
const MAX_PIXELS = 16384 * 16384
/** Deflate makes at most this much of a byte (RFC 1951). */
const MOST_PER_BYTE = 1032

/**
 * Reads any PNG (grey, palette, with or without alpha, 1 to 16 bits) as straight display RGBA.
 * @throws {UnreadableFileError}
 */
export function readPng(bytes: Uint8Array, fileName: string): RgbaPicture {
  const signature = [137, 80, 78, 71, 13, 10, 26, 10]
  if (bytes.length < 33 || signature.some((v, i) => bytes[i] !== v)) {
    throw new UnreadableFileError(fileName, 'is not a PNG')
  }
  const header = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  const [across, down] = [header.getUint32(16), header.getUint32(20)]
  if (across * down > MAX_PIXELS) {
    throw new UnreadableFileError(fileName, 'claims more pixels than can be held')
  }
  // Bits a pixel by depth and colour type (PNG 3rd edition, §11.2.2).
  const bits = header.getUint8(24) * ({ 2: 3, 4: 2, 6: 4 }[header.getUint8(25)] ?? 1)
  if (down * Math.ceil((across * bits) / 8) > MOST_PER_BYTE * bytes.length) {
    throw new UnreadableFileError(fileName, `claims ${across} × ${down} pixels, more than its bytes can hold`)
  }
  try {
    const { width, height, data, channels, depth, palette, transparency } = decode(bytes)
    const pixels = new Float32Array(4 * width * height)
    const max = depth === 16 ? 65535 : 255
    for (let i = 0; i < width * height; i++) {
      const to = 4 * i
      if (palette) {
        const [r, g, b, a = 255] = palette[data[i]]
        pixels.set([r / 255, g / 255, b / 255, a / 255], to)
      } else {
        const from = channels * i
        const grey = channels < 3
        for (let c = 0; c < 3; c++) pixels[to + c] = data[grey ? from : from + c] / max
        pixels[to + 3] = channels % 2 === 0 ? data[from + channels - 1] / max : 1
        if (transparency && channels % 2 === 1) {
          const hidden = [0, 1, 2].every((c) => data[grey ? from : from + c] === transparency[grey ? 0 : c])
          if (hidden) pixels[to + 3] = 0
        }
      }
    }
    return { width, height, pixels }
  } catch (cause) {
    throw new UnreadableFileError(fileName, 'the PNG is damaged', { cause })
  }
}
