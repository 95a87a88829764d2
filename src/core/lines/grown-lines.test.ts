import { describe, expect, it } from 'vitest'
import { grownLines, type Growth } from './grown-lines'

const way = [
  [0.1, 0.3],
  [0.5, 0.5],
  [0.9, 0.45],
] as const
const setting = { growth: 'crack' as Growth, jagged: 0.6, branches: 0.6, reach: 0.6, seed: 3 }

describe.each(['crack', 'crease', 'fold'] as const)('a line that grows as a %s', (growth) => {
  it('grows the same again, and otherwise with another seed', () => {
    const own = { ...setting, growth }
    expect(grownLines(way, own)).toEqual(grownLines(way, own))
    expect(grownLines(way, { ...own, seed: 4 })).not.toEqual(grownLines(way, own))
  })
  it('runs near the line that was drawn, from one of its ends to the other', () => {
    const lines = grownLines(way, { ...setting, growth, branches: 0 })
    expect(lines).toHaveLength(1)
    const [line] = lines
    for (const [end, drawn] of [
      [line[0], way[0]],
      [line[line.length - 1], way[2]],
    ])
      expect(Math.hypot(end[0] - drawn[0], end[1] - drawn[1])).toBeLessThan(0.03)
    for (const [x, y] of line) {
      const t = x < 0.5 ? (x - 0.1) / 0.4 : (x - 0.5) / 0.4
      const drawn = x < 0.5 ? 0.3 + 0.2 * t : 0.5 - 0.05 * t
      expect(Math.abs(y - drawn)).toBeLessThan(0.05)
    }
  })
  it('has more lines the more of them are asked for, none without end', () => {
    const count = (branches: number) => grownLines(way, { ...setting, growth, branches }).length
    expect(count(1)).toBeGreaterThan(count(0.3))
    const most = grownLines(way, { ...setting, growth, branches: 1, reach: 1, jagged: 1 })
    expect(most.flat().length).toBeLessThan(80_000)
    for (const [x, y, weight] of most.flat()) {
      expect(Number.isFinite(x + y)).toBe(true)
      expect(weight).toBeGreaterThanOrEqual(0)
    }
  })
  it('is straight where it is not broken at all', () => {
    const line = grownLines(
      [
        [0.2, 0.4],
        [0.8, 0.4],
      ],
      { ...setting, growth, branches: 0, jagged: 0 },
    )[0]
    for (const [, y] of line) expect(y).toBeCloseTo(0.4, 9)
  })
})

it('grows nothing from a line without a length', () => {
  expect(
    grownLines(
      [
        [0.5, 0.5],
        [0.5, 0.5],
      ],
      setting,
    ),
  ).toEqual([])
})
