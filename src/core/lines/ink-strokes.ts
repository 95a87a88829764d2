import type { Tile } from '../passes/pass-kind'
import type { Strokes } from './stroke-lines'
import { halfPlaneCoverage } from './half-plane-coverage'

/** From this radius on, in pixels, an end is seen to be round; … */
const ROUND_FROM = 1
/** … a smaller one is as a flat end of the same area: half a disc over its breadth, π / 4 of the radius. */
const FLAT_END = Math.PI / 4

/** Share of a pixel between two parallel borders; `side` is its middle's distance from the line between them. */
const between = (side: number, radius: number, nx: number, ny: number): number =>
  halfPlaneCoverage(radius - side, nx, ny) + halfPlaneCoverage(radius + side, nx, ny) - 1

/** Share of a pixel within a disc, its border taken as straight; in the stroke's own directions. */
function round(beyond: number, side: number, radius: number): number {
  const away = Math.sqrt(beyond * beyond + side * side)
  if (away < 1e-9) return Math.min(1, 2 * radius)
  return between(away, radius, beyond / away, side / away)
}

/**
 * Inks strokes into a rectangle of the picture. Coverage is worked out from the borders of each piece, not sampled; the
 * pieces of one stroke make one shape, and strokes lie over each other as paths of a drawing file do.
 * @param rect in pixels of a picture that is `height` pixels high.
 * @returns straight-alpha display RGBA, 4·width·height of the rectangle.
 */
export function inkStrokes(strokes: Strokes, rect: Tile, height: number): Float32Array {
  const pixels = rect.width * rect.height
  const rgba = new Float32Array(4 * pixels)
  const cover = new Float32Array(pixels)
  const red = new Float32Array(pixels)
  const green = new Float32Array(pixels)
  const blue = new Float32Array(pixels)
  const touched = new Uint32Array(pixels)
  const { starts, points, radii, colours } = strokes
  for (let s = 0; s < strokes.count; s++) {
    let count = 0
    const put = (p: number, value: number, r: number, g: number, b: number) => {
      if (value <= cover[p]) return
      if (cover[p] === 0) touched[count++] = p
      cover[p] = value
      red[p] = r
      green[p] = g
      blue[p] = b
    }
    const first = starts[s]
    const last = starts[s + 1] - 1
    const isClosed =
      last - first > 2 &&
      points[2 * first] === points[2 * last] &&
      points[2 * first + 1] === points[2 * last + 1]
    for (let i = first; i <= Math.max(first, last - 1); i++) {
      const j = Math.min(last, i + 1)
      const x0 = points[2 * i] * height - rect.x
      const y0 = points[2 * i + 1] * height - rect.y
      const x1 = points[2 * j] * height - rect.x
      const y1 = points[2 * j + 1] * height - rect.y
      const r0 = radii[i] * height
      const r1 = radii[j] * height
      const most = Math.max(r0, r1) + 1
      const left = Math.max(0, Math.floor(Math.min(x0, x1) - most))
      const right = Math.min(rect.width - 1, Math.ceil(Math.max(x0, x1) + most))
      const top = Math.max(0, Math.floor(Math.min(y0, y1) - most))
      const bottom = Math.min(rect.height - 1, Math.ceil(Math.max(y0, y1) + most))
      if (left > right || top > bottom) continue
      const dx = x1 - x0
      const dy = y1 - y0
      const squared = dx * dx + dy * dy
      const length = Math.sqrt(squared)
      const inverseLength = length > 0 ? 1 / length : 0
      const hasStart = i === first && !isClosed
      const hasEnd = j === last && !isClosed
      const nx = length > 0 ? -dy / length : 0
      const ny = length > 0 ? dx / length : 1
      const [cr, cg, cb] = [colours[3 * i], colours[3 * i + 1], colours[3 * i + 2]]
      const [dr, dg, db] = [colours[3 * j] - cr, colours[3 * j + 1] - cg, colours[3 * j + 2] - cb]
      for (let y = top; y <= bottom; y++) {
        const py = y + 0.5 - y0
        // The columns of this row that the piece can reach.
        let from = left
        let to = right
        if (Math.abs(dy) > 1e-9 && squared > 4 * most * most) {
          const slope = dx / dy
          const low = x0 + slope * (py - most)
          const high = x0 + slope * (py + most)
          const wide = most * Math.sqrt(1 + slope * slope)
          from = Math.max(left, Math.floor(Math.min(low, high) - wide))
          to = Math.min(right, Math.ceil(Math.max(low, high) + wide))
        }
        for (let x = from; x <= to; x++) {
          const px = x + 0.5 - x0
          const run = length > 0 ? (px * dx + py * dy) / length : px
          let along = run * inverseLength
          along = along < 0 ? 0 : along > 1 ? 1 : along
          const radius = r0 + (r1 - r0) * along
          // Between two parallel borders …
          const side = length > 0 ? px * nx + py * ny : py
          let value = between(side, radius, nx, ny)
          if (run < 1 || run > length - 1) {
            // … and at the ends of the stroke as far as its round ends go. Within it the next piece goes on.
            const beyond = run < 0 ? -run : run > length ? run - length : 0
            const isBefore = run < length / 2
            if (isBefore ? hasStart : hasEnd) {
              const end = isBefore ? run : length - run
              const flat = value * halfPlaneCoverage(end + FLAT_END * radius, ny, -nx)
              value = radius >= ROUND_FROM && beyond > 0 ? round(beyond, side, radius) : flat
            } else if (beyond > 0) value = round(beyond, side, radius)
          }
          if (value <= 0) continue
          put(y * rect.width + x, value, cr + dr * along, cg + dg * along, cb + db * along)
        }
      }
    }
    for (let k = 0; k < count; k++) {
      const p = touched[k]
      const own = cover[p]
      const under = rgba[4 * p + 3] * (1 - own)
      const alpha = own + under
      rgba[4 * p] = (red[p] * own + rgba[4 * p] * under) / alpha
      rgba[4 * p + 1] = (green[p] * own + rgba[4 * p + 1] * under) / alpha
      rgba[4 * p + 2] = (blue[p] * own + rgba[4 * p + 2] * under) / alpha
      rgba[4 * p + 3] = alpha
      cover[p] = 0
    }
  }
  return rgba
}
