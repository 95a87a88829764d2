import type { PenSample } from './stroke-walker'

/** How a stroke is led besides by the free hand. Sheet pixels. */
export const LEADS = {
  free: 'Free hand',
  straight: 'Straight line',
  corners: 'From corner to corner',
  ellipse: 'Ellipse',
  line: 'Along a contour line',
} as const
export type Lead = keyof typeof LEADS

export type Point = readonly [x: number, y: number]

/** Straight lines of a steady hand are turned by whole parts of a half turn. */
const TURNS = 12

/**
 * The way that is led from where the pen was set down to where it is now.
 * @param set places that the pen was set down at, one at least. @param now where it is.
 * @param isEven straight lines at whole steps of 15°, circles instead of ellipses.
 */
export function ledWay(
  lead: Exclude<Lead, 'free' | 'line'>,
  set: readonly Point[],
  now: Point,
  isEven: boolean,
): Point[] {
  const from = set[set.length - 1]
  switch (lead) {
    case 'straight':
    case 'corners':
      return [...set, isEven ? turnedEvenly(from, now) : now]
    case 'ellipse':
      return ellipseWay(from, now, isEven)
  }
}

function turnedEvenly([x, y]: Point, [tx, ty]: Point): Point {
  const [dx, dy] = [tx - x, ty - y]
  const step = Math.PI / TURNS
  const angle = Math.round(Math.atan2(dy, dx) / step) * step
  const along = dx * Math.cos(angle) + dy * Math.sin(angle)
  return [x + along * Math.cos(angle), y + along * Math.sin(angle)]
}

/** The ellipse in the box between two corners, closed, from its rightmost point. */
function ellipseWay([x, y]: Point, [tx, ty]: Point, isCircle: boolean): Point[] {
  const side = Math.min(Math.abs(tx - x), Math.abs(ty - y))
  const [w, h] = isCircle ? [side * Math.sign(tx - x || 1), side * Math.sign(ty - y || 1)] : [tx - x, ty - y]
  const [cx, cy, rx, ry] = [x + w / 2, y + h / 2, Math.abs(w / 2), Math.abs(h / 2)]
  // Never farther from the ellipse than a twentieth of a pixel, nearly.
  const steps = Math.min(720, Math.max(24, Math.ceil(Math.PI * Math.sqrt(Math.max(rx, ry) / 0.1))))
  return Array.from({ length: steps + 1 }, (_, i): Point => {
    const t = (2 * Math.PI * (i % steps)) / steps
    return [cx + rx * Math.cos(t), cy + ry * Math.sin(t)]
  })
}

/** How fast a way is led. Sheet pixels a millisecond. */
const PACE = 2

/** How near to a corner the pen is told of before and after it: its way is rounded no farther than that. */
const NEAR_CORNER = 0.3

/**
 * What a pen would tell that is led along a way: pressed evenly, upright; corners stay corners.
 * @param pressure 0…1.
 */
export function samplesAlong(way: readonly Point[], pressure: number): PenSample[] {
  const samples: PenSample[] = []
  let walked = 0
  const tell = ([x, y]: Point) =>
    samples.push({ x, y, pressure, tiltX: 0, tiltY: 0, twist: 0, at: walked / PACE })
  way.forEach((point, i) => {
    if (i > 0) walked += Math.hypot(point[0] - way[i - 1][0], point[1] - way[i - 1][1])
    const isCorner = i > 0 && i < way.length - 1 && turnsAt(way, i) > 0.3
    if (isCorner) tell(towards(point, way[i - 1]))
    tell(point)
    if (isCorner) tell(towards(point, way[i + 1]))
  })
  return samples
}

function towards([x, y]: Point, [tx, ty]: Point): Point {
  const share = Math.min(0.4, NEAR_CORNER / (Math.hypot(tx - x, ty - y) || 1))
  return [x + share * (tx - x), y + share * (ty - y)]
}

function turnsAt(way: readonly Point[], i: number): number {
  const [a, b, c] = [way[i - 1], way[i], way[i + 1]]
  const turn = Math.atan2(c[1] - b[1], c[0] - b[0]) - Math.atan2(b[1] - a[1], b[0] - a[0])
  return Math.abs(Math.atan2(Math.sin(turn), Math.cos(turn)))
}
