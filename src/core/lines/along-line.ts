import type { LineDrawing } from './line-drawing'

/** A place on a line: the point before it, and how far it is from there to the next. */
interface OnLine {
  readonly line: number
  readonly point: number
  readonly share: number
  readonly away: number
}

/** The seen line nearest to a place; null where none is near enough. @param only the one that is asked about, where it is known. */
function nearest(
  drawing: LineDrawing,
  [x, y]: readonly [number, number],
  radius: number,
  only: number | null = null,
): OnLine | null {
  const { starts, points, hidden, count } = drawing
  let best: OnLine | null = null
  let least = radius
  for (let line = only ?? 0; line < (only === null ? count : only + 1); line++) {
    if (hidden[line] > 0) continue
    for (let p = starts[line]; p + 1 < starts[line + 1]; p++) {
      const [ax, ay] = [points[2 * p], points[2 * p + 1]]
      const [dx, dy] = [points[2 * p + 2] - ax, points[2 * p + 3] - ay]
      const squared = dx * dx + dy * dy
      const share = squared > 0 ? Math.min(1, Math.max(0, ((x - ax) * dx + (y - ay) * dy) / squared)) : 0
      const away = Math.hypot(x - ax - share * dx, y - ay - share * dy)
      if (away > least) continue
      least = away
      best = { line, point: p, share, away }
    }
  }
  return best
}

/**
 * The part of a drawing's line between two places: from what is nearest of all lines to the first, to what is nearest of that
 * line to the second. About a closed line it goes the shorter way.
 * @param from, to in shares of the picture's height. @param radius how near a line has to be to the first.
 * @returns points, the nearest ones the first and the last; none where no line is near.
 */
export function alongLine(
  drawing: LineDrawing,
  from: readonly [number, number],
  to: readonly [number, number],
  radius: number,
): (readonly [number, number])[] {
  const start = nearest(drawing, from, radius)
  const end = start && nearest(drawing, to, Infinity, start.line)
  if (!end) return []
  const { starts, points, closed } = drawing
  const pointAt = (p: number) => [points[2 * p], points[2 * p + 1]] as const
  const placeOf = ({ point, share }: OnLine) => {
    const [a, b] = [pointAt(point), pointAt(point + 1)]
    return [a[0] + share * (b[0] - a[0]), a[1] + share * (b[1] - a[1])] as const
  }
  const [first, last] = [starts[start.line], starts[start.line + 1] - 1]
  const between = (from: OnLine, to: OnLine): (readonly [number, number])[] => {
    const way = [placeOf(from)]
    for (let p = from.point + 1; p <= to.point; p++) way.push(pointAt(p))
    return [...way, placeOf(to)]
  }
  const isForward = start.point + start.share <= end.point + end.share
  const [low, high] = isForward ? [start, end] : [end, start]
  const inner = between(low, high)
  const forward = isForward ? inner : inner.reverse()
  if (closed[start.line] !== 1) return forward
  // Over the line's seam: its last point is its first.
  const over = [
    ...between(high, { line: high.line, point: last - 1, share: 1, away: 0 }),
    ...between({ line: low.line, point: first, share: 0, away: 0 }, low),
  ]
  const backward = isForward ? over.reverse() : over
  return lengthOf(backward) < lengthOf(forward) ? backward : forward
}

const lengthOf = (way: readonly (readonly [number, number])[]): number =>
  way.slice(1).reduce((sum, [x, y], i) => sum + Math.hypot(x - way[i][0], y - way[i][1]), 0)
