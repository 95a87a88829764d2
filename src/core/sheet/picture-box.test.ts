import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { laidOut, movedTo, onSheet, scaledTo, turnedTo } from './picture-box'

const SHEET = { width: 1200, height: 750 }
const share = fc.float({ min: -0.5, max: 1.5, noNaN: true })
const placed = fc.record({
  centre: fc.tuple(share, share),
  size: fc.tuple(
    fc.float({ min: Math.fround(0.05), max: 2, noNaN: true }),
    fc.float({ min: Math.fround(0.05), max: 2, noNaN: true }),
  ),
  turnDeg: fc.integer({ min: -180, max: 180 }),
})
const corner = fc.constantFrom([1, 1], [-1, 1], [1, -1], [-1, -1]) as fc.Arbitrary<[number, number]>

describe('a placed picture', () => {
  it('lies about its middle, its corners where its size says', () => {
    const own = { centre: [0.5, 0.5] as [number, number], size: [0.5, 0.4] as [number, number], turnDeg: 0 }
    expect(onSheet(own, [1, 1], SHEET)).toEqual([0.75, 0.7])
    expect(onSheet(own, [0, 0], SHEET)).toEqual([0.5, 0.5])
    // A quarter turn: what was across is down, in pixels.
    const turned = onSheet({ ...own, turnDeg: 90 }, [1, 0], SHEET)
    expect(turned[0]).toBeCloseTo(0.5, 9)
    expect(turned[1]).toBeCloseTo(0.5 + (0.25 * 1200) / 750, 9)
  })
  it('keeps the corner across, and its proportions, when a corner is dragged', () => {
    fc.assert(
      fc.property(placed, corner, share, share, (own, at, x, y) => {
        const across: [number, number] = [-at[0], -at[1]]
        const before = onSheet(own, across, SHEET)
        const next = scaledTo(own, at, [x, y], SHEET)
        const after = onSheet(next, across, SHEET)
        if (next.centre.every((v) => v > -8 && v < 9)) {
          expect(after[0]).toBeCloseTo(before[0], 5)
          expect(after[1]).toBeCloseTo(before[1], 5)
        }
        if (Math.min(...next.size) > 0.0011)
          expect(next.size[0] / next.size[1]).toBeCloseTo(own.size[0] / own.size[1], 3)
      }),
      { seed: 3 },
    )
  })
  it('brings a corner where it is dragged to, without its proportions', () => {
    fc.assert(
      fc.property(placed, (own) => {
        const to = onSheet({ ...own, size: [own.size[0] * 1.3, own.size[1] * 0.7] }, [1, 1], SHEET)
        const next = scaledTo(own, [1, 1], to, SHEET, false)
        const found = onSheet(next, [1, 1], SHEET)
        const fixed = onSheet(own, [-1, -1], SHEET)
        // Where the dragged corner lies beyond the fixed one in the picture's own directions.
        if (next.size[0] * SHEET.width > 1.01 && next.size[1] * SHEET.height > 1.01) {
          expect(found[0]).toBeCloseTo(to[0], 4)
          expect(found[1]).toBeCloseTo(to[1], 4)
          expect(onSheet(next, [-1, -1], SHEET)[0]).toBeCloseTo(fixed[0], 4)
        }
      }),
      { seed: 4 },
    )
  })
  it('moves by its middle and turns towards a place', () => {
    const own = laidOut({ width: 100, height: 100 }, SHEET, 'whole')
    expect(movedTo(own, [0.2, 20]).centre).toEqual([0.2, 9])
    expect(turnedTo(own, [0.5, 0.1], SHEET).turnDeg).toBeCloseTo(0, 5)
    expect(turnedTo(own, [0.9, 0.5], SHEET).turnDeg).toBe(90)
    expect(turnedTo(own, own.centre, SHEET)).toBe(own)
  })
  it('is laid out whole, filling, or pixel on pixel, never out of proportion', () => {
    const picture = { width: 600, height: 600 }
    expect(laidOut(picture, SHEET, 'whole').size).toEqual([750 / 1200, 1])
    expect(laidOut(picture, SHEET, 'fill').size).toEqual([1, 1200 / 750])
    expect(laidOut(picture, SHEET, 'own size').size).toEqual([0.5, 0.8])
  })
})
