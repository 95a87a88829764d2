import { describe, expect, it } from 'vitest'
import { BRUSH_DEFAULTS } from '@/core/paint/brush'
import type { LivePaint } from '@/core/paint/live-paint'
import { TIPS } from '@/core/paint/tips/registry'
import { inBlocks, TILE } from '@/core/picture/tile-form'
import { KeptTiles } from '@/core/sheet/evaluate/kept-tiles'
import { wholePicture } from '@/core/sheet/evaluate/picture-rows'
import { planSheet } from '@/core/sheet/evaluate/plan-sheet'
import { SheetEvaluator } from '@/core/sheet/evaluate/sheet-evaluator'
import { gradientFill, newMask, newTerm } from '@/core/sheet/new-layer'
import { testLayer, testSheet } from '@/core/sheet/testing/sheets'
import { randomSheet, resources } from '@/core/sheet/testing/random-sheet'
import { StrokeDesk } from './stroke-desk'

const SIZE = { width: 300, height: 280 }

describe('the desk where strokes are painted', () => {
  it('leaves pictures that are made in the same memory alone', () => {
    const tiles = new KeptTiles()
    const desk = new StrokeDesk(tiles, resources, () => undefined)
    const evaluator = new SheetEvaluator(tiles, resources)
    const picture = (own: SheetEvaluator, seed: number) => {
      const sheet = { ...randomSheet(seed), ...SIZE }
      own.begin(planSheet(sheet, { size: SIZE }, resources), 'view')
      return Buffer.from(wholePicture(own, SIZE, 'bytes'))
    }
    // As each is made in memory of its own.
    const fresh = [1, 2, 3].map((seed) => picture(new SheetEvaluator(new KeptTiles(), resources), seed))
    for (let round = 0; round < 4; round++)
      for (const { kind, brush } of TIPS) {
        desk.sample(
          { tip: kind, seed: round, params: { ...BRUSH_DEFAULTS, ...brush } },
          { width: 252, height: 68 },
        )
        const [seed, made] = [1 + (round % 3), fresh[round % 3]]
        expect(picture(evaluator, seed).equals(made), `${kind}, ${round}`).toBe(true)
        tiles.tick()
        tiles.shrinkTo(2 * 2 ** 20)
      }
  })

  it('clones what is seen elsewhere, over borders of tiles, as it was when the stroke began', async () => {
    const tiles = new KeptTiles()
    let live: readonly LivePaint[] = []
    const desk = new StrokeDesk(tiles, resources, (now) => (live = now))
    const content = { kind: 'painted', version: 1, ...SIZE, tiles: {} } as const
    const under = testLayer('under', {
      content: gradientFill('linear', ['#ff0000', '#0000ff'], [0, 0], [1, 0]),
    })
    const sheet = testSheet(SIZE, [under, testLayer('paint', { content })])
    const stroke = {
      place: { layerId: 'paint', term: null },
      brush: { tip: 'hardRound', seed: 1, params: { ...BRUSH_DEFAULTS, size: 60, flow: 1, whole: 1 } },
      act: { kind: 'clone', of: null, dx: 120, dy: 10 } as const,
      within: null,
      mirrors: { x: null, y: null },
      seed: 1,
    }
    const moment = (x: number) => ({ x, y: 128, pressure: 1, tiltX: 0, tiltY: 0, twist: 0, at: 0 })
    desk.begin(1, stroke, sheet)
    desk.add(1, [moment(100), moment(140)])
    const made = new Map((await desk.end(1, null)).map(({ place, bytes }) => [place, bytes]))
    const at = (x: number, y: number, c: number) => {
      const bytes = made.get(`${Math.floor(x / TILE)},${Math.floor(y / TILE)}`)
      return bytes ? new Uint16Array(bytes.buffer)[inBlocks((y % TILE) * TILE + (x % TILE), c)] / 65535 : 0
    }
    for (const [x, y] of [
      [110, 120],
      [127, 128],
      [128, 129],
      [140, 140],
    ]) {
      // What lies 120 to the right.
      const share = (x + 120.5) / SIZE.width
      expect(at(x, y, 3)).toBeCloseTo(1, 3)
      expect(at(x, y, 2)).toBeCloseTo(share, 2)
      expect(at(x, y, 0)).toBeCloseTo(1 - share, 2)
    }
    expect(live).toHaveLength(1)
    desk.forget(1)
  })

  it('stays where the sheet is as bright, as it is seen', async () => {
    const tiles = new KeptTiles()
    const desk = new StrokeDesk(tiles, resources, () => undefined)
    const content = { kind: 'painted', version: 1, ...SIZE, tiles: {} } as const
    const under = testLayer('under', {
      content: gradientFill('linear', ['#000000', '#ffffff'], [0, 0], [1, 0]),
    })
    const sheet = testSheet(SIZE, [under, testLayer('paint', { content })])
    const bright = newTerm('brightnessRange', { range: [0.39, 0.4, 0.6, 0.61], join: 'add' })
    const stroke = {
      place: { layerId: 'paint', term: null },
      brush: { tip: 'hardRound', seed: 1, params: { ...BRUSH_DEFAULTS, size: 280, flow: 1, whole: 1 } },
      act: { kind: 'paint' as const, rgb: [1, 0, 0] as [number, number, number] },
      within: { ...newMask(), terms: [bright] },
      mirrors: { x: null, y: null },
      seed: 1,
    }
    desk.begin(1, stroke, sheet)
    desk.add(1, [{ x: 150, y: 140, pressure: 1, tiltX: 0, tiltY: 0, twist: 0, at: 0 }])
    const made = new Map((await desk.end(1, null)).map(({ place, bytes }) => [place, bytes]))
    const alphaAt = (x: number, y: number) => {
      const bytes = made.get(`${Math.floor(x / TILE)},${Math.floor(y / TILE)}`)
      return bytes ? new Uint16Array(bytes.buffer)[inBlocks((y % TILE) * TILE + (x % TILE), 3)] / 65535 : 0
    }
    expect(alphaAt(150, 140)).toBeGreaterThan(0.95)
    for (const x of [60, 105, 195, 240]) expect(alphaAt(x, 140)).toBe(0)
    desk.forget(1)
  })
})
