import type { Tile } from '../passes/tile'
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

/**
 * Share of a pixel between two parallel borders, as two of {@link halfPlaneCoverage}; what only depends on their slant is
 * worked out once for all pixels of a piece.
 * @param away distance of the pixel's middle from the line between the borders.
 * @param reach half the breadth of a pixel across the borders; `short`: the smaller part of their normal.
 * @param corner 1 / (2·long·short), `side`: 1 / long.
 */
function between(
  away: number,
  radius: number,
  reach: number,
  short: number,
  corner: number,
  side: number,
): number {
  const near = beneath(radius - away, reach, short, corner, side)
  // Where the stroke is broader than the pixel, the other border is beyond it.
  return radius + away >= reach ? near : near + beneath(radius + away, reach, short, corner, side) - 1
}

function beneath(distance: number, reach: number, short: number, corner: number, side: number): number {
  if (distance >= reach) return 1
  if (distance <= -reach) return 0
  const outside = distance < 0 ? reach + distance : reach - distance
  const area = outside < short ? outside * outside * corner : (outside - short / 2) * side
  return distance < 0 ? area : 1 - area
}

/** Share of a pixel within a disc, its border taken as straight; in the stroke's own directions. */
function round(beyond: number, side: number, radius: number): number {
  const away = Math.sqrt(beyond * beyond + side * side)
  if (away < 1e-9) return Math.min(1, 2 * radius)
  const [nx, ny] = [beyond / away, side / away]
  return halfPlaneCoverage(radius - away, nx, ny) + halfPlaneCoverage(radius + away, nx, ny) - 1
}

/** What a stroke reaches beyond its middle line and its radius, in pixels. */
const ROOM = 2

/** Of each stroke the least and greatest x and y, and its greatest radius, as its points have them. */
const boxesOf = new WeakMap<Strokes, Float32Array>()
function strokeBoxes(strokes: Strokes): Float32Array {
  const known = boxesOf.get(strokes)
  if (known) return known
  const { count, starts, points, radii } = strokes
  const boxes = new Float32Array(5 * count)
  for (let s = 0; s < count; s++) {
    const at = 5 * s
    boxes[at] = boxes[at + 1] = Infinity
    boxes[at + 2] = boxes[at + 3] = -Infinity
    for (let i = starts[s]; i < starts[s + 1]; i++) {
      const [x, y] = [points[2 * i], points[2 * i + 1]]
      if (x < boxes[at]) boxes[at] = x
      if (y < boxes[at + 1]) boxes[at + 1] = y
      if (x > boxes[at + 2]) boxes[at + 2] = x
      if (y > boxes[at + 3]) boxes[at + 3] = y
      if (radii[i] > boxes[at + 4]) boxes[at + 4] = radii[i]
    }
  }
  boxesOf.set(strokes, boxes)
  return boxes
}

/** Room that is kept between calls: coverage of the stroke at work, all nothing between strokes, and where it is not. */
let coverKept = new Float32Array(0)
let touchedKept = new Uint32Array(0)

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
  if (coverKept.length < pixels) {
    coverKept = new Float32Array(pixels)
    touchedKept = new Uint32Array(pixels)
  }
  const cover = coverKept
  const touched = touchedKept
  const plain = plainness(strokes)
  /** Colours of what the stroke at work covers, where they change along it. */
  const inks = plain === 'along' ? new Float32Array(3 * pixels) : new Float32Array(0)
  const isPlain = plain !== 'along'
  const { starts, points, radii, colours } = strokes
  const boxes = strokeBoxes(strokes)
  for (let s = 0; s < strokes.count; s++) {
    // A tile of a picture meets few of its strokes.
    const room = boxes[5 * s + 4] * height + ROOM
    if (
      boxes[5 * s + 2] * across < rect.x - room ||
      boxes[5 * s] * across > rect.x + rect.width + room ||
      boxes[5 * s + 3] * height < rect.y - room ||
      boxes[5 * s + 1] * height > rect.y + rect.height + room
    )
      continue
    let count = 0
    const first = starts[s]
    const last = starts[s + 1] - 1
    const isClosed =
      last - first > 2 &&
      points[2 * first] === points[2 * last] &&
      points[2 * first + 1] === points[2 * last + 1]
    let turnsBefore = true
    for (let i = first; i <= Math.max(first, last - 1); i++) {
      const j = Math.min(last, i + 1)
      const x0 = points[2 * i] * across - rect.x
      const y0 = points[2 * i + 1] * height - rect.y
      const x1 = points[2 * j] * across - rect.x
      const y1 = points[2 * j + 1] * height - rect.y
      const r0 = radii[i] * height
      const r1 = radii[j] * height
      const most = (r0 > r1 ? r0 : r1) + DIAGONAL
      const turns = turnsBefore
      turnsBefore = isCorner(points, radii, height, i, j, j + 1, last)
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
      const flat = nx < 0 ? -nx : nx
      const steep = ny < 0 ? -ny : ny
      const long = flat > steep ? flat : steep
      const short = flat > steep ? steep : flat
      const reach = (long + short) / 2
      const corner = 1 / (2 * long * (short > 1e-12 ? short : 1e-12))
      const broad = 1 / long
      // Where a stroke goes on all but straight, the next piece covers what lies beyond this one's end, but for a hair.
      const lowest = hasStart || turns ? -most : -JOINT
      const highest = hasEnd || turnsBefore ? length + most : length + JOINT
      const ux = length > 0 ? dx / length : 1
      const uy = length > 0 ? dy / length : 0
      /** Pixels of a row for one pixel across the borders, and along them; 0 where a row runs beside them. */
      const acrossRow = flat > 1e-6 ? 1 / nx : 0
      const halfRow = most * Math.abs(acrossRow)
      const alongRow = ux > 1e-6 || ux < -1e-6 ? 1 / ux : 0
      for (let y = top; y <= bottom; y++) {
        const py = y + 0.5 - y0
        // The columns of this row whose middles lie between the borders and between the ends, each widened to its reach.
        let from = left
        let to = right
        if (acrossRow !== 0) {
          const middle = x0 - 0.5 - py * ny * acrossRow
          from = Math.max(from, Math.ceil(middle - halfRow))
          to = Math.min(to, Math.floor(middle + halfRow))
        }
        if (alongRow !== 0) {
          const start = x0 - 0.5 - py * uy * alongRow
          from = Math.max(from, Math.ceil(start + (alongRow > 0 ? lowest : highest) * alongRow))
          to = Math.min(to, Math.floor(start + (alongRow > 0 ? highest : lowest) * alongRow))
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
          const away = side < 0 ? -side : side
          const gap = away - radius
          if (gap > DIAGONAL || beyond > radius + DIAGONAL) continue
          const isInside = gap < -DIAGONAL
          let value = 1
          if (run < 1 || run > length - 1) {
            // At the ends of a stroke it goes as far as its round ends do; within it the next piece goes on.
            const isBefore = run < length / 2
            if (beyond > 0 && (radius >= ROUND_FROM || !(isBefore ? hasStart : hasEnd)))
              value = round(beyond, side, radius)
            else {
              if (!isInside) value = between(away, radius, reach, short, corner, broad)
              if (isBefore ? hasStart : hasEnd)
                value *= halfPlaneCoverage((isBefore ? run : length - run) + FLAT_END * radius, ux, uy)
            }
          } else if (!isInside) value = between(away, radius, reach, short, corner, broad)
          if (value <= 0) continue
          const p = y * rect.width + x
          if (value <= cover[p]) continue
          if (cover[p] === 0) touched[count++] = p
          cover[p] = value
          if (isPlain) continue
          for (let c = 0; c < 3; c++)
            inks[3 * p + c] = colours[3 * i + c] + (colours[3 * j + c] - colours[3 * i + c]) * along
        }
      }
    }
    if (plain === 'all') {
      for (let k = 0; k < count; k++) {
        const p = touched[k]
        rgba[4 * p + 3] += cover[p] * (1 - rgba[4 * p + 3])
        cover[p] = 0
      }
      continue
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
  if (plain === 'all') {
    const [r, g, b] = colours
    for (let i = 0; i < rgba.length; i += 4) {
      if (rgba[i + 3] === 0) continue
      rgba[i] = r
      rgba[i + 1] = g
      rgba[i + 2] = b
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

/** Whether all strokes have one colour, each has its own, or some change along their way. */
function plainness({ starts, colours, count }: Strokes): 'all' | 'each' | 'along' {
  let isOne = true
  for (let s = 0; s < count; s++) {
    const [r, g, b] = [colours[3 * starts[s]], colours[3 * starts[s] + 1], colours[3 * starts[s] + 2]]
    for (let i = starts[s]; i < starts[s + 1]; i++)
      if (colours[3 * i] !== r || colours[3 * i + 1] !== g || colours[3 * i + 2] !== b) return 'along'
    if (r !== colours[0] || g !== colours[1] || b !== colours[2]) isOne = false
  }
  return isOne ? 'all' : 'each'
}
