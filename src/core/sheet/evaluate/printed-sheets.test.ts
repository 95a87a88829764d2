import { describe, expect, it } from 'vitest'
import { litPrint } from '../contents/mockup'
import { contentOf, evenFill, gradientFill } from '../new-layer'
import type { Sheet } from '../sheet-schema'
import { composed, testLayer, testResources, testSheet } from '../testing/sheets'
import { KeptTiles } from './kept-tiles'
import { planSheet } from './plan-sheet'
import { SheetEvaluator } from './sheet-evaluator'

const resources = testResources()
const SIZE = { width: 240, height: 180 }
const page = (colour: string): Sheet =>
  testSheet({ width: 300, height: 400 }, [testLayer('ink', { content: evenFill(colour) })], { id: 'page' })
const FLAT = { stand: 'pasted', folds: 'none', creases: 0, waves: 0, azimuthDeg: 0, elevationDeg: 0 }

const onPaper = (inner: Sheet, given: Readonly<Record<string, unknown>> = {}): Sheet =>
  testSheet(
    SIZE,
    [testLayer('m', { content: contentOf('mockup', { sheetId: 'page', ...FLAT, ...given }) })],
    {
      shown: { page: inner },
    },
  )
const pixel = (pixels: Float32Array, x: number, y: number) => [
  ...pixels.subarray(4 * (y * SIZE.width + x), 4 * (y * SIZE.width + x) + 4),
]

describe('light on a print', () => {
  const plain = { shadows: 1, lights: 1, calm: 0.02 }
  it('leaves it as it is where the light is about what most of it has', () => {
    for (const light of [0.985, 1, 1.015]) expect(litPrint(0.4, light, plain)).toBeCloseTo(0.4, 9)
  })
  it('multiplies where it is darker, screens where it is brighter, and never greys black by shadow or white by light', () => {
    expect(litPrint(0.5, 0.48, plain)).toBeCloseTo(0.25, 9)
    expect(litPrint(0.5, 1.52, plain)).toBeCloseTo(0.75, 9)
    expect(litPrint(0, 0.3, plain)).toBe(0)
    expect(litPrint(1, 1.8, plain)).toBe(1)
  })
  it('grows with the light, without a step', () => {
    let before = litPrint(0.5, 0, plain)
    for (let light = 0.005; light < 2; light += 0.005) {
      const now = litPrint(0.5, light, plain)
      expect(now).toBeGreaterThanOrEqual(before)
      expect(now - before).toBeLessThan(0.02)
      before = now
    }
  })
})

describe('a mock-up on a sheet', () => {
  it('shows what the page shows, where light falls on it as on most of it', () => {
    const pixels = composed(onPaper(page('#3a7f5c')), resources)
    const [r, g, b, a] = pixel(pixels, 120, 90)
    expect(a).toBeCloseTo(1, 3)
    expect(r).toBeCloseTo(0x3a / 255, 1)
    expect(g).toBeCloseTo(0x7f / 255, 1)
    expect(b).toBeCloseTo(0x5c / 255, 1)
  })
  it('follows a change of the page, and of the light on it, without taking rays again', () => {
    const before = onPaper(page('#c03020'))
    const base = (sheet: Sheet) => {
      const [step] = planSheet(sheet, { size: SIZE }, resources).root.steps
      return 'source' in step && step.source.kind === 'print' ? step.source.base : ''
    }
    const after: Sheet = { ...before, shown: { page: page('#2040c0') } }
    expect(base(before)).not.toBe('')
    expect(base(after)).toBe(base(before))
    expect(base(onPaper(page('#c03020'), { shadows: 2, paperColour: '#808080' }))).toBe(base(before))
    expect(base(onPaper(page('#c03020'), { lightTurnDeg: 20 }))).not.toBe(base(before))
    const evaluator = new SheetEvaluator(new KeptTiles(), resources)
    composed(before, resources, {}, evaluator)
    expect(composed(after, resources, {}, evaluator)).toEqual(composed(after, resources))
  })
  it('lies upright: what is above on the page is above in the picture', () => {
    const inner = testSheet(
      { width: 300, height: 400 },
      [testLayer('ink', { content: gradientFill('linear', ['#ffffff', '#000000'], [0, 0], [0, 1]) })],
      { id: 'page' },
    )
    const pixels = composed(onPaper(inner), resources)
    const [above, below] = [pixel(pixels, 120, 40)[0], pixel(pixels, 120, 140)[0]]
    expect(above).toBeGreaterThan(below + 0.4)
  })
  it('shows bare paper where nothing is printed', () => {
    const bare = testSheet({ width: 300, height: 400 }, [], { id: 'page' })
    const [r] = pixel(composed(onPaper(bare, { paperColour: '#ff8040' }), resources), 120, 90)
    expect(r).toBeCloseTo(1, 1)
  })
  it('is told apart by what it shows and how, not by what it does not', () => {
    const key = (sheet: Sheet) => planSheet(sheet, { size: SIZE }, resources).root.key
    expect(key(onPaper(page('#102030')))).toBe(key(onPaper(page('#102030'))))
    expect(key(onPaper(page('#102030')))).not.toBe(key(onPaper(page('#102031'))))
    expect(key(onPaper(page('#102030')))).not.toBe(key(onPaper(page('#102030'), { creases: 0.1 })))
  })
  it('shows nothing of a page that is not there', () => {
    const gone = testSheet(SIZE, [testLayer('m', { content: contentOf('mockup', { sheetId: 'gone' }) })])
    expect(composed(gone, resources).every((v) => v === 0)).toBe(true)
  })
})

describe('a page in a picture', () => {
  const fitted = (given: Readonly<Record<string, unknown>> = {}, ground = '#808080'): Sheet =>
    testSheet(
      SIZE,
      [
        testLayer('wall', { content: evenFill(ground) }),
        testLayer('f', {
          content: contentOf('fitted', {
            sheetId: 'page',
            white: 0x80 / 255,
            calm: 0,
            corners: [
              [0.25, 0.25],
              [0.75, 0.25],
              [0.75, 0.75],
              [0.25, 0.75],
            ],
            ...given,
          }),
        }),
      ],
      { shown: { page: page('#cc6644') } },
    )
  it('covers what lies between its corners, half of a pixel they cut through', () => {
    const corners = [
      [60.5 / 240, 0.25],
      [0.75, 0.25],
      [0.75, 0.75],
      [60.5 / 240, 0.75],
    ]
    const pixels = composed({ ...fitted({ corners }), background: null }, resources)
    const share = (x: number) => (pixel(pixels, x, 90)[0] - 0x80 / 255) / ((0xcc - 0x80) / 255)
    expect(share(59)).toBeCloseTo(0, 2)
    expect(share(60)).toBeCloseTo(0.5, 1)
    expect(share(61)).toBeCloseTo(1, 2)
  })
  it('keeps its colours on a surface of the measured brightness', () => {
    const [r, g, b] = pixel(composed(fitted(), resources), 120, 90)
    expect([r, g, b]).toEqual([0xcc, 0x66, 0x44].map((v) => expect.closeTo(v / 255, 2) as number))
  })
  it('takes the shadow of what lies beneath by multiplying, its light by screening', () => {
    const [dark] = pixel(composed(fitted({}, '#404040'), resources), 120, 90)
    expect(dark).toBeCloseTo((0xcc / 255) * (0x40 / 0x80), 2)
    const [, light] = pixel(composed(fitted({ lights: 1 }, '#c0c0c0'), resources), 120, 90)
    expect(light).toBeCloseTo(1 - (1 - 0x66 / 255) * (1 - 0.5), 2)
  })
  it('follows its bends', () => {
    const bends = Array.from({ length: 16 }, () => [0.1, 0])
    const pixels = composed(fitted({ bends }), resources)
    expect(pixel(pixels, 64, 90)[0]).toBeCloseTo(0x80 / 255, 2)
    expect(pixel(pixels, 195, 90)[0]).toBeCloseTo(0xcc / 255, 2)
  })
})
