import { describe, expect, it } from 'vitest'
import { concentricDisc, hash32, pixelPattern, sobolPair } from './sampling'

describe('sobolPair', () => {
  it.each([1, 77, 123456])(
    'fills every elementary interval of the first 64 points once (seed %i)',
    (seed) => {
      const out = new Float64Array(2)
      for (let split = 0; split <= 6; split++) {
        const columns = 2 ** split
        const rows = 64 / columns
        const seen = new Set<number>()
        for (let i = 0; i < 64; i++) {
          sobolPair(i, seed, out)
          seen.add(Math.floor(out[0] * columns) * rows + Math.floor(out[1] * rows))
        }
        expect(seen.size).toBe(64)
      }
    },
  )
  it('gives other points to other seeds', () => {
    const [a, b] = [new Float64Array(2), new Float64Array(2)]
    sobolPair(3, 1, a)
    sobolPair(3, 2, b)
    expect([...a]).not.toEqual([...b])
  })
})

describe('pixelPattern', () => {
  it.each([1, 2, 4, 8, 16, 64])('spreads %i points: each row and column holds one', (count) => {
    const points = pixelPattern(count)
    for (const axis of [0, 1]) {
      const cells = new Set(Array.from({ length: count }, (_, i) => Math.floor(points[2 * i + axis] * count)))
      expect(cells.size).toBe(count)
    }
  })
})

describe('concentricDisc', () => {
  it('stays in the disc and keeps area: a quarter of the points lies within half the radius', () => {
    const out = new Float64Array(2)
    let inside = 0
    const side = 64
    for (let i = 0; i < side * side; i++) {
      concentricDisc(((i % side) + 0.5) / side, (Math.floor(i / side) + 0.5) / side, out)
      const radius = Math.hypot(out[0], out[1])
      expect(radius).toBeLessThanOrEqual(1)
      if (radius < 0.5) inside++
    }
    expect(inside / (side * side)).toBeCloseTo(0.25, 2)
  })
})

it('hash32 has no fixed run on neighbouring inputs', () => {
  const bits = Array.from({ length: 256 }, (_, i) => hash32(i) & 1)
  const ones = bits.reduce((a, b) => a + b, 0)
  expect(ones).toBeGreaterThan(96)
  expect(ones).toBeLessThan(160)
})
