import { describe, expect, it } from 'vitest'
import { seededRandom } from '../math/sampling'
import { paramControls, type NamedControl, type ParamValues } from '../params'
import type { RgbaPicture } from '../picture/rgba-picture'
import { gradientFill, wash, wholePicture } from '../sheet/new-layer'
import type { Sheet, SheetEffect } from '../sheet/sheet-schema'
import { PlainSheet } from '../sheet/testing/plain-sheet'
import { composed, testLayer, testResources, testSheet } from '../sheet/testing/sheets'
import { EFFECTS, effectKind } from './registry'

/**
 * What holds for every effect, whichever is added: it needs no test of its own for any of this.
 */

/** More than one tile, and no whole number of them or of blocks. */
const SIZE = { width: 131, height: 37 }

/** Spots, clear places and hard edges; alphas from none to all. */
function spots(): RgbaPicture {
  const random = seededRandom(11)
  const pixels = Float32Array.from({ length: 4 * SIZE.width * SIZE.height }, () => random())
  for (let p = 0; p < pixels.length; p += 4) {
    const kind = random()
    if (kind < 0.2) pixels[p + 3] = 0
    else if (kind < 0.5) pixels[p + 3] = 1
    else if (kind < 0.6) pixels.fill(Math.round(random()), p, p + 3)
  }
  return { ...SIZE, pixels }
}
const resources = testResources({ spots: spots() })

function anyValue(control: NamedControl, random: () => number): ParamValues[string] {
  if (control.control === 'toggle') return random() < 0.5
  if (control.control === 'choice')
    return control.options[Math.floor(random() * control.options.length)].value
  if (control.control === 'colour')
    return `#${Math.floor(random() * 0x1000000)
      .toString(16)
      .padStart(6, '0')}`
  const { min, max } = control
  return min + (max - min) * random()
}

const applied = (kind: string, params: ParamValues): SheetEffect => ({
  id: kind,
  kind,
  version: effectKind(kind).version,
  enabled: true,
  opacity: 1,
  mask: null,
  params,
})

/** Mean and greatest difference of a sheet's picture from what its definition says. */
function offBy(sheet: Sheet): { mean: number; most: number } {
  const found = composed(sheet, resources)
  const off = new PlainSheet(sheet, SIZE, resources)
    .picture()
    .flat()
    .map((v, i) => Math.abs(found[i] - v))
  // One that is no number wins.
  const most = off.reduce((a, b) => (b <= a ? a : b), 0)
  return { mean: off.reduce((a, b) => a + b, 0) / off.length, most }
}

describe.each(EFFECTS.map((effect) => [effect.kind, effect] as const))('the effect %s', (kind, effect) => {
  const controls = paramControls(effect.schema)
  const random = seededRandom(5)
  const settings: ParamValues[] = [
    effect.defaults,
    // Every number at both ends of its range by itself, then anything.
    ...controls.flatMap((control) =>
      control.control === 'number'
        ? [control.min, control.max].map((end) => ({ ...effect.defaults, [control.name]: end }))
        : [],
    ),
    ...Array.from({ length: 3 }, () =>
      Object.fromEntries(controls.map((control) => [control.name, anyValue(control, random)])),
    ),
  ]

  it('says what it is and has defaults within its ranges', () => {
    expect(effect.label).not.toBe('')
    expect(effect.summary).toMatch(/\.$/)
    expect(effect.read(effect.version, JSON.parse(JSON.stringify(effect.defaults)))).toEqual(effect.defaults)
    for (const control of controls)
      if (control.control === 'number') {
        expect(control.default).toBeGreaterThanOrEqual(control.min)
        expect(control.default).toBeLessThanOrEqual(control.max)
      }
  })
  it('refuses what lies beyond its ranges by name, and a version that is not made yet', () => {
    for (const control of controls) {
      const refused =
        control.control === 'number' ? [control.min - 1, control.max + 1, NaN, 'wide'] : [{ not: 'this' }]
      for (const value of refused)
        expect(() => effect.work({ ...effect.defaults, [control.name]: value } as ParamValues)).toThrow(
          `${kind}.${control.name}`,
        )
    }
    expect(() => effect.work({ ...effect.defaults, unheardOf: 1 })).toThrow(kind)
    expect(() => effect.read(effect.version + 1, effect.defaults)).toThrow('newer version')
  })
  it.each(['display', 'linear'] as const)('is what its definition says, blended in %s values', (space) => {
    for (const params of settings) {
      const own = testLayer('own', {
        content: wholePicture('spots'),
        effects: [applied(kind, params)],
      })
      const beneath = testLayer('beneath', { content: gradientFill('linear', ['#10305080', '#f0d0a0']) })
      const washed = testLayer('washed', { content: wash(), effects: [applied(kind, params)] })
      for (const layers of [[own], [beneath, washed]]) {
        const off = offBy(testSheet(SIZE, layers, { blendSpace: space }))
        expect(off.mean, JSON.stringify(params)).toBeLessThan(1e-3)
        expect(off.most, JSON.stringify(params)).toBeLessThan(0.02)
      }
    }
  })
  it('makes of a smooth picture the same at half the size', () => {
    const smooth = testLayer('smooth', {
      content: gradientFill('linear', ['#203040', '#d0c0a0'], [0.2, 0.3], [0.8, 0.7]),
      effects: [applied(kind, effect.defaults)],
    })
    const sheet = testSheet({ width: 240, height: 200 }, [smooth])
    const [large, small] = [sheet, sheet].map((one, i) =>
      composed(one, resources, { size: { width: 240 >> i, height: 200 >> i } }),
    )
    for (let y = 0; y < 100; y++)
      for (let x = 0; x < 120; x++)
        for (let c = 0; c < 4; c++) {
          const row = (dy: number) => 4 * ((2 * y + dy) * 240 + 2 * x) + c
          const mean = (large[row(0)] + large[row(0) + 4] + large[row(1)] + large[row(1) + 4]) / 4
          expect(Math.abs(small[4 * (y * 120 + x) + c] - mean)).toBeLessThan(2 / 255)
        }
  })
})
