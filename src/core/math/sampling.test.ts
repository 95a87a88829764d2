import { describe, expect, it } from 'vitest'
import { blockSeed, concentricDisc, hash32, pixelOrder, PixelRun, pixelPattern, sobolPair } from './sampling'

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

describe('PixelRun', () => {
  it('numbers the pixels of a block once each, four neighbours in a row', () => {
    const orders = new Set<number>()
    for (let y = 0; y < 32; y++) for (let x = 0; x < 32; x++) orders.add(pixelOrder(x, y))
    expect([...orders].sort((a, b) => a - b)).toEqual(Array.from({ length: 1024 }, (_, i) => i))
    expect(
      [pixelOrder(6, 4), pixelOrder(7, 4), pixelOrder(6, 5), pixelOrder(7, 5)].map((o) => o >> 2),
    ).toEqual(Array(4).fill(pixelOrder(6, 4) >> 2))
  })
  it('gives the samples of four neighbours together an elementary interval each', () => {
    const run = new PixelRun(4, 9)
    const out = new Float64Array(2)
    const cells = new Set<number>()
    for (const [x, y] of [
      [10, 20],
      [11, 20],
      [10, 21],
      [11, 21],
    ]) {
      run.start(x, y)
      for (run.sample = 0; run.sample < 4; run.sample++) {
        for (let r = 0; r < 4; r++) {
          sobolPair(run.first(4) + r, run.seed, out)
          cells.add(Math.floor(out[0] * 8) * 8 + Math.floor(out[1] * 8))
        }
      }
    }
    // 4 pixels of 4 samples of 4 rays: 64 points, one in each of 8 × 8 cells.
    expect(cells.size).toBe(64)
  })
  it('never hands out a number twice in a block, and another seed to the next block', () => {
    const run = new PixelRun(3, 1)
    const seen = new Set<number>()
    for (let y = 0; y < 16; y++) {
      for (let x = 0; x < 16; x++) {
        run.start(x, y)
        for (run.sample = 0; run.sample < 3; run.sample++)
          for (let r = 0; r < 5; r++) seen.add(run.first(5) + r)
      }
    }
    expect(seen.size).toBe(16 * 16 * 15)
    expect(blockSeed(1023, 5, 1)).not.toBe(blockSeed(1024, 5, 1))
    expect(blockSeed(3, 5, 1)).not.toBe(blockSeed(3, 5, 2))
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
