import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { BLEND_MODES, blendDefinitions } from './blend-modes'
import type { BlendMode } from './blend-modes'
import { plainOver } from './plain-compositing'

/** One pixel over one pixel, straight colours in and out. */
function over(
  mode: BlendMode,
  cb: readonly number[],
  ab: number,
  cs: readonly number[],
  as: number,
): number[] {
  const [r, g, b, a] = plainOver(mode, [cb[0] * ab, cb[1] * ab, cb[2] * ab, ab], [cs[0], cs[1], cs[2], as], 1)
  return a > 0 ? [r / a, g / a, b / a, a] : [0, 0, 0, 0]
}

describe('golden values, worked by hand from the recommendation', () => {
  const Cb = [0.2, 0.5, 0.8]
  const Cs = [0.6, 0.25, 1]
  // [mode, r, g, b] for opaque colours.
  const golden: readonly (readonly [BlendMode, number, number, number])[] = [
    ['normal', 0.6, 0.25, 1],
    ['multiply', 0.12, 0.125, 0.8],
    ['screen', 0.68, 0.625, 1],
    ['overlay', 0.24, 0.25, 1],
    ['darken', 0.2, 0.25, 0.8],
    ['lighten', 0.6, 0.5, 1],
    ['color-dodge', 0.5, 2 / 3, 1],
    ['color-burn', 0, 0, 0.8],
    ['hard-light', 0.36, 0.25, 1],
    // r: D(0.2) = ((3.2 − 12)·0.2 + 4)·0.2 = 0.448, 0.2 + 0.2·0.248; g: 0.5 − 0.5·0.5·0.5; b: √0.8.
    ['soft-light', 0.2496, 0.375, Math.sqrt(0.8)],
    ['difference', 0.4, 0.25, 0.2],
    ['exclusion', 0.56, 0.5, 0.2],
    // Lum(Cb) = 0.443, Lum(Cs) = 0.4375.
    ['color', 0.6055, 0.2555, 1.0],
    ['luminosity', 0.1945, 0.4945, 0.7945],
    ['plus-lighter', 0.8, 0.75, 1],
    ['plus-darker', 0, 0, 0.8],
    ['subtract', 0, 0.25, 0],
    ['divide', 1 / 3, 1, 0.8],
  ]
  it.each(golden)('%s', (mode, r, g, b) => {
    const [x, y, z, a] = over(mode, Cb, 1, Cs, 1)
    expect(a).toBe(1)
    expect(x).toBeCloseTo(r, 2)
    expect(y).toBeCloseTo(g, mode === 'color' ? 2 : 5)
    expect(z).toBeCloseTo(b, 5)
  })
  it('hue and saturation: saturation of the one, hue of the other, luminosity of the backdrop', () => {
    const lum = (c: number[]) => 0.3 * c[0] + 0.59 * c[1] + 0.11 * c[2]
    // Colours that need no clipping, so the definitions can be read off directly.
    const [backdrop, source] = [
      [0.5, 0.45, 0.4],
      [0.3, 0.5, 0.4],
    ]
    const sat = (c: number[]) => Math.max(...c.slice(0, 3)) - Math.min(...c.slice(0, 3))
    const hue = over('hue', backdrop, 1, source, 1)
    expect(lum(hue)).toBeCloseTo(lum(backdrop), 5)
    expect(sat(hue)).toBeCloseTo(0.1, 5)
    expect(hue[1]).toBeGreaterThan(hue[2])
    const saturation = over('saturation', backdrop, 1, source, 1)
    expect(lum(saturation)).toBeCloseTo(lum(backdrop), 5)
    expect(sat(saturation)).toBeCloseTo(0.2, 5)
    expect(saturation[0]).toBeGreaterThan(saturation[1])
  })
  it('the corners of dodge and burn', () => {
    expect(over('color-dodge', [0, 0, 0.5], 1, [1, 0.3, 1], 1).slice(0, 3)).toEqual([0, 0, 1])
    expect(over('color-burn', [1, 1, 0.5], 1, [0, 0.3, 0], 1).slice(0, 3)).toEqual([1, 1, 0])
  })
})

const unit = fc.float({ min: 0, max: 1, noNaN: true })
const rgb = fc.tuple(unit, unit, unit)

describe('properties', () => {
  it.each(BLEND_MODES)(
    '%s: the general formula, a clear source changes nothing, a clear backdrop gives the source',
    (mode) => {
      fc.assert(
        fc.property(rgb, unit, rgb, unit, (cb, ab, cs, as) => {
          const definition = blendDefinitions[mode]
          expect(over(mode, cb, ab, cs, 0)[3]).toBeCloseTo(ab, 6)
          const backdrop = plainOver(mode, [cb[0] * ab, cb[1] * ab, cb[2] * ab, ab], [...cs, as], 1)
          const base = ab > 0 ? cb : [0, 0, 0]
          const mixed = new Float64Array(3)
          if (definition.form === 'non-separable')
            definition.blend(base[0], base[1], base[2], cs[0], cs[1], cs[2], mixed)
          for (let c = 0; c < 3; c++) {
            if (definition.form === 'separable') mixed[c] = definition.blend(Math.min(1, base[c]), cs[c])
            const expected =
              definition.form === 'plus-lighter'
                ? Math.min(1, cb[c] * ab + cs[c] * as)
                : as * (1 - ab) * cs[c] + as * ab * mixed[c] + (1 - as) * ab * cb[c]
            expect(backdrop[c]).toBeCloseTo(expected, 4)
          }
          expect(backdrop[3]).toBeCloseTo(
            mode === 'plus-lighter' ? Math.min(1, ab + as) : as + ab - as * ab,
            5,
          )
        }),
        { numRuns: 150, seed: 11 },
      )
    },
  )
})
