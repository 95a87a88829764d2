import { describe, expect, it } from 'vitest'
import { TILE } from '../../picture/tile-form'
import type { RgbaPicture } from '../../picture/rgba-picture'
import type { Sheet } from '../sheet-schema'
import { evenFill, wholePicture as pictureOf } from '../new-layer'
import { effect, noise, randomEdit, randomSheet, resources, SIZE } from '../testing/random-sheet'
import { testLayer, testResources, testSheet } from '../testing/sheets'
import { KeptTiles } from './kept-tiles'
import { wholePicture } from './picture-rows'
import { planSheet } from './plan-sheet'
import { coarser, type Coarseness } from './sheet-plan'
import { SheetEvaluator } from './sheet-evaluator'
import { coarserWindow, tileOrder, type ViewWindow } from './view-window'
import {
  cover,
  emptyWindow,
  isWholePicture,
  paintInWindow,
  takeFresh,
  takeOver,
  type WindowPixels,
} from './window-pixels'

const WHOLE = { x: 0, y: 0, ...SIZE }
const evaluatorOf = (sheet: Sheet, own = new SheetEvaluator(new KeptTiles(), resources)) => {
  own.begin(planSheet(sheet, { size: SIZE }, resources), 'view')
  return own
}
function paintAll(evaluator: SheetEvaluator, pixels: ReturnType<typeof emptyWindow>): void {
  const { columns, rows } = tileOrder(pixels.window, pixels.window)
  columns.forEach((tx, i) => paintInWindow(evaluator, pixels, tx, rows[i]))
}
const fresh = (sheet: Sheet): Buffer => Buffer.from(wholePicture(evaluatorOf(sheet), SIZE, 'bytes'))

describe('a window that follows a sheet', () => {
  it('shows after any edit of anything what the sheet shows, however little of it was painted', () => {
    let [painted, all] = [0, 0]
    for (let seed = 1; seed <= 5; seed++) {
      let sheet = randomSheet(seed)
      const evaluator = evaluatorOf(sheet)
      const pixels = emptyWindow(WHOLE, false)
      paintAll(evaluator, pixels)
      for (let step = 0; step < 14; step++) {
        sheet = randomEdit(sheet, 100 * seed + step)
        takeFresh(pixels)
        paintAll(evaluatorOf(sheet, evaluator), pixels)
        painted += pixels.fresh.reduce((sum, v) => sum + v, 0)
        all += pixels.fresh.length
        expect(Buffer.from(pixels.rgba).equals(fresh(sheet)), `seed ${seed}, step ${step}`).toBe(true)
      }
    }
    // Names, what is hidden and what nobody sees are among the edits.
    expect(painted).toBeLessThan(0.8 * all)
    expect(painted).toBeGreaterThan(0)
  })
  it('is painted anew only where a layer has pixels, and nowhere beneath an opaque one', () => {
    const spot = noise(5)
    for (let p = 0; p < spot.pixels.length / 4; p++)
      if (p % SIZE.width >= 20 || p / SIZE.width >= 20) spot.pixels[4 * p + 3] = 0
    const own = testResources({ spot })
    const base = testLayer('base', { content: evenFill('#808080') })
    const over = testLayer('over', { content: pictureOf('spot') })
    const cover = testLayer('cover', { content: evenFill('#102030') })
    const shows = (layers: Parameters<typeof testSheet>[1], to: typeof layers): number => {
      const evaluator = new SheetEvaluator(new KeptTiles(), own)
      const pixels = emptyWindow(WHOLE, false)
      for (const sheet of [testSheet(SIZE, layers), testSheet(SIZE, to)]) {
        takeFresh(pixels)
        evaluator.begin(planSheet(sheet, { size: SIZE }, own))
        paintAll(evaluator, pixels)
      }
      return pixels.fresh.reduce((sum, v) => sum + v, 0)
    }
    const fainter = { ...over, opacity: 0.5 }
    expect(shows([base, over], [base, fainter])).toBe(1)
    expect(shows([base, over, cover], [base, fainter, cover])).toBe(0)
    // A blur carries it further.
    const blurred = (layer: typeof over) => ({ ...layer, effects: [effect('gaussianBlur', { sigma: 60 })] })
    expect(shows([base, blurred(over)], [base, blurred(fainter)])).toBe(4)
  })
})

describe('a part of a picture', () => {
  it('has the pixels of the whole, and keeps what it has in common with the part before', () => {
    const size = { width: 3 * TILE + 40, height: 2 * TILE + 17 }
    const sheet = { ...randomSheet(3), ...size }
    const evaluator = new SheetEvaluator(new KeptTiles(), resources)
    evaluator.begin(planSheet(sheet, { size }, resources))
    const whole = wholePicture(evaluator, size, 'bytes')
    const isPart = ({ x, y, width, height }: ViewWindow, rgba: Uint8Array): boolean =>
      Array.from({ length: height }, (_, row) => {
        const at = 4 * ((y + row) * size.width + x)
        return Buffer.from(rgba.subarray(4 * row * width, 4 * (row + 1) * width)).equals(
          whole.subarray(at, at + 4 * width),
        )
      }).every(Boolean)
    const first = emptyWindow({ x: 0, y: TILE, width: 2 * TILE, height: TILE + 17 }, true)
    paintAll(evaluator, first)
    expect(isPart(first.window, first.rgba)).toBe(true)
    const next = emptyWindow({ x: TILE, y: 0, width: 2 * TILE + 40, height: size.height }, true)
    takeOver(first, next)
    const taken = next.fresh.reduce((sum, v) => sum + v, 0)
    expect(taken).toBe(2)
    expect(takeFresh(next)).toHaveLength(2)
    paintAll(evaluator, next)
    expect(next.fresh.reduce((sum, v) => sum + v, 0)).toBe(next.fresh.length - taken)
    expect(isPart(next.window, next.rgba)).toBe(true)
    expect(isWholePicture(next, size)).toBe(false)
    // Most of it: all of it at once.
    expect(takeFresh(next)).toEqual([{ x: 0, y: 0, width: next.window.width, height: next.window.height }])
    expect(takeFresh(next)).toEqual([])
  })
})

describe('a coarser picture', () => {
  const size = { width: 2 * TILE + 90, height: TILE + 75 }
  const bytesOf = (evaluator: SheetEvaluator, sheet: Sheet, coarse: Coarseness) => {
    evaluator.begin(planSheet(sheet, { size, coarse, isDraft: true }, resources))
    return wholePicture(evaluator, coarser(size, coarse), 'bytes')
  }
  /** Means of coarse × coarse pixels of an opaque picture. */
  const means = (fine: ArrayLike<number>, coarse: number): number[] => {
    const { width, height } = coarser(size, coarse as Coarseness)
    return Array.from({ length: 4 * width * height }, (_, i) => {
      const [x, y] = [(i >> 2) % width, Math.floor((i >> 2) / width)]
      let sum = 0
      for (let dy = 0; dy < coarse; dy++)
        for (let dx = 0; dx < coarse; dx++)
          sum += fine[4 * ((coarse * y + dy) * size.width + coarse * x + dx) + (i & 3)]
      return sum / coarse ** 2
    })
  }
  const opaque = (seed: number): RgbaPicture => {
    const picture = { ...noise(seed), ...size, pixels: new Float32Array(4 * size.width * size.height) }
    const values = noise(seed).pixels
    for (let i = 0; i < picture.pixels.length; i++)
      picture.pixels[i] = i % 4 === 3 ? 1 : values[(7 * i) % values.length]
    return picture
  }
  const resources = testResources({ a: opaque(1), b: opaque(2) })
  // What is opaque averages as its layers do.
  const base = testLayer('base', { content: pictureOf('a') })
  const over = testLayer('over', { content: pictureOf('b'), opacity: 0.6 })
  const sheet = { ...testSheet(size, [base, over], { background: '#405060' }), ...size }

  it('is the mean of the fine one, made of its tiles where they are at hand', () => {
    const evaluator = new SheetEvaluator(new KeptTiles(), resources)
    const fine = bytesOf(evaluator, sheet, 1)
    for (const coarse of [2, 4] as const) {
      const found = bytesOf(evaluator, sheet, coarse)
      const expected = means(fine, coarse)
      expect(Math.max(...expected.map((v, i) => Math.abs(v - found[i])))).toBeLessThan(1.01)
    }
    // A quarter of the size, where half of it was never asked for.
    const alone = new SheetEvaluator(new KeptTiles(), resources)
    bytesOf(alone, sheet, 1)
    expect(bytesOf(alone, sheet, 4)).toEqual(bytesOf(evaluator, sheet, 4))
  })

  it('counts colours by their alpha, and never what lies beyond the border', () => {
    const clear: RgbaPicture = { ...size, pixels: new Float32Array(4 * size.width * size.height) }
    for (let p = 0; p < size.width * size.height; p++)
      clear.pixels.set(p % 2 === 0 ? [0.9, 0.5, 0.1, 1] : [0, 1, 0, 0], 4 * p)
    const own = testResources({ clear })
    const alone = testSheet(size, [testLayer('l', { content: pictureOf('clear') })], {
      background: '#00000000',
    })
    const evaluator = new SheetEvaluator(new KeptTiles(), own)
    for (const coarse of [1, 2] as const) {
      evaluator.begin(planSheet(alone, { size, coarse }, own))
      const small = wholePicture(evaluator, coarser(size, coarse), 'bytes')
      if (coarse === 1) continue
      for (let i = 0; i < small.length; i += 4)
        expect([...small.slice(i, i + 4)], `at ${i / 4}`).toEqual([230, 128, 26, 128])
    }
  })

  it('is painted from nothing as it is from tiles: nearly the same', () => {
    const worked = {
      ...sheet,
      nodes: {
        ...sheet.nodes,
        over: { ...sheet.nodes.over, effects: [effect('gaussianBlur', { sigma: 6 })] },
      },
    }
    const evaluator = new SheetEvaluator(new KeptTiles(), resources)
    const expected = means(bytesOf(evaluator, worked, 1), 2)
    const found = bytesOf(new SheetEvaluator(new KeptTiles(), resources), worked, 2)
    const mean = expected.reduce((sum, v, i) => sum + Math.abs(v - found[i]), 0) / expected.length
    // The noise beneath is resampled, not averaged: it is grey to within a few values.
    expect(mean).toBeLessThan(8)
  })

  it('lies over the fine one until that is wanted again', () => {
    const evaluator = new SheetEvaluator(new KeptTiles(), resources)
    const window = { x: 0, y: 0, ...size }
    const fine = emptyWindow(window, false)
    const own = emptyWindow(coarserWindow(window, 2, coarser(size, 2)), false)
    const show = (pixels: WindowPixels, coarse: Coarseness) => {
      evaluator.begin(planSheet(sheet, { size, coarse }, resources))
      paintAll(evaluator, pixels)
      return takeFresh(pixels)
    }
    expect(show(fine, 1)).toHaveLength(1)
    const parts = show(own, 2).map(({ x, y, width, height }) => ({
      x: 2 * x,
      y: 2 * y,
      width: 2 * width,
      height: 2 * height,
    }))
    cover(fine, parts)
    expect(fine.covered.every((v) => v === 1)).toBe(true)
    // Nothing of it changed, and all of it is shown again.
    expect(show(fine, 1)).toEqual([window])
    expect(fine.covered.every((v) => v === 0)).toBe(true)
    expect(show(fine, 1)).toEqual([])
  })

  it('has a window of whole tiles about the fine one', () => {
    expect(
      coarserWindow({ x: 3 * TILE, y: TILE, width: 5 * TILE, height: 300 }, 2, { width: 700, height: 260 }),
    ).toEqual({
      x: TILE,
      y: 0,
      width: 3 * TILE,
      height: 256,
    })
    expect(coarserWindow({ x: 0, y: 0, width: 1401, height: 521 }, 2, { width: 700, height: 260 })).toEqual({
      x: 0,
      y: 0,
      width: 700,
      height: 260,
    })
  })
})
