import { describe, expect, it } from 'vitest'
import { seededRandom } from '../math/sampling'
import { paramControls, type ParamValues } from '../params'
import type { RgbaPicture } from '../picture/rgba-picture'
import { gradientFill, wash, wholePicture } from '../sheet/new-layer'
import type { Sheet, SheetEffect } from '../sheet/sheet-schema'
import { PlainSheet } from '../sheet/testing/plain-sheet'
import { composed, testLayer, testResources, testSheet } from '../sheet/testing/sheets'
import { anyValues } from '../testing/any-params'
import { ball, fromFront, renderPass, sceneModel } from '../testing/shapes'
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
/** The same with other colours where nothing is to be seen. */
function spotsOver(picture: RgbaPicture): RgbaPicture {
  const pixels = picture.pixels.slice()
  for (let p = 0; p < pixels.length; p += 4) if (pixels[p + 3] === 0) pixels.fill(0.9, p, p + 3)
  return { ...picture, pixels }
}

/** A ball before nothing, as passes see it. */
const shot = [sceneModel(ball(1.1, 16), 'ball')]
const passes = new Map(
  (['depth', 'normal', 'facing', 'id'] as const).map((kind) => [
    kind as string,
    renderPass(kind, shot, fromFront(4), SIZE).result,
  ]),
)
const resources = testResources(
  { spots: spots(), other: spotsOver(spots()) },
  { shotPass: (_, kind) => passes.get(kind) ?? null },
)

const applied = (kind: string, params: ParamValues): SheetEffect => ({
  id: kind,
  kind,
  version: effectKind(kind).version,
  enabled: true,
  opacity: 1,
  mask: null,
  params,
})

/** A value of a channel is off when it is by more than so much. */
const OFF = 0.02

/** Mean difference of a sheet's picture from what its definition says, and which share of its values is off. */
function offBy(sheet: Sheet): { mean: number; share: number } {
  const found = composed(sheet, resources)
  let [sum, count, at] = [0, 0, 0]
  for (const pixel of new PlainSheet(sheet, SIZE, resources).picture())
    for (const v of pixel) {
      const off = Math.abs(found[at++] - v)
      sum += off
      // What is no number is off.
      if (!(off <= OFF)) count++
    }
  return { mean: sum / at, share: count / at }
}

const layerOf = (kind: string, params: ParamValues, pictureId = 'spots') =>
  testLayer('own', { content: wholePicture(pictureId), effects: [applied(kind, params)] })

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
    ...Array.from({ length: 3 }, () => anyValues(controls, random)),
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
  it('is what its definition says, at every extreme', () => {
    for (const params of settings) {
      const { mean, share } = offBy(testSheet(SIZE, [layerOf(kind, params)]))
      // Blurs differ by up to 1.4e-3 from a gaussian; where an effect jumps, single pixels may fall on either side.
      expect(mean, JSON.stringify(params)).toBeLessThan(2e-3)
      expect(share, JSON.stringify(params)).toBeLessThan(5e-3)
    }
  })
  it('is what its definition says in a wash, and blended in linear light', () => {
    const beneath = testLayer('beneath', { content: gradientFill('linear', ['#10305080', '#f0d0a0']) })
    const washed = testLayer('washed', { content: wash(), effects: [applied(kind, effect.defaults)] })
    for (const layers of [[beneath, washed], [layerOf(kind, effect.defaults)]])
      for (const blendSpace of ['display', 'linear'] as const) {
        const { mean, share } = offBy(testSheet(SIZE, layers, { blendSpace }))
        expect(mean).toBeLessThan(1e-3)
        expect(share).toBeLessThan(2e-3)
      }
  })
  it('changes something at its defaults, and nothing at its neutral values', () => {
    const plain = composed(testSheet(SIZE, [layerOf('levels', {})]), resources)
    const asked = paramControls(effect.schema).some(({ control }) => control === 'layer')
    if (!asked && JSON.stringify(effect.neutral) !== JSON.stringify(effect.defaults)) {
      const made = composed(testSheet(SIZE, [layerOf(kind, effect.defaults)]), resources)
      expect(made.some((v, i) => Math.abs(v - plain[i]) > 1 / 255)).toBe(true)
    }
    if (!effect.neutral) return
    const made = composed(testSheet(SIZE, [layerOf(kind, effect.neutral)]), resources)
    expect(Math.max(...made.map((v, i) => Math.abs(v - plain[i])))).toBeLessThan(0.5 / 255)
  })
  it('never shows colours that lie under nothing', () => {
    const [made, other] = ['spots', 'other'].map((id) =>
      composed(testSheet(SIZE, [layerOf(kind, effect.defaults, id)]), resources),
    )
    expect(Math.max(...made.map((v, i) => Math.abs(v - other[i])))).toBeLessThan(1e-4)
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
    let off = 0
    for (let y = 0; y < 100; y++)
      for (let x = 0; x < 120; x++)
        for (let c = 0; c < 4; c++) {
          const row = (dy: number) => 4 * ((2 * y + dy) * 240 + 2 * x) + c
          const mean = (large[row(0)] + large[row(0) + 4] + large[row(1)] + large[row(1) + 4]) / 4
          off += Math.abs(small[4 * (y * 120 + x) + c] - mean)
        }
    expect(off / (4 * 100 * 120)).toBeLessThan(2 / 255)
  })
})
