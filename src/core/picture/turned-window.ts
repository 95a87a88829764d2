import type { Tile } from '../passes/tile'
import { resizePicture } from './resample'
import type { RgbaPicture } from './rgba-picture'

/** Where a turned picture lies, in pixels of the target. */
export interface TurnedPlace {
  /** Its middle. */
  readonly x: number
  readonly y: number
  /** Its size before it is turned. */
  readonly width: number
  readonly height: number
  /** Clockwise. */
  readonly turnDeg: number
}

/** Halves of a picture, each of the one before: what is shown small is read from a small one. */
const smaller = new WeakMap<RgbaPicture, RgbaPicture[]>()

/** A picture halved so often that a step in the target is no more than two of its pixels. */
export function levelFor(picture: RgbaPicture, step: number): RgbaPicture {
  let levels = smaller.get(picture)
  if (!levels) smaller.set(picture, (levels = [picture]))
  for (let level = 0; ; level++) {
    const own = levels[level]
    if (step / 2 ** level <= 2 || (own.width === 1 && own.height === 1)) return own
    levels[level + 1] ??= resizePicture(own, Math.ceil(own.width / 2), Math.ceil(own.height / 2))
  }
}

/** Places within each pixel that are looked at, on each axis. */
const SAMPLES = 3

/**
 * A window of a picture that lies turned: the mean of nine places in each pixel, each between four of the picture's pixels;
 * clear beside it.
 * @returns straight-alpha RGBA; null where nothing of it lies in the window.
 */
export function turnedWindow(picture: RgbaPicture, place: TurnedPlace, window: Tile): Float32Array | null {
  const angle = (place.turnDeg * Math.PI) / 180
  const [cos, sin] = [Math.cos(angle), Math.sin(angle)]
  // 1. Whether any of it lies here.
  const reachX = (Math.abs(cos) * place.width + Math.abs(sin) * place.height) / 2 + 1
  const reachY = (Math.abs(sin) * place.width + Math.abs(cos) * place.height) / 2 + 1
  const isBeside =
    window.x > place.x + reachX ||
    window.x + window.width < place.x - reachX ||
    window.y > place.y + reachY ||
    window.y + window.height < place.y - reachY
  if (isBeside) return null
  // 2. Read from a size at which neighbouring places are neighbouring pixels.
  const step = Math.max(picture.width / place.width, picture.height / place.height) / SAMPLES
  const source = levelFor(picture, step)
  const [perX, perY] = [source.width / place.width, source.height / place.height]
  const out = new Float32Array(4 * window.width * window.height)
  const sum = new Float64Array(4)
  for (let y = 0, i = 0; y < window.height; y++) {
    for (let x = 0; x < window.width; x++, i += 4) {
      sum.fill(0)
      for (let s = 0; s < SAMPLES * SAMPLES; s++) {
        const px = window.x + x + ((s % SAMPLES) + 0.5) / SAMPLES - place.x
        const py = window.y + y + (Math.floor(s / SAMPLES) + 0.5) / SAMPLES - place.y
        // Turned back.
        const u = (px * cos + py * sin + place.width / 2) * perX
        const v = (py * cos - px * sin + place.height / 2) * perY
        if (u >= 0 && v >= 0 && u < source.width && v < source.height) addAt(source, u - 0.5, v - 0.5, sum)
      }
      const alpha = sum[3] / (SAMPLES * SAMPLES)
      if (alpha <= 0) continue
      for (let c = 0; c < 3; c++) out[i + c] = sum[c] / sum[3]
      out[i + 3] = alpha
    }
  }
  return out
}

/** Adds the colour between four pixels, weighted by alpha; the border repeats. */
export function addAt({ width, height, pixels }: RgbaPicture, u: number, v: number, sum: Float64Array): void {
  const x = Math.floor(u)
  const y = Math.floor(v)
  for (let k = 0; k < 4; k++) {
    const [right, below] = [k & 1, k >> 1]
    const weight = (right ? u - x : 1 - u + x) * (below ? v - y : 1 - v + y)
    const sx = Math.min(width - 1, Math.max(0, x + right))
    const sy = Math.min(height - 1, Math.max(0, y + below))
    const from = 4 * (sy * width + sx)
    const alpha = weight * pixels[from + 3]
    sum[0] += alpha * pixels[from]
    sum[1] += alpha * pixels[from + 1]
    sum[2] += alpha * pixels[from + 2]
    sum[3] += alpha
  }
}
