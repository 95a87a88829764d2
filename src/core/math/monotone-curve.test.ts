import fc from 'fast-check'
import { expect, it } from 'vitest'
import { monotoneCurve } from './monotone-curve'

it('is straight through points that lie in a line, and level beyond its ends', () => {
  const straight = monotoneCurve([
    [0.2, 0.1],
    [0.5, 0.4],
    [0.9, 0.8],
  ])
  for (const x of [0.2, 0.31, 0.5, 0.77, 0.9]) expect(straight(x)).toBeCloseTo(x - 0.1, 9)
  expect([straight(0), straight(1)]).toEqual([0.1, 0.8])
})
it('has the tangents of Fritsch and Carlson: worked out by hand for three points', () => {
  // Slopes 0.5 and 1.5, in the middle their mean of 1: h·m = 0.5 each way.
  const curve = monotoneCurve([
    [0, 0],
    [0.5, 0.25],
    [1, 1],
  ])
  // Hermite at t = ½: (y0 + y1) / 2 + h (m0 − m1) / 8.
  expect(curve(0.25)).toBeCloseTo(0.125 + (0.5 * (0.5 - 1)) / 8, 9)
  expect(curve(0.75)).toBeCloseTo(0.625 + (0.5 * (1 - 1.5)) / 8, 9)
})
it('goes through its points and never beyond the two it lies between', () => {
  const places = fc
    .uniqueArray(fc.integer({ min: 0, max: 100 }), { minLength: 2, maxLength: 9 })
    .map((xs) => xs.sort((a, b) => a - b))
  fc.assert(
    fc.property(places, fc.array(fc.double({ min: 0, max: 1, noNaN: true }), { minLength: 9 }), (xs, ys) => {
      const points = xs.map((x, i): [number, number] => [x / 100, ys[i]])
      const curve = monotoneCurve(points)
      for (const [x, y] of points) expect(curve(x)).toBeCloseTo(y, 9)
      points.slice(1).forEach(([x1, y1], i) => {
        const [x0, y0] = points[i]
        for (const t of [0.1, 0.35, 0.6, 0.9]) {
          const y = curve(x0 + t * (x1 - x0))
          expect(y).toBeGreaterThanOrEqual(Math.min(y0, y1) - 1e-9)
          expect(y).toBeLessThanOrEqual(Math.max(y0, y1) + 1e-9)
        }
      })
    }),
  )
})
