import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { breakLines, fillLines, type BrokenLine, type ParagraphItem } from './break-lines'

const box = (width: number): ParagraphItem => ({ kind: 'box', width })
const glue = (width: number): ParagraphItem => ({
  kind: 'glue',
  width,
  stretch: width / 2,
  shrink: width / 3,
})
const words = (...widths: number[]): ParagraphItem[] =>
  widths.flatMap((width, i) => (i === 0 ? [box(width)] : [glue(3), box(width)]))
const even = (width: number) => ({ widthOf: () => width, isLastLoose: true })

/** What a line is long when its spaces change by its ratio. */
const lengthOf = (items: readonly ParagraphItem[], { from, to, ratio }: BrokenLine): number =>
  items.slice(from, to).reduce(
    (sum, item) => {
      if (item.kind === 'box') return sum + item.width
      if (item.kind === 'penalty') return sum
      return sum + item.width + ratio * (ratio < 0 ? item.shrink : item.stretch)
    },
    items[to]?.kind === 'penalty' ? items[to].width : 0,
  )

/** The sum of demerits of a way to break, by the paper's formulas. */
function demeritsOf(items: readonly ParagraphItem[], breaks: readonly number[], width: number): number {
  let from = 0
  let sum = 0
  let fitness = 1
  breaks.forEach((to, i) => {
    const own = items.slice(from, to)
    const total = (pick: (item: ParagraphItem) => number) => own.reduce((all, item) => all + pick(item), 0)
    const natural = total((item) => (item.kind === 'penalty' ? 0 : item.width))
    const isLast = i === breaks.length - 1
    const room = width - natural
    const ratio =
      isLast && room >= 0
        ? 0
        : room >= 0
          ? room / total((item) => (item.kind === 'glue' ? item.stretch : 0))
          : room / total((item) => (item.kind === 'glue' ? item.shrink : 0))
    if (ratio < -1 || Number.isNaN(ratio)) sum += Infinity
    sum += (1 + 100 * Math.min(1e3, Math.abs(ratio)) ** 3) ** 2
    const now = ratio < -0.5 ? 0 : ratio <= 0.5 ? 1 : ratio <= 1 ? 2 : 3
    if (Math.abs(now - fitness) > 1) sum += 3000
    fitness = now
    from = to + 1
  })
  return sum
}

describe('a paragraph broken as a whole', () => {
  const widths = fc.array(fc.integer({ min: 2, max: 14 }), { minLength: 3, maxLength: 10 })
  it('has no better breaks: all ways tried', () => {
    fc.assert(
      fc.property(widths, fc.integer({ min: 24, max: 44 }), (own, width) => {
        const items = words(...own)
        const places = items.flatMap((item, i) => (item.kind === 'glue' ? [i] : []))
        let best = Infinity
        for (let set = 0; set < 2 ** places.length; set++) {
          const breaks = [...places.filter((_, i) => set & (1 << i)), items.length]
          best = Math.min(best, demeritsOf(items, breaks, width))
        }
        const lines = breakLines(items, even(width))
        const found = demeritsOf(
          items,
          lines.map(({ to }) => to),
          width,
        )
        // Of ways that are as good as each other any will do; where none fits at all, lines stick out.
        if (Number.isFinite(best)) expect(found).toBeLessThanOrEqual(best * (1 + 1e-9) + 1e-6)
      }),
      { numRuns: 300 },
    )
  })
  it('fills every line but the last exactly, and loses nothing', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 2, max: 14 }), { minLength: 4, maxLength: 60 }), (own) => {
        const items = words(...own)
        const lines = breakLines(items, even(60))
        expect(lines[0].from).toBe(0)
        expect(lines.at(-1)?.to).toBe(items.length)
        lines.slice(1).forEach((line, i) => expect(line.from).toBe(lines[i].to + 1))
        for (const line of lines.slice(0, -1)) {
          expect(line.ratio).toBeGreaterThanOrEqual(-1 - 1e-9)
          expect(lengthOf(items, line)).toBeCloseTo(60, 6)
        }
      }),
    )
  })
  it('breaks where it must, and hyphenates where that is better', () => {
    const must: ParagraphItem = { kind: 'penalty', width: 0, penalty: -Infinity, isFlagged: false }
    expect(breakLines([box(5), must, box(5)], even(40)).map(({ from, to }) => [from, to])).toEqual([
      [0, 1],
      [2, 3],
    ])
    const hyphen: ParagraphItem = { kind: 'penalty', width: 1, penalty: 50, isFlagged: true }
    const items = [box(20), glue(3), box(10), hyphen, box(14), glue(3), box(12)]
    const [first] = breakLines(items, even(34))
    expect(first.to).toBe(3)
    expect(lengthOf(items, first)).toBeCloseTo(34, 6)
  })
  it('lets a word stick out that is longer than the measure', () => {
    const items = words(5, 80, 6)
    const lines = breakLines(items, even(30))
    expect(
      lines.flatMap(({ from, to }) => items.slice(from, to)).filter(({ kind }) => kind === 'box'),
    ).toHaveLength(3)
  })
  it('is one empty line of nothing', () => {
    expect(breakLines([], even(10))).toHaveLength(1)
  })
})

describe('lines that are filled one by one', () => {
  it('take words as long as they fit', () => {
    const items = words(10, 10, 10, 10)
    expect(fillLines(items, () => 24).map(({ from, to }) => [from, to])).toEqual([
      [0, 3],
      [4, 7],
    ])
  })
  it('are no longer than the measure where words are not', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 1, max: 20 }), { minLength: 1, maxLength: 40 }), (own) => {
        const items = words(...own)
        const lines = fillLines(items, () => 30)
        for (const line of lines)
          expect(lengthOf(items, { ...line, ratio: 0 })).toBeLessThanOrEqual(30 + 1e-9)
        expect(
          lines.flatMap(({ from, to }) => items.slice(from, to)).filter(({ kind }) => kind === 'box'),
        ).toHaveLength(own.length)
      }),
    )
  })
})
