import { describe, expect, it } from 'vitest'
import { TILE } from '../../picture/tile-form'
import type { Sheet } from '../sheet-schema'
import { evenFill, wholePicture as pictureOf } from '../new-layer'
import { effect, noise, randomEdit, randomSheet, resources, SIZE } from '../testing/random-sheet'
import { testLayer, testResources, testSheet } from '../testing/sheets'
import { KeptTiles } from './kept-tiles'
import { wholePicture } from './picture-rows'
import { planSheet } from './plan-sheet'
import { SheetEvaluator } from './sheet-evaluator'
import { tileOrder, type ViewWindow } from './view-window'
import { emptyWindow, isWholePicture, paintInWindow, takeFresh, takeOver } from './window-pixels'

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
