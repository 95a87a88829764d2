import type { Tile } from '../passes/pass-kind'
import type { Strokes } from './stroke-lines'
import { halfPlaneCoverage } from './half-plane-coverage'

/** Gaps between pieces that are closed without a round joint, in pixels. */
const JOINT = 0.1
/** Half a pixel's diagonal. */
const DIAGONAL = 0.7072
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
 * @param width of that picture in pixels, where it is not the drawing's shape to the pixel.
 * @returns straight-alpha display RGBA, 4·width·height of the rectangle.
 */
export function inkStrokes(
  strokes: Strokes,
  rect: Tile,
  height: number,
  width = strokes.aspect * height,
): Float32Array {
  const across = width / strokes.aspect
  const pixels = rect.width * rect.height
  const rgba = new Float32Array(4 * pixels)
  const cover = new Float32Array(pixels)
  /** Colours of what the stroke at work covers, where they change along it. */
  const inks = hasPlainStrokes(strokes) ? new Float32Array(0) : new Float32Array(3 * pixels)
  const isPlain = inks.length === 0
  const touched = new Uint32Array(pixels)
  const { starts, points, radii, colours } = strokes
  for (let s = 0; s < strokes.count; s++) {
    let count = 0
    const first = starts[s]
    const last = starts[s + 1] - 1
    const isClosed =
      last - first > 2 &&
      points[2 * first] === points[2 * last] &&
      points[2 * first + 1] === points[2 * last + 1]
    for (let i = first; i <= Math.max(first, last - 1); i++) {
      const j = Math.min(last, i + 1)
      const x0 = points[2 * i] * across - rect.x
      const y0 = points[2 * i + 1] * height - rect.y
      const x1 = points[2 * j] * across - rect.x
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
      const length = Math.sqrt(dx * dx + dy * dy)
      const inverseLength = length > 0 ? 1 / length : 0
      const hasStart = i === first && !isClosed
      const hasEnd = j === last && !isClosed
      const nx = length > 0 ? -dy / length : 0
      const ny = length > 0 ? dx / length : 1
      const [cr, cg, cb] = [colours[3 * i], colours[3 * i + 1], colours[3 * i + 2]]
      const [dr, dg, db] = [colours[3 * j] - cr, colours[3 * j + 1] - cg, colours[3 * j + 2] - cb]
      // Where a stroke goes on all but straight, the next piece covers what lies beyond this one's end, but for a hair.
      const lowest = hasStart || isCorner(points, radii, height, i - 1, i, j, first) ? -most : -JOINT
      const highest =
        hasEnd || isCorner(points, radii, height, i, j, j + 1, last) ? length + most : length + JOINT
      const ux = length > 0 ? dx / length : 1
      const uy = length > 0 ? dy / length : 0
      for (let y = top; y <= bottom; y++) {
        const py = y + 0.5 - y0
        // The columns of this row whose middles lie between the borders and between the ends, each widened to its reach.
        let from = left
        let to = right
        if (nx > 1e-6 || nx < -1e-6) {
          const a = (-most - py * ny) / nx
          const b = (most - py * ny) / nx
          from = Math.max(from, Math.ceil(x0 - 0.5 + (a < b ? a : b)))
          to = Math.min(to, Math.floor(x0 - 0.5 + (a < b ? b : a)))
        }
        if (ux > 1e-6 || ux < -1e-6) {
          const a = (lowest - py * uy) / ux
          const b = (highest - py * uy) / ux
          from = Math.max(from, Math.ceil(x0 - 0.5 + (a < b ? a : b)))
          to = Math.min(to, Math.floor(x0 - 0.5 + (a < b ? b : a)))
        }
        for (let x = from; x <= to; x++) {
          const px = x + 0.5 - x0
          const run = px * ux + py * uy
          if (run < lowest || run > highest) continue
          let along = run * inverseLength
          along = along < 0 ? 0 : along > 1 ? 1 : along
          const radius = r0 + (r1 - r0) * along
          const side = px * nx + py * ny
          const beyond = run < 0 ? -run : run > length ? run - length : 0
          // Out of reach, or so far within that all of the pixel is.
          const gap = (side < 0 ? -side : side) - radius
          if (gap > DIAGONAL || beyond > radius + DIAGONAL) continue
          const isInside = gap < -DIAGONAL
          let value = 1
          if (run < 1 || run > length - 1) {
            // At the ends of a stroke it goes as far as its round ends do; within it the next piece goes on.
            const isBefore = run < length / 2
            if (beyond > 0 && (radius >= ROUND_FROM || !(isBefore ? hasStart : hasEnd)))
              value = round(beyond, side, radius)
            else {
              if (!isInside) value = between(side, radius, nx, ny)
              if (isBefore ? hasStart : hasEnd)
                value *= halfPlaneCoverage((isBefore ? run : length - run) + FLAT_END * radius, ux, uy)
            }
          } else if (!isInside) value = between(side, radius, nx, ny)
          if (value <= 0) continue
          const p = y * rect.width + x
          if (value <= cover[p]) continue
          if (cover[p] === 0) touched[count++] = p
          cover[p] = value
          if (isPlain) continue
          inks[3 * p] = cr + dr * along
          inks[3 * p + 1] = cg + dg * along
          inks[3 * p + 2] = cb + db * along
        }
      }
    }
    const [r, g, b] = [colours[3 * first], colours[3 * first + 1], colours[3 * first + 2]]
    for (let k = 0; k < count; k++) {
      const p = touched[k]
      const own = cover[p]
      const under = rgba[4 * p + 3] * (1 - own)
      const alpha = own + under
      rgba[4 * p] = ((isPlain ? r : inks[3 * p]) * own + rgba[4 * p] * under) / alpha
      rgba[4 * p + 1] = ((isPlain ? g : inks[3 * p + 1]) * own + rgba[4 * p + 1] * under) / alpha
      rgba[4 * p + 2] = ((isPlain ? b : inks[3 * p + 2]) * own + rgba[4 * p + 2] * under) / alpha
      rgba[4 * p + 3] = alpha
      cover[p] = 0
    }
  }
  return rgba
}

/** Whether a stroke turns so much at point j that its pieces leave a gap there. */
function isCorner(
  points: Float32Array,
  radii: Float32Array,
  height: number,
  i: number,
  j: number,
  k: number,
  end: number,
): boolean {
  // Of a closed stroke, the point that is first and last: never mind how it turns.
  if (j === end) return true
  const ax = points[2 * j] - points[2 * i]
  const ay = points[2 * j + 1] - points[2 * i + 1]
  const bx = points[2 * k] - points[2 * j]
  const by = points[2 * k + 1] - points[2 * j + 1]
  const sine = Math.abs(ax * by - ay * bx)
  const product = Math.sqrt((ax * ax + ay * ay) * (bx * bx + by * by))
  return ax * bx + ay * by <= 0 || sine * radii[j] * height > JOINT * product
}

/** Whether no stroke changes its colour along its way. */
function hasPlainStrokes({ starts, colours, count }: Strokes): boolean {
  for (let s = 0; s < count; s++)
    for (let i = 3 * starts[s]; i < 3 * starts[s + 1]; i++)
      if (colours[i] !== colours[3 * starts[s] + ((i - 3 * starts[s]) % 3)]) return false
  return true
}
