import { readFileSync } from 'node:fs'
import path from 'node:path'
import { parse } from 'opentype.js'
import { describe, expect, it } from 'vitest'
import { shippedBytes, shippedFont } from '../testing/fonts'
import { catalogue } from '../../../scripts/fonts.mjs'
import { programs } from '../../../scripts/harfbuzz.mjs'
import { CATALOGUE } from './font-catalogue'
import { OUTLINE, OUTLINE_NUMBERS, openFont } from './shaper'
import { subsetFont } from './subset-font'

it('the embedded programs, and the list of fonts, are those of the packages', () => {
  for (const [name, text] of Object.entries(programs))
    expect(readFileSync(path.join('src/core/type', name), 'utf8')).toBe((text as () => string)())
  expect(CATALOGUE).toEqual((catalogue() as { fonts: unknown }).fonts)
})

it('ships 24 families or more, each with its licence and files that open', () => {
  expect(new Set(CATALOGUE.map(({ family }) => family)).size).toBeGreaterThanOrEqual(24)
  for (const { id, licence, attribution, axes } of CATALOGUE) {
    expect(['OFL-1.1', 'Apache-2.0']).toContain(licence)
    expect(attribution).not.toBe('')
    const [file] = shippedFont(id)
    expect(file.at({}).has(0x41)).toBe(true)
    expect(file.axes.map(({ tag }) => tag).sort()).toEqual(axes.map(({ tag }) => tag).sort())
  }
})

describe.each(['anton', 'courier-prime', 'alfa-slab-one'])('%s, beside another reader of fonts', (id) => {
  const [file] = shippedFont(id)
  const font = file.at({})
  const bytes = shippedBytes(CATALOGUE.find((own) => own.id === id)?.files[0] ?? '')
  const other = parse(bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.byteLength))
  it('moves the pen as far for every letter', () => {
    for (let code = 0x20; code < 0x7f; code++) {
      const [shaped] = font.shape(String.fromCharCode(code), 0, 1, 'right', {})
      const glyph = other.charToGlyph(String.fromCharCode(code))
      expect(shaped.glyph).toBe(glyph.index)
      expect(shaped.advanceX * file.unitsPerEm).toBeCloseTo(glyph.advanceWidth ?? 0, 3)
    }
  })
  it('draws the same outlines', () => {
    for (const letter of 'AgQ8&') {
      const [shaped] = font.shape(letter, 0, 1, 'right', {})
      const outline = font.outline(shaped.glyph)
      let [x0, y0, x1, y1] = [Infinity, Infinity, -Infinity, -Infinity]
      for (let i = 0; i < outline.length; i += 1 + OUTLINE_NUMBERS[outline[i]])
        for (let k = 1; k < OUTLINE_NUMBERS[outline[i]]; k += 2) {
          x0 = Math.min(x0, outline[i + k])
          x1 = Math.max(x1, outline[i + k])
          y0 = Math.min(y0, outline[i + k + 1])
          y1 = Math.max(y1, outline[i + k + 1])
        }
      const points = other.charToGlyph(letter).path.commands.flatMap((c) =>
        'x1' in c
          ? [
              [c.x, c.y],
              [c.x1, c.y1],
            ]
          : 'x' in c
            ? [[c.x, c.y]]
            : [],
      ) as number[][]
      const per = file.unitsPerEm
      expect(x0 * per).toBeCloseTo(Math.min(...points.map(([x]) => x)), 2)
      expect(x1 * per).toBeCloseTo(Math.max(...points.map(([x]) => x)), 2)
      expect(y0 * per).toBeCloseTo(Math.min(...points.map(([, y]) => y)), 2)
      expect(y1 * per).toBeCloseTo(Math.max(...points.map(([, y]) => y)), 2)
    }
  })
})

describe('shaping', () => {
  const [playfair] = shippedFont('playfair-display')
  const font = playfair.at({ wght: 500 })
  const advance = (text: string, features = {}) =>
    font.shape(text, 0, text.length, 'right', features).reduce((sum, g) => sum + g.advanceX, 0)
  it('kerns, and does not where it is told not to', () => {
    expect(advance('AVA')).toBeLessThan(advance('AVA', { kern: 0 }) - 0.05)
  })
  it('joins letters into ligatures that stand for both', () => {
    const glyphs = font.shape('ffi', 0, 3, 'right', { liga: 1 })
    const apart = font.shape('ffi', 0, 3, 'right', { liga: 0, clig: 0 })
    expect(glyphs.length).toBeLessThan(apart.length)
    expect(apart.map(({ cluster }) => cluster)).toEqual([0, 1, 2])
  })
  it('varies along an axis', () => {
    expect(playfair.at({ wght: 900 }).shape('M', 0, 1, 'right', {})[0].advanceX).toBeGreaterThan(
      playfair.at({ wght: 400 }).shape('M', 0, 1, 'right', {})[0].advanceX,
    )
  })
  it('sets Arabic from right to left, its letters joined', () => {
    const amiri = shippedFont('amiri')
      .find((own) => own.at({}).has(0x628))
      ?.at({})
    const glyphs = amiri?.shape('\u0628\u0628\u0628', 0, 3, 'left', {}) ?? []
    // Seen from the left: the last letter first; three forms of one letter.
    expect(glyphs.filter(({ advanceX }) => advanceX > 0).map(({ cluster }) => cluster)).toEqual([2, 1, 0])
    expect(new Set(glyphs.map(({ glyph }) => glyph)).size).toBeGreaterThanOrEqual(3)
  })
  it('sets letters below each other in a column', () => {
    const glyphs = font.shape('AB', 0, 2, 'down', {})
    expect(glyphs.every(({ advanceX, advanceY }) => advanceX === 0 && advanceY < 0)).toBe(true)
  })
  it('says what letters are tall, and what the font has', () => {
    expect(font.metrics.capHeight).toBeCloseTo(0.708, 2)
    expect(font.metrics.ascender).toBeGreaterThan(font.metrics.capHeight)
    expect(playfair.features).toEqual(expect.arrayContaining(['kern', 'liga']))
    expect(playfair.nameOf(1)).toMatch(/Playfair/)
  })
  it('refuses what is no font', () => {
    expect(() => openFont(new Uint8Array(400).fill(7))).toThrow(/TrueType or OpenType/)
  })
})

describe('a font cut down to some glyphs', () => {
  const [file] = shippedFont('bodoni-moda')
  const axes = { wght: 700, opsz: 28 }
  const font = file.at(axes)
  const [b] = font.shape('B', 0, 1, 'right', {})
  const cut = subsetFont(file.bytes, [b.glyph], axes)
  it('is much smaller, of one weight, and keeps numbers, outlines and advances', () => {
    expect(cut.length).toBeLessThan(file.bytes.length / 8)
    const own = openFont(cut)
    expect(own.axes).toEqual([])
    expect(own.at({}).advanceOf(b.glyph)).toBeCloseTo(font.advanceOf(b.glyph), 3)
    const [before, after] = [font.outline(b.glyph), own.at({}).outline(b.glyph)]
    expect(after.length).toBe(before.length)
    before.forEach((v, i) => expect(after[i]).toBeCloseTo(v, 2))
    expect(after[0]).toBe(OUTLINE.move)
  })
  it('cannot be made of what is no font', () => {
    expect(() => subsetFont(new Uint8Array(200), [1], {})).toThrow(/cut down/)
  })
})
