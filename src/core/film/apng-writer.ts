import { zlibSync } from 'fflate'
import { InvalidValueError } from '../errors'
import { joinBytes } from '../join-bytes'
import { PNG_SIGNATURE, pngChunk, upFiltered } from '../formats/png-stream'
import { changedPart, type FilmShape, type FilmWriter } from './film-size'

/** A frame stays where it is for the next, and replaces what lies in its place, alpha with it. */
const [LEAVE, REPLACE] = [0, 0]

/**
 * Writes an animated PNG (PNG specification, third edition, section 11.3.6): true colour with alpha, without loss. Of each frame
 * only what differs from the one before it is written.
 * @throws {InvalidValueError} for more frames than were told, or less.
 */
export function apngWriter({ width, height, frames, rate, plays }: FilmShape): FilmWriter {
  let count = 0
  let sequence = 0
  let before: Uint8Array | null = null
  const [numerator, denominator] = frameTime(rate)

  const head = (): Uint8Array[] => {
    const header = new Uint8Array(13)
    const view = new DataView(header.buffer)
    view.setUint32(0, width)
    view.setUint32(4, height)
    header.set([8, 6, 0, 0, 0], 8)
    const control = new Uint8Array(8)
    new DataView(control.buffer).setUint32(0, frames)
    new DataView(control.buffer).setUint32(4, plays)
    return [PNG_SIGNATURE, ...pngChunk('IHDR', header), ...pngChunk('acTL', control)]
  }

  return {
    frame(rgba) {
      if (count === frames) throw new InvalidValueError('frames', `must be ${frames}`, count + 1)
      const whole = { x: 0, y: 0, width, height }
      // One that changes nothing still takes its time: a pixel of it is written again.
      const part = before
        ? (changedPart(before, rgba, width, height) ?? { ...whole, width: 1, height: 1 })
        : whole
      const control = new Uint8Array(26)
      const view = new DataView(control.buffer)
      view.setUint32(0, sequence++)
      view.setUint32(4, part.width)
      view.setUint32(8, part.height)
      view.setUint32(12, part.x)
      view.setUint32(16, part.y)
      view.setUint16(20, numerator)
      view.setUint16(22, denominator)
      control.set([LEAVE, REPLACE], 24)
      const rows = new Uint8Array(4 * part.width * part.height)
      for (let y = 0; y < part.height; y++) {
        const from = 4 * ((part.y + y) * width + part.x)
        rows.set(rgba.subarray(from, from + 4 * part.width), 4 * y * part.width)
      }
      const packed = zlibSync(upFiltered(rows, 4 * part.width, new Uint8Array(4 * part.width)), { level: 6 })
      const pieces = [...(count === 0 ? head() : []), ...pngChunk('fcTL', control)]
      if (count === 0) pieces.push(...pngChunk('IDAT', packed))
      else {
        const data = new Uint8Array(packed.length + 4)
        new DataView(data.buffer).setUint32(0, sequence++)
        data.set(packed, 4)
        pieces.push(...pngChunk('fdAT', data))
      }
      count++
      before = rgba.slice()
      return joinBytes(pieces)
    },
    end() {
      if (count !== frames) throw new InvalidValueError('frames', `must be ${frames}`, count)
      return joinBytes(pngChunk('IEND', new Uint8Array(0)))
    },
  }
}

/** How long a frame is shown, as a fraction of a second of two 16-bit numbers. */
function frameTime(rate: number): [number, number] {
  if (Number.isInteger(rate) && rate <= 65535) return [1, rate]
  // 23.976 and the like: thousandths tell them apart.
  return [1000, Math.min(65535, Math.round(1000 * rate))]
}
