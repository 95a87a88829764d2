import * as gifenc from 'gifenc'
import { InvalidValueError } from '../errors'
import type { FilmShape, FilmWriter } from './film-size'

/** The package is of two forms: where it is the older one its names are within its default. */
const { GIFEncoder, quantize } =
  'GIFEncoder' in gifenc ? gifenc : (gifenc as { default: typeof gifenc }).default

/** Colours of a film; one number is kept for what is clear, or unchanged. */
export const MOST_COLOURS = 255
const CLEAR = 255
/** Pixels that colours are chosen from, of all frames together. */
const SAMPLE_PIXELS = 1 << 18
/** Alpha from which on a pixel is there. */
const SOLID = 128

/** The colours of a film, chosen from all of its frames: one list for all, so that nothing flickers. */
export class FilmPalette {
  private readonly sample: Uint8Array
  private readonly perFrame: number
  private filled = 0

  /** @param frames how many will be looked at. */
  constructor(frames: number) {
    this.perFrame = Math.max(64, Math.floor(SAMPLE_PIXELS / Math.max(1, frames)))
    this.sample = new Uint8Array(4 * this.perFrame * Math.max(1, frames))
  }

  /** Looks at a frame: at pixels spread evenly over it. @param rgba straight. */
  look(rgba: Uint8Array): void {
    const pixels = rgba.length >> 2
    const count = Math.min(this.perFrame, pixels, (this.sample.length - this.filled) >> 2)
    for (let k = 0; k < count; k++) {
      // A step with no common factor with a row: no stripes.
      const from = 4 * Math.floor(((k * 0.6180339887498949) % 1) * pixels)
      if (rgba[from + 3] < SOLID) continue
      this.sample.set(rgba.subarray(from, from + 3), this.filled)
      this.sample[this.filled + 3] = 255
      this.filled += 4
    }
  }

  /** Triples of bytes, at most {@link MOST_COLOURS}. */
  colours(): number[][] {
    if (this.filled === 0) return [[0, 0, 0]]
    // Few colours stand for themselves.
    const exact = new Set<number>()
    for (let i = 0; i < this.filled && exact.size <= MOST_COLOURS; i += 4)
      exact.add((this.sample[i] << 16) | (this.sample[i + 1] << 8) | this.sample[i + 2])
    if (exact.size <= MOST_COLOURS) return [...exact].map((own) => [own >> 16, (own >> 8) & 255, own & 255])
    return quantize(this.sample.subarray(0, this.filled), MOST_COLOURS, { format: 'rgb565' }).map((own) =>
      own.slice(0, 3),
    )
  }
}

/** Thresholds of an 8 × 8 square (Bayer 1973), −½…½: a pattern that stands still does not boil from frame to frame. */
const ORDERED = Float32Array.from({ length: 64 }, (_, i) => {
  const [x, y] = [i & 7, i >> 3]
  let value = 0
  for (let bit = 0; bit < 3; bit++) {
    const [a, b] = [(x >> bit) & 1, (y >> bit) & 1]
    value |= (((a ^ b) << 1) | b) << (2 * (2 - bit))
  }
  return (value + 0.5) / 64 - 0.5
})

/** How far apart neighbouring colours of a list lie, in the mean: how strongly a pattern mixes them. */
function spreadOf(colours: readonly (readonly number[])[]): number {
  let sum = 0
  colours.forEach((own, i) => {
    let least = Infinity
    colours.forEach((other, j) => {
      if (i !== j)
        least = Math.min(least, Math.hypot(own[0] - other[0], own[1] - other[1], own[2] - other[2]))
    })
    if (Number.isFinite(least)) sum += least
  })
  return colours.length > 1 ? sum / colours.length : 0
}

/**
 * Writes a GIF (GIF89a) of one list of colours, mixed by an ordered pattern. What a frame has in common with the one before it is
 * left clear, which keeps files small; where anything is transparent every frame stands alone.
 * @param colours triples of bytes, at most {@link MOST_COLOURS}. @param isClear whether some frame is transparent somewhere.
 * @param dither how strongly colours are mixed, 0…1.
 * @throws {InvalidValueError} for a frame of another size, or more colours than there may be.
 */
export function gifWriter(
  { width, height, rate, plays }: FilmShape,
  colours: readonly (readonly number[])[],
  isClear: boolean,
  dither: number,
): FilmWriter {
  if (colours.length > MOST_COLOURS)
    throw new InvalidValueError('colours', `must be at most ${MOST_COLOURS}`, colours.length)
  const gif = GIFEncoder()
  const palette = Array.from({ length: 256 }, (_, i) => colours[i] ?? [0, 0, 0])
  const nearest = new NearestColours(colours)
  const exact = new Map(colours.map(([r, g, b], i) => [(r << 16) | (g << 8) | b, i]))
  const strength = dither * 0.6 * spreadOf(colours)
  const before = new Uint8Array(width * height)
  let count = 0
  const taken = (): Uint8Array => {
    const bytes = gif.bytes()
    gif.stream.reset()
    return bytes
  }
  return {
    frame(rgba) {
      if (rgba.length !== 4 * width * height)
        throw new InvalidValueError('frame', `must be ${width} × ${height} pixels`, rgba.length / 4)
      const index = new Uint8Array(width * height)
      for (let y = 0, i = 0; y < height; y++)
        for (let x = 0; x < width; x++, i++) {
          const at = 4 * i
          if (rgba[at + 3] < SOLID) {
            index[i] = CLEAR
            continue
          }
          const off = strength * ORDERED[((y & 7) << 3) | (x & 7)]
          // A colour of the list is itself.
          const own =
            exact.get((rgba[at] << 16) | (rgba[at + 1] << 8) | rgba[at + 2]) ??
            nearest.of(rgba[at] + off, rgba[at + 1] + off, rgba[at + 2] + off)
          // Where nothing changes nothing is written.
          index[i] = !isClear && count > 0 && own === before[i] ? CLEAR : own
          before[i] = own
        }
      // Hundredths of a second, rounded so that they do not drift.
      const delay = Math.round(((count + 1) * 100) / rate) - Math.round((count * 100) / rate)
      gif.writeFrame(index, width, height, {
        ...(count === 0 && { palette, repeat: plays === 0 ? 0 : plays === 1 ? -1 : plays - 1 }),
        delay: 10 * Math.max(2, delay),
        transparent: isClear || count > 0,
        transparentIndex: CLEAR,
        dispose: isClear ? 2 : 1,
      })
      count++
      return taken()
    },
    end() {
      gif.finish()
      return taken()
    },
  }
}

/** Finds the nearest of a list of colours; for each of 32 × 32 × 32 boxes of colours once. */
class NearestColours {
  private readonly known = new Int16Array(32768).fill(-1)

  constructor(private readonly colours: readonly (readonly number[])[]) {}

  of(r: number, g: number, b: number): number {
    const clamp = (v: number): number => (v < 0 ? 0 : v > 255 ? 255 : v)
    const [cr, cg, cb] = [clamp(r), clamp(g), clamp(b)]
    const key = ((cr >> 3) << 10) | ((cg >> 3) << 5) | (cb >> 3)
    const found = this.known[key]
    if (found >= 0) return found
    const [mr, mg, mb] = [((cr >> 3) << 3) + 4, ((cg >> 3) << 3) + 4, ((cb >> 3) << 3) + 4]
    let [least, best] = [Infinity, 0]
    this.colours.forEach((own, i) => {
      const off = 2 * (own[0] - mr) ** 2 + 4 * (own[1] - mg) ** 2 + 3 * (own[2] - mb) ** 2
      if (off < least) [least, best] = [off, i]
    })
    this.known[key] = best
    return best
  }
}
