import { describe, expect, it } from 'vitest'
import { newLayer, contentOf } from '@/core/sheet/new-layer'
import { shippedFont } from '@/core/testing/fonts'
import { layType } from '@/core/type/lay-type'
import { typeStyleSchema } from '@/core/type/type-style'
import type { Page } from '@/data/project-schema'
import { letterPlaces } from './letter-places'
import { alignments, snapBlock } from './snap-block'
import { depthAtGap, gapOf, shownParts, standsInWords } from './standing-places'
import { caretAt, lineEnd, lineOf, nearestCaret, selectionBars, verticalStep } from './type-carets'

const part = (name: string, depth: number, covers = 0.1) => ({
  part: name,
  name,
  depth,
  nearest: depth,
  farthest: depth,
  covers,
  box: [0, 0, 1, 1] as const,
})
const parts = [part('Headland', 27), part('Low water', 5), part('Kiosk wall', 0.4), part('Gull', 0.2)]

describe('where something stands among parts', () => {
  it('is a gap, told in words, with a depth in its middle', () => {
    expect(gapOf(parts, 2)).toBe(2)
    expect(standsInWords(parts, 2)).toBe('behind Kiosk wall, before Low water')
    for (let gap = 0; gap <= parts.length; gap++) expect(gapOf(parts, depthAtGap(parts, gap))).toBe(gap)
    expect(depthAtGap(parts, 4)).toBeNull()
    expect(standsInWords(parts, 4)).toBe('before everything')
    expect(standsInWords(parts, 0)).toBe('behind everything')
  })
  it('leaves out what is hardly seen, in order', () => {
    const many = [...parts, part('Rivet', 0.1, 0.00001)]
    expect(shownParts(many)).toEqual(parts)
    const crowd = Array.from({ length: 60 }, (_, i) => part(`p${i}`, 60 - i, 0.01 + i / 1000))
    expect(shownParts(crowd)).toHaveLength(28)
    expect(shownParts(crowd)[0].name).toBe('p32')
  })
})

const set = (text: string, width = 600) => {
  const layout = layType(
    { text, axes: {}, pairs: [] },
    typeStyleSchema.parse({ size: 50 }),
    { width, height: 300 },
    shippedFont('anton'),
  )
  return {
    ...layout,
    frame: { x: 0, y: 0, width, height: 300, turnDeg: 0, corners: null, path: null },
    pairs: [],
  }
}

describe('carets of a block', () => {
  const two = set('AB\nCDE')
  it('stand in the line of their character, and at its end', () => {
    expect(lineOf(two, 1)).toBe(two.lines[0])
    expect(lineOf(two, 3)).toBe(two.lines[1])
    expect(lineEnd(two, 0)).toBe(2)
    const [from, to] = caretAt(two, 4) ?? []
    expect(from?.[0]).toBe(to?.[0])
    expect(from?.[1]).toBeLessThan(to?.[1] ?? NaN)
    expect(from?.[0]).toBeGreaterThan(caretAt(two, 3)?.[0][0] ?? NaN)
  })
  it('go up and down to what lies over them', () => {
    expect(verticalStep(two, 1, 1)).toBe(4)
    expect(verticalStep(two, 4, -1)).toBe(1)
    expect(verticalStep(two, 5, -1)).toBe(2)
    expect(verticalStep(two, 0, -1)).toBe(0)
    expect(verticalStep(two, 4, 1)).toBe(6)
  })
  it('of a line that was broken end before the space that broke it', () => {
    const broken = set('AAAA BBBB', 110)
    expect(broken.lines).toHaveLength(2)
    expect(lineEnd(broken, 2)).toBe(4)
    expect(lineOf(broken, 5)).toBe(broken.lines[1])
  })
  it('are found under a pointer', () => {
    for (let index = 0; index <= 6; index++) {
      const [from, to] = caretAt(two, index) ?? []
      if (!from || !to) throw new Error('no caret')
      expect(nearestCaret(two, (x, y) => [x, y], from[0] + 0.1, (from[1] + to[1]) / 2)).toBe(index)
    }
  })
  it('have a bar between them for each line', () => {
    expect(selectionBars(two, 1, 5)).toHaveLength(2)
    expect(selectionBars(two, 3, 4)).toHaveLength(1)
    const [[a, , c]] = selectionBars(two, 0, 2)
    expect(c[0] - a[0]).toBeCloseTo(two.lines[0].length, 1)
  })
})

it('letters taken apart stand where they stood', () => {
  const own = set('AB C')
  const box = [0.1, 0.2, 0.6, 0.3] as const
  const places = letterPlaces({ text: 'AB C', box: [...box] }, own)
  expect(places.map(({ text }) => text)).toEqual(['A', 'B', 'C'])
  expect(places[0].box[0]).toBeCloseTo(0.1, 9)
  expect(places[1].box[0]).toBeGreaterThan(places[0].box[0])
  expect(places.every(({ box: [x, , width] }) => x + width <= 0.7 + 1e-9)).toBe(true)
})

describe('a block that is dragged', () => {
  const page: Page = {
    posterId: 'p',
    unit: 'mm',
    widthMm: 200,
    heightMm: 100,
    dpi: 25.4,
    bleedMm: 0,
    marginsMm: [10, 10, 10, 10],
    columns: 2,
    gutterMm: 20,
    baselineMm: 0,
    marks: { crop: false, registration: false },
  }
  const other = newLayer({
    id: 'o',
    name: 'o',
    content: contentOf('type', { text: 'x', fontId: 'anton', box: [0.4, 0.6, 0.1, 0.1] }),
  })
  const lines = alignments(page, { width: 200, height: 100, nodes: { o: other } }, 'me')
  it('comes to edges and middles that are near', () => {
    const { box, guides } = snapBlock([0.053, 0.3, 0.2, 0.1], lines, [0.01, 0.01])
    expect(box).toEqual([expect.closeTo(0.05, 9), 0.3, 0.2, 0.1])
    expect(guides).toEqual([{ axis: 'x', at: expect.closeTo(0.05, 9) }])
    expect(snapBlock([0.4, 0.455, 0.2, 0.1], lines, [0.01, 0.01]).box[1]).toBeCloseTo(0.45, 9)
  })
  it('to columns and to other blocks, not to itself', () => {
    expect(lines.x).toEqual(expect.arrayContaining([expect.closeTo(0.45, 9), expect.closeTo(0.55, 9), 0.5]))
    expect(alignments(page, { width: 200, height: 100, nodes: { o: other } }, 'o').x).not.toContain(0.4)
  })
  it('stays where nothing is near, or where a hand holds it free', () => {
    expect(snapBlock([0.153, 0.3, 0.01, 0.01], lines, [0.002, 0.002])).toEqual({
      box: [0.153, 0.3, 0.01, 0.01],
      guides: [],
    })
    expect(snapBlock([0.0501, 0.3, 0.2, 0.1], lines, [0, 0]).guides).toEqual([])
  })
})
