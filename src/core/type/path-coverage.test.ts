import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { polygonCoverage } from '../sheet/terms/polygon-coverage'
import { pathCoverage } from './path-coverage'
import type { Contours } from './type-outlines'

const contours = (...paths: readonly (readonly (readonly [number, number])[])[]): Contours => {
  const starts = [0]
  for (const path of paths) starts.push((starts.at(-1) ?? 0) + path.length)
  return {
    points: Float64Array.from(paths.flat(2)),
    starts: Uint32Array.from(starts),
    glyphs: new Uint32Array(paths.length),
  }
}
const box = (x0: number, y0: number, x1: number, y1: number) =>
  [
    [x0, y0],
    [x1, y0],
    [x1, y1],
    [x0, y1],
  ] as const
const window = { x: 0, y: 0, width: 12, height: 9 }
const sum = (plane: Float32Array | null) => plane?.reduce((all, v) => all + v, 0) ?? 0

describe('what outlines cover', () => {
  it('of an upright box is exactly its share of every pixel', () => {
    const plane = pathCoverage(contours(box(2.25, 1.5, 7.75, 4.125)), window)
    const share = (at: number, from: number, to: number) =>
      Math.max(0, Math.min(at + 1, to) - Math.max(at, from))
    for (let y = 0; y < window.height; y++)
      for (let x = 0; x < window.width; x++)
        expect(plane?.[y * window.width + x]).toBeCloseTo(share(x, 2.25, 7.75) * share(y, 1.5, 4.125), 5)
  })
  it('of a slanted half is half', () => {
    const plane = pathCoverage(
      contours([
        [0, 0],
        [1, 0],
        [0, 1],
      ]),
      window,
    )
    expect(plane?.[0]).toBeCloseTo(0.5, 6)
  })
  it('leaves holes out, and counts what lies in two outlines of one direction once', () => {
    const outer = box(1, 1, 9, 8)
    const hole = [...box(3, 3, 6, 6)].reverse()
    expect(sum(pathCoverage(contours(outer, hole), window))).toBeCloseTo(56 - 9, 3)
    expect(sum(pathCoverage(contours(outer, box(3, 3, 6, 6)), window))).toBeCloseTo(56, 3)
  })
  it('is the same whichever way round', () => {
    const path = box(2.3, 1.2, 8.1, 6.6)
    expect(pathCoverage(contours([...path].reverse()), window)).toEqual(pathCoverage(contours(path), window))
  })
  const point = fc.tuple(
    fc.double({ min: -6, max: 18, noNaN: true }),
    fc.double({ min: -6, max: 15, noNaN: true }),
  )
  it('of any triangle is what another way of counting gives', () => {
    fc.assert(
      fc.property(point, point, point, (a, b, c) => {
        const plane = pathCoverage(contours([a, b, c]), window) ?? new Float32Array(108)
        const other = polygonCoverage([a, b, c], window)
        // The other counts on eight lines a pixel.
        plane.forEach((v, i) => expect(Math.abs(v - other[i])).toBeLessThan(0.13))
        expect(Math.abs(sum(plane) - sum(other))).toBeLessThan(0.35)
      }),
      { numRuns: 300 },
    )
  })
  it('is the same however it is cut into windows', () => {
    fc.assert(
      fc.property(
        point,
        point,
        point,
        fc.integer({ min: 1, max: 11 }),
        fc.integer({ min: 1, max: 8 }),
        (a, b, c, x, y) => {
          const path = contours([a, b, c])
          const whole = pathCoverage(path, window) ?? new Float32Array(108)
          const part = { x, y, width: window.width - x, height: window.height - y }
          const own = pathCoverage(path, part) ?? new Float32Array(part.width * part.height)
          for (let row = 0; row < part.height; row++)
            for (let column = 0; column < part.width; column++)
              expect(own[row * part.width + column]).toBeCloseTo(
                whole[(y + row) * window.width + x + column],
                4,
              )
        },
      ),
      { numRuns: 200 },
    )
  })
  it('is nothing where nothing lies', () => {
    expect(pathCoverage(contours(box(20, 20, 30, 30)), window)).toBeNull()
    expect(pathCoverage(contours(), window)).toBeNull()
  })
})
