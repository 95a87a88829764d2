import type { Tile } from '../passes/tile'
import { addAt, levelFor } from './turned-window'
import type { RgbaPicture } from './rgba-picture'

/** Four corners, from the upper left clockwise. */
export type Quad = readonly [
  readonly [number, number],
  readonly [number, number],
  readonly [number, number],
  readonly [number, number],
]

/**
 * The nine numbers that bring places of the plane back to those of a unit square, row by row (Heckbert 1989, "Fundamentals of
 * texture mapping and image warping", section 2.2.3, inverted).
 * @returns null for corners of which three lie in a line.
 */
export function quadToSquare(quad: Quad): readonly number[] | null {
  const [[x0, y0], [x1, y1], [x2, y2], [x3, y3]] = quad
  const [dx1, dx2, dx3] = [x1 - x2, x3 - x2, x0 - x1 + x2 - x3]
  const [dy1, dy2, dy3] = [y1 - y2, y3 - y2, y0 - y1 + y2 - y3]
  const det = dx1 * dy2 - dx2 * dy1
  if (Math.abs(det) < 1e-9) return null
  const g = (dx3 * dy2 - dx2 * dy3) / det
  const h = (dx1 * dy3 - dx3 * dy1) / det
  const [a, b, c] = [x1 - x0 + g * x1, x3 - x0 + h * x3, x0]
  const [d, e, f] = [y1 - y0 + g * y1, y3 - y0 + h * y3, y0]
  // The adjoint is the inverse as far as places in the plane go.
  const inverse = [
    e - f * h,
    c * h - b,
    b * f - c * e,
    f * g - d,
    a - c * g,
    c * d - a * f,
    d * h - e * g,
    b * g - a * h,
    a * e - b * d,
  ]
  const whole = a * inverse[0] + b * inverse[3] + c * inverse[6]
  return Math.abs(whole) < 1e-12 ? null : inverse
}

/** Places within each pixel that are looked at, on each axis. */
const SAMPLES = 3

/**
 * A window of a picture that is stretched between four corners, as a sheet seen in perspective; clear beside it.
 * @param quad in pixels of the target.
 * @returns straight-alpha RGBA; null where nothing of it lies in the window, or its corners enclose nothing.
 */
export function warpedWindow(picture: RgbaPicture, quad: Quad, window: Tile): Float32Array | null {
  const back = quadToSquare(quad)
  if (!back) return null
  const [xs, ys] = [quad.map(([x]) => x), quad.map(([, y]) => y)]
  const isBeside =
    window.x > Math.max(...xs) + 1 ||
    window.x + window.width < Math.min(...xs) - 1 ||
    window.y > Math.max(...ys) + 1 ||
    window.y + window.height < Math.min(...ys) - 1
  if (isBeside) return null
  // As fine as its longest sides are.
  const side = (i: number, j: number) => Math.hypot(xs[i] - xs[j], ys[i] - ys[j])
  const [across, down] = [Math.max(side(0, 1), side(3, 2)), Math.max(side(0, 3), side(1, 2))]
  const step = Math.max(picture.width / Math.max(1, across), picture.height / Math.max(1, down)) / SAMPLES
  const source = levelFor(picture, step)
  const out = new Float32Array(4 * window.width * window.height)
  const sum = new Float64Array(4)
  for (let y = 0, i = 0; y < window.height; y++)
    for (let x = 0; x < window.width; x++, i += 4) {
      sum.fill(0)
      for (let s = 0; s < SAMPLES * SAMPLES; s++) {
        const px = window.x + x + ((s % SAMPLES) + 0.5) / SAMPLES
        const py = window.y + y + (Math.floor(s / SAMPLES) + 0.5) / SAMPLES
        const w = back[6] * px + back[7] * py + back[8]
        const u = (back[0] * px + back[1] * py + back[2]) / w
        const v = (back[3] * px + back[4] * py + back[5]) / w
        if (u >= 0 && v >= 0 && u < 1 && v < 1)
          addAt(source, u * source.width - 0.5, v * source.height - 0.5, sum)
      }
      const alpha = sum[3] / (SAMPLES * SAMPLES)
      if (alpha <= 0) continue
      for (let c = 0; c < 3; c++) out[i + c] = sum[c] / sum[3]
      out[i + 3] = alpha
    }
  return out
}
