import type { Tile } from '../../passes/tile'

type Point = readonly [number, number]

/** Lines of a pixel that its coverage is worked out on. */
const LINES = 8
/** Straight pieces between two corners of a curve. */
const PIECES = 16

/** A smooth closed curve through points: centripetal enough at even steps (Catmull and Rom 1974). */
export function closedCurve(points: readonly Point[]): Point[] {
  const n = points.length
  if (n < 3) return [...points]
  return points.flatMap((p1, i) => {
    const [p0, p2, p3] = [points[(i + n - 1) % n], points[(i + 1) % n], points[(i + 2) % n]]
    return Array.from({ length: PIECES }, (_, k): Point => {
      const t = k / PIECES
      const at = (c: 0 | 1) =>
        0.5 *
        (2 * p1[c] +
          (p2[c] - p0[c]) * t +
          (2 * p0[c] - 5 * p1[c] + 4 * p2[c] - p3[c]) * t * t +
          (3 * p1[c] - p0[c] - 3 * p2[c] + p3[c]) * t * t * t)
      return [at(0), at(1)]
    })
  })
}

/**
 * How much of each pixel of a window lies within a polygon, by the even-odd rule: exact along lines, several lines a pixel.
 * @param points in the pixels that the window is told in.
 */
export function polygonCoverage(points: readonly Point[], window: Tile): Float32Array {
  const { x: left, y: top, width, height } = window
  const out = new Float32Array(width * height)
  const share = 1 / LINES
  for (let line = 0; line < height * LINES; line++) {
    const y = top + (line + 0.5) / LINES
    // 1. Where the polygon's sides cross the line.
    const crossings: number[] = []
    for (let i = 0; i < points.length; i++) {
      const [x0, y0] = points[i]
      const [x1, y1] = points[(i + 1) % points.length]
      if (y0 <= y !== y1 <= y) crossings.push(x0 + ((y - y0) / (y1 - y0)) * (x1 - x0))
    }
    crossings.sort((a, b) => a - b)
    // 2. Pairs of them enclose what is inside.
    const row = Math.floor(line / LINES) * width
    for (let k = 0; k + 1 < crossings.length; k += 2) {
      const from = Math.max(0, crossings[k] - left)
      const to = Math.min(width, crossings[k + 1] - left)
      for (let x = Math.floor(from); x < to; x++)
        out[row + x] += share * (Math.min(x + 1, to) - Math.max(x, from))
    }
  }
  return out
}
