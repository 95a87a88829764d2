import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { shippedFont } from '../testing/fonts'
import { layType } from './lay-type'
import { typeStyleSchema, pairsOf, type TypeStyle } from './type-style'

const anton = shippedFont('anton')
const playfair = shippedFont('playfair-display')
const rubik = shippedFont('rubik')
const style = (given: Partial<TypeStyle> = {}): TypeStyle => typeStyleSchema.parse({ size: 100, ...given })
const text = (own: string, pairs: { pair: string; by: number }[] = []) => ({ text: own, axes: {}, pairs })
const frame = { width: 600, height: 400 }
const lay = (
  own: string,
  given: Partial<TypeStyle> = {},
  files = anton,
  at: typeof frame | { width: null; height: number } = frame,
) => layType(text(own), style(given), at, files)
const PARAGRAPH =
  'At low water the whole of the kiosk can be seen from the harbour office and the stones that were cut before anybody kept a record of the tides lie open to the gulls until the water comes back'

describe('lines', () => {
  it('stand so far below each other, the first with its capitals at the upper edge', () => {
    const { lines } = lay('ONE\nTWO\nSIX', { leading: 1.3 })
    const { capHeight } = anton[0].at({}).metrics
    expect(lines.map(({ across }) => across)).toEqual(
      [0, 1, 2].map((i) => expect.closeTo(100 * (capHeight + 1.3 * i), 3)),
    )
  })
  it('begin, stand in the middle, or end where they are told to', () => {
    const edges = (align: TypeStyle['align']) => {
      const [line] = lay('QUAY', { align }).lines
      return [line.from, line.from + line.length]
    }
    expect(edges('start')[0]).toBe(0)
    expect(edges('end')[1]).toBeCloseTo(600, 6)
    const [from, to] = edges('middle')
    expect((from + to) / 2).toBeCloseTo(300, 6)
  })
  it('are no longer than the frame, and lose no letter', () => {
    const { lines, glyphs } = lay(PARAGRAPH, { size: 40 }, playfair)
    for (const { length } of lines) expect(length).toBeLessThanOrEqual(600 + 1e-6)
    expect(lines.length).toBeGreaterThan(3)
    const set = new Set(
      glyphs.flatMap(({ start, end }) => Array.from({ length: end - start }, (_, i) => start + i)),
    )
    for (let i = 0; i < PARAGRAPH.length; i++) if (PARAGRAPH[i] !== ' ') expect(set.has(i)).toBe(true)
  })
  it('that are justified end at the edge, but the last', () => {
    const { lines } = lay(PARAGRAPH, { size: 40, align: 'justify' }, playfair)
    for (const line of lines.slice(0, -1)) {
      expect(line.from).toBeCloseTo(0, 6)
      expect(line.length).toBeCloseTo(600, 4)
    }
    expect(lines.at(-1)?.length).toBeLessThan(600)
  })
  it('divide words only where that was asked for', () => {
    const narrow = { width: 170, height: 900 }
    const hyphens = (own: Partial<TypeStyle>) =>
      layType(
        text('constitutional understanding of representation'),
        style({ size: 30, ...own }),
        narrow,
        playfair,
      )
    const apart = hyphens({ hyphens: 'en', align: 'justify' })
    const whole = hyphens({ align: 'justify' })
    expect(apart.glyphs.length).toBeGreaterThan(whole.glyphs.length)
  })
  it('fill their frame from edge to edge where each is to', () => {
    const { lines, glyphs } = lay('TIDE\nFAIR IN MAY', { fit: 'lines' })
    for (let i = 0; i < lines.length; i++) {
      const own = glyphs.filter(({ line }) => line === i)
      const edges = own.map((g) => {
        const xs: number[] = []
        const outline = g.font.outline(g.glyph)
        for (let k = 0; k < outline.length; k += 1 + [2, 2, 4, 6, 0][outline[k]])
          for (let n = 1; n < [2, 2, 4, 6, 0][outline[k]]; n += 2) xs.push(g.x + outline[k + n] * g.sizeX)
        return xs
      })
      expect(Math.min(...edges.flat())).toBeCloseTo(0, 1)
      expect(Math.max(...edges.flat())).toBeCloseTo(600, 1)
    }
    expect(lines[0].scale).toBeGreaterThan(lines[1].scale)
  })
  it('are as large as fits where all is to fit', () => {
    const { lines, height, size } = lay('LOW\nWATER', { fit: 'box', size: 10 })
    expect(Math.max(...lines.map(({ length }) => length))).toBeLessThanOrEqual(600 + 1e-6)
    expect(height).toBeLessThanOrEqual(401)
    expect(size).toBeGreaterThan(100)
  })
  it('go on in the next column when one is full', () => {
    const { lines } = lay(PARAGRAPH, { size: 40, columns: 2 }, playfair, { width: 600, height: 260 })
    const second = lines.filter(({ from }) => from > 200)
    expect(second.length).toBeGreaterThan(0)
    expect(second[0].across).toBeCloseTo(lines[0].across, 6)
  })
  it('of a text without a frame to fit are paragraphs', () => {
    expect(lay(PARAGRAPH, {}, playfair, { width: null, height: 100 }).lines).toHaveLength(1)
  })
})

describe('letters', () => {
  const lengthOf = (own: ReturnType<typeof lay>) => own.lines[0].length
  it('stand further apart by tracking, between them and not after them', () => {
    expect(lengthOf(lay('TIDE', { tracking: 100, kerning: true })) - lengthOf(lay('TIDE'))).toBeCloseTo(
      3 * 10,
      4,
    )
  })
  it('stand closer by hand, wherever the pair is', () => {
    const own = layType(text('FAFA', [{ pair: 'FA', by: -50 }]), style(), frame, anton)
    expect(lengthOf(lay('FAFA')) - lengthOf(own)).toBeCloseTo(2 * 5, 4)
    expect(pairsOf('TIDE FA\nIR')).toEqual(['TI', 'ID', 'DE', 'FA', 'IR'])
  })
  it('are drawn out across and not down', () => {
    const [plain, wide] = [lay('O'), lay('O', { width: 150 })]
    expect(wide.glyphs[0].sizeX).toBeCloseTo(1.5 * plain.glyphs[0].sizeX, 6)
    expect(wide.glyphs[0].sizeY).toBe(plain.glyphs[0].sizeY)
  })
  it('that no font has are told', () => {
    expect(lay('A\u4e00B').missing).toEqual(['\u4e00'])
  })
  it('are capitals where that was asked for, as long as what was typed', () => {
    const { glyphs } = lay('tide', { capitals: 'all' })
    expect(glyphs.map(({ glyph }) => glyph)).toEqual(lay('TIDE').glyphs.map(({ glyph }) => glyph))
  })
  it('of two scripts stand as each is read', () => {
    const own = lay('\u05d0\u05d1\u05d2 abc', {}, rubik)
    const x = (at: number) => own.glyphs.find(({ start }) => start === at)?.x ?? NaN
    // The paragraph runs to the left: its first letter stands at the right, Latin within it to the right.
    expect(x(0)).toBeGreaterThan(x(1))
    expect(x(1)).toBeGreaterThan(x(2))
    expect(x(4)).toBeLessThan(x(5))
    expect(x(2)).toBeGreaterThan(x(6))
  })
  it('stand below each other in columns that follow from the right', () => {
    const own = lay('AB\nCD', { direction: 'down' })
    const [a, b, c] = [0, 1, 3].map((at) => own.glyphs.find(({ start }) => start === at))
    expect(b?.y).toBeGreaterThan(a?.y ?? NaN)
    expect(c?.x).toBeLessThan(a?.x ?? NaN)
  })
})

describe('carets', () => {
  it('stand before every character and after the last, in the order of a Latin text', () => {
    fc.assert(
      fc.property(
        fc.string({ unit: fc.constantFrom(...'Tide fair 12'), minLength: 1, maxLength: 30 }),
        (own) => {
          const { lines } = lay(own, { size: 20 }, playfair)
          const carets = lines.flatMap((line) => line.carets)
          for (let i = 0; i <= own.length; i++) expect(carets.some(({ index }) => index === i)).toBe(true)
          for (const { carets: row } of lines)
            row.slice(1).forEach((caret, i) => expect(caret.at).toBeGreaterThanOrEqual(row[i].at - 1e-9))
        },
      ),
      { numRuns: 60 },
    )
  })
  it('share a ligature evenly', () => {
    const [line] = lay('fi', { ligatures: true }, playfair).lines
    expect(line.carets.map(({ index }) => index)).toEqual([0, 1, 2])
  })
  it('have one in an empty text', () => {
    expect(lay('').lines[0].carets).toEqual([{ index: 0, at: expect.any(Number) }])
  })
})
