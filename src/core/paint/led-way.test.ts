import { describe, expect, it } from 'vitest'
import { ledWay, samplesAlong, type Point } from './led-way'
import { BRUSH_DEFAULTS } from './brush'
import { StrokeWalker } from './stroke-walker'

const dabsOf = (way: readonly Point[], size = 4) => {
  const walker = new StrokeWalker({ ...BRUSH_DEFAULTS, size, steady: 0 }, 1)
  return [...samplesAlong(way, 1).flatMap((sample) => walker.add(sample)), ...walker.finish(null)]
}

describe('a straight line', () => {
  it('goes from where the pen was set down to where it is', () => {
    const dabs = dabsOf(ledWay('straight', [[10, 20]], [210, 120], false))
    expect(dabs[0]).toMatchObject({ x: 10, y: 20 })
    for (const { x, y } of dabs) expect(Math.abs((y - 20) * 2 - (x - 10))).toBeLessThan(1e-6)
    const last = dabs[dabs.length - 1]
    expect(Math.hypot(last.x - 210, last.y - 120)).toBeLessThan(2)
  })
  it('is turned by whole steps of 15° when asked to', () => {
    const [, [x, y]] = ledWay('straight', [[0, 0]], [100, 22], true)
    expect(Math.atan2(y, x)).toBeCloseTo(Math.PI / 12, 9)
    // The place nearest to the pen on that line.
    expect((100 - x) * x + (22 - y) * y).toBeCloseTo(0, 6)
  })
})

it('lines from corner to corner have their corners', () => {
  const corners: Point[] = [
    [0, 0],
    [100, 0],
    [100, 80],
  ]
  const dabs = dabsOf(ledWay('corners', corners, [20, 80], false))
  for (const [cx, cy] of corners)
    expect(Math.min(...dabs.map(({ x, y }) => Math.hypot(x - cx, y - cy)))).toBeLessThan(1.5)
})

it.each([
  [[10, 20] as Point, [310, 120] as Point, 150, 50],
  [[310, 120] as Point, [10, 20] as Point, 150, 50],
])('an ellipse lies in the box between its corners', (from, to, rx, ry) => {
  const way = ledWay('ellipse', [from], to, false)
  for (const [x, y] of way) expect(((x - 160) / rx) ** 2 + ((y - 70) / ry) ** 2).toBeCloseTo(1, 9)
  expect(way[0]).toEqual(way[way.length - 1])
})

it('an even ellipse is a circle from the same corner', () => {
  const way = ledWay('ellipse', [[100, 100]], [40, 70], true)
  for (const [x, y] of way) expect(Math.hypot(x - 85, y - 85)).toBeCloseTo(15, 9)
})
