import type { LineDrawing } from './line-drawing'
import { DRAWN, type Strokes } from './stroke-lines'

/** A shape that stands for a stroke, or for a stretch of it, in files that know vectors. Colours are bytes of display RGB. */
export type StrokePath =
  | {
      readonly kind: 'stroke'
      /** Two numbers a point; a single point is a dot. */
      readonly points: readonly number[]
      readonly isClosed: boolean
      readonly width: number
      readonly colour: readonly number[]
    }
  | {
      readonly kind: 'fill'
      /** Closed outlines, two numbers a point, that all turn the same way: together they are one shape. */
      readonly outlines: readonly (readonly number[])[]
      readonly colour: readonly number[]
    }

/** Sides of the polygon that stands for a round end, over half a turn. */
const END_SIDES = 6
/** Turns from which on a stroke has a corner, radians. */
const GENTLE = 0.5

/**
 * The shapes of one stroke: a line of one width and colour with round ends and joints, else outlines that are filled.
 * @param height of the picture, in the unit wanted. @param isClosed whether its ends are one place.
 */
export function strokePaths(strokes: Strokes, s: number, height: number, isClosed: boolean): StrokePath[] {
  const { starts, points, radii, colours } = strokes
  const first = starts[s]
  const last = starts[s + 1] - 1
  const x = (i: number) => points[2 * i] * height
  const y = (i: number) => points[2 * i + 1] * height
  let thinnest = Infinity
  let widest = 0
  let isOneColour = true
  for (let i = first; i <= last; i++) {
    thinnest = Math.min(thinnest, radii[i])
    widest = Math.max(widest, radii[i])
    for (let c = 0; c < 3; c++)
      if (Math.abs(colours[3 * i + c] - colours[3 * first + c]) > 0.002) isOneColour = false
  }
  if (isOneColour && widest - thinnest <= 1e-3 * widest) {
    const way: number[] = []
    for (let i = first; i <= last; i++) way.push(x(i), y(i))
    return [
      {
        kind: 'stroke',
        points: way,
        isClosed: isClosed && first < last && x(first) === x(last) && y(first) === y(last),
        width: 2 * widest * height,
        colour: bytes(colours, first),
      },
    ]
  }
  if (isOneColour) return [{ kind: 'fill', outlines: outline(first, last), colour: bytes(colours, first) }]
  // A colour that changes along the way: a shape for each stretch of one colour.
  const out: StrokePath[] = []
  for (let from = first; from < last;) {
    const colour = bytes(colours, from)
    let to = from + 1
    while (to < last && bytes(colours, to).every((byte, c) => byte === colour[c])) to++
    out.push({ kind: 'fill', outlines: outline(from, to), colour })
    from = to
  }
  return out

  /** Outlines of a stroke from one point to another: one round-ended outline for each stretch that bends gently. */
  function outline(from: number, to: number): number[][] {
    if (from === to) return [stretch(from, to)]
    const outlines: number[][] = []
    for (let start = from; start < to;) {
      let end = start + 1
      while (end < to && isGentle(end)) end++
      outlines.push(stretch(start, end))
      start = end
    }
    return outlines
  }

  /** Whether both sides of the stroke can follow its turn at a point: else it is an outline's end on either side. */
  function isGentle(i: number): boolean {
    const [ax, ay] = [x(i) - x(i - 1), y(i) - y(i - 1)]
    const [bx, by] = [x(i + 1) - x(i), y(i + 1) - y(i)]
    const shorter = Math.min(Math.hypot(ax, ay), Math.hypot(bx, by))
    const turn = Math.abs(Math.atan2(ax * by - ay * bx, ax * bx + ay * by))
    return shorter > 0 && turn < GENTLE && turn * radii[i] * height < shorter / 2
  }

  function stretch(from: number, to: number): number[] {
    const left: number[] = []
    const right: (readonly [number, number])[] = []
    for (let i = from; i <= to; i++) {
      // Along the mean of the directions before and after.
      const [a, b] = [Math.max(from, i - 1), Math.min(to, i + 1)]
      const angle = a === b ? 0 : Math.atan2(y(b) - y(a), x(b) - x(a))
      const at = (turn: number): readonly [number, number] => [
        x(i) + radii[i] * height * Math.cos(turn),
        y(i) + radii[i] * height * Math.sin(turn),
      ]
      // The ends from side to side, half round.
      if (i === from)
        for (let k = 0; k < END_SIDES; k++)
          left.push(...at(angle - Math.PI / 2 - (Math.PI * (END_SIDES - k)) / END_SIDES))
      left.push(...at(angle - Math.PI / 2))
      if (i < to) right.push(at(angle + Math.PI / 2))
      else for (let k = END_SIDES; k > 0; k--) right.push(at(angle - Math.PI / 2 + (Math.PI * k) / END_SIDES))
    }
    return [...left, ...right.reverse().flat()]
  }
}

const bytes = (colours: Float32Array, i: number): readonly number[] =>
  [0, 1, 2].map((c) => Math.round(Math.min(1, Math.max(0, colours[3 * i + c])) * 255))

/**
 * The shapes of all strokes, hidden lines under seen ones.
 * @param drawing that they are strokes of; null where all were drawn by hand. @param height of the picture, in the unit wanted.
 */
export function allStrokePaths(
  drawing: Pick<LineDrawing, 'hidden' | 'closed'> | null,
  strokes: Strokes,
  height: number,
): StrokePath[] {
  const [under, over]: StrokePath[][] = [[], []]
  for (let s = 0; s < strokes.count; s++) {
    const line = strokes.lines[s]
    const isByHand = line === DRAWN || !drawing
    const isClosed = !isByHand && drawing.closed[line] === 1
    const isHidden = !isByHand && drawing.hidden[line] !== 0
    ;(isHidden ? under : over).push(...strokePaths(strokes, s, height, isClosed))
  }
  return [...under, ...over]
}
