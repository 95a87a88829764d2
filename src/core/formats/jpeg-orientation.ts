import type { RgbaPicture } from '../picture/rgba-picture'

/** How a camera was held, as Exif 2.3 §4.6.4 numbers it: 1 is upright. */
export type Orientation = 1 | 2 | 3 | 4 | 5 | 6 | 7 | 8

const TAG_ORIENTATION = 0x0112
const isOrientation = (value: number): value is Orientation => value >= 1 && value <= 8

/** The tag in a TIFF block (Exif keeps its notes in one) that begins at `start`; 1 where it has none. */
function orientationIn(view: DataView, start: number): Orientation {
  const little = view.getUint16(start) === 0x4949
  const directory = start + view.getUint32(start + 4, little)
  const count = view.getUint16(directory, little)
  for (let i = 0; i < count; i++) {
    const entry = directory + 2 + 12 * i
    if (view.getUint16(entry, little) !== TAG_ORIENTATION) continue
    const value = view.getUint16(entry + 8, little)
    return isOrientation(value) ? value : 1
  }
  return 1
}

/** How the camera was held that took a JPEG. @returns 1 where nothing is noted or the notes are damaged. */
export function jpegOrientation(bytes: Uint8Array): Orientation {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  try {
    for (let at = 2; view.getUint8(at) === 0xff;) {
      const marker = view.getUint8(at + 1)
      // Start of scan: no notes behind it.
      if (marker === 0xda) return 1
      if (marker === 0xe1 && view.getUint32(at + 4) === 0x45786966) return orientationIn(view, at + 10)
      at += 2 + view.getUint16(at + 2)
    }
  } catch {
    // Notes cut short turn nothing.
  }
  return 1
}

/** Turns and mirrors a picture as its orientation asks, so that it stands upright. */
export function uprightPixels(picture: RgbaPicture, orientation: Orientation): RgbaPicture {
  if (orientation === 1) return picture
  const { width, height, pixels } = picture
  const isTurned = orientation >= 5
  const [toWidth, toHeight] = isTurned ? [height, width] : [width, height]
  const out = new Float32Array(pixels.length)
  const right = width - 1
  const bottom = height - 1
  for (let y = 0; y < toHeight; y++) {
    for (let x = 0; x < toWidth; x++) {
      const [fromX, fromY] = {
        2: [right - x, y],
        3: [right - x, bottom - y],
        4: [x, bottom - y],
        5: [y, x],
        6: [y, bottom - x],
        7: [right - y, bottom - x],
        8: [right - y, x],
      }[orientation]
      const from = 4 * (fromY * width + fromX)
      out.set(pixels.subarray(from, from + 4), 4 * (y * toWidth + x))
    }
  }
  return { width: toWidth, height: toHeight, pixels: out }
}
