import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { KeptTiles } from '@/core/sheet/evaluate/kept-tiles'
import { wholePicture } from '@/core/sheet/evaluate/picture-rows'
import { planSheet } from '@/core/sheet/evaluate/plan-sheet'
import { SheetEvaluator } from '@/core/sheet/evaluate/sheet-evaluator'
import { emptyWindow } from '@/core/sheet/evaluate/window-pixels'
import type { Sheet } from '@/core/sheet/sheet-schema'
import { randomEdit, randomSheet, resources } from '@/core/sheet/testing/random-sheet'
import { documentChanges } from '@/core/document-changes'
import type { SpawnHand } from './sheet-hands'
import { SheetPainter, type ViewRequest } from './sheet-painter'
import type { ShownView } from './sheet-view'
import { inThreadHands } from './testing/in-thread-hands'

const SIZE = { width: 4 * 128 + 40, height: 3 * 128 + 20 }
const WHOLE = { x: 0, y: 0, ...SIZE }

beforeEach(() => void vi.stubGlobal('navigator', { hardwareConcurrency: 2 }))
afterEach(() => {
  vi.unstubAllGlobals()
  vi.restoreAllMocks()
})

/** A view on a canvas that notes what it was shown. */
function viewOf(window = WHOLE) {
  const parts: number[] = []
  const view: ShownView = {
    size: SIZE,
    pixels: emptyWindow(window, true),
    canvas: null as never,
    surface: { put: (_, put) => void parts.push(put.length) },
    isNew: true,
    resumeAt: 0,
  }
  return { view, parts }
}
const asked = (rest: Partial<ViewRequest> = {}): ViewRequest => ({
  series: 'view 0',
  seen: WHOLE,
  upTo: 99,
  without: null,
  isDraft: false,
  isStale: () => false,
  ...rest,
})
async function painterOf(sheet: Sheet, spawn: SpawnHand | null) {
  const painter = new SheetPainter(spawn, () => Promise.resolve())
  painter.takeSheet(sheet)
  for (const id of ['a', 'b', 'soft']) {
    const picture = resources.picture(id)
    if (picture) painter.takePicture(id, { picture, revision: 1 })
  }
  // The first picture is painted alone: the hands are called for it, and come.
  await painter.show(viewOf().view, asked())
  await new Promise((resolve) => setTimeout(resolve))
  return painter
}
function alone(sheet: Sheet): Buffer {
  const evaluator = new SheetEvaluator(new KeptTiles(), resources)
  evaluator.begin(planSheet(sheet, { size: SIZE }, resources))
  return Buffer.from(wholePicture(evaluator, SIZE, 'bytes'))
}
const sheetOf = (seed: number): Sheet => ({ ...randomSheet(seed), ...SIZE })

describe('a view', () => {
  it('is the same bits with hands as without, through edits that all threads follow by patches', async () => {
    let sheet = sheetOf(3)
    let told = 0
    const painter = await painterOf(
      sheet,
      inThreadHands((message) => void (told += message.type === 'paint' ? 1 : 0)),
    )
    const { view, parts } = viewOf()
    for (let step = 0; step < 6; step++) {
      expect(await painter.show(view, asked())).toBe(true)
      expect(Buffer.from(view.pixels.rgba).equals(alone(sheet)), `step ${step}`).toBe(true)
      const next = randomEdit(sheet, 40 + step)
      painter.patchSheet(structuredClone(documentChanges(sheet, next)))
      sheet = next
    }
    expect(told).toBe(6)
    expect(parts.length).toBeGreaterThan(0)
  })
  it('is whole when a hand fails in the middle', async () => {
    const sheet = sheetOf(4)
    const painter = await painterOf(
      sheet,
      inThreadHands((message) => {
        // As if its memory were gone.
        if (message.type === 'paint')
          Object.assign(message, {
            pixels: { ...message.pixels, rgba: new Uint8Array(new SharedArrayBuffer(4)) },
          })
      }),
    )
    const { view } = viewOf()
    expect(await painter.show(view, asked())).toBe(true)
    expect(Buffer.from(view.pixels.rgba).equals(alone(sheet))).toBe(true)
  })
  it('is ended by a newer request once it has taken long, shows what it has, and the next begins where it ended', async () => {
    const sheet = sheetOf(5)
    const painter = await painterOf(sheet, null)
    const { view, parts } = viewOf()
    let now = 0
    vi.spyOn(performance, 'now').mockImplementation(() => (now += 30))
    expect(await painter.show(view, asked({ isStale: () => true }))).toBe(false)
    vi.restoreAllMocks()
    expect(view.resumeAt).toBeGreaterThan(0)
    expect(view.resumeAt).toBeLessThan(20)
    expect(parts.length).toBeGreaterThan(0)
    // What stands already is not painted again: a mark on it stays.
    const { rgba, names } = view.pixels
    const corners = Array.from({ length: names.length / 2 }, (_, i) => i)
      .filter((i) => names[2 * i] !== 0)
      .map((i) => 4 * (Math.floor(i / 5) * 128 * SIZE.width + (i % 5) * 128))
    expect(corners).toHaveLength(view.resumeAt)
    const stood = corners.map((at) => rgba[at])
    corners.forEach((at) => (rgba[at] ^= 255))
    expect(await painter.show(view, asked())).toBe(true)
    corners.forEach((at, i) => {
      expect(rgba[at]).toBe(stood[i] ^ 255)
      rgba[at] ^= 255
    })
    expect(view.resumeAt).toBe(0)
    expect(Buffer.from(view.pixels.rgba).equals(alone(sheet))).toBe(true)
  })
  it('paints what is seen first, and what lies around it when nothing else is to be done', async () => {
    const sheet = sheetOf(6)
    const painter = await painterOf(sheet, null)
    const { view } = viewOf()
    const request = asked({ seen: { x: 140, y: 140, width: 100, height: 100 } })
    expect(await painter.show(view, request)).toBe(true)
    const painted = () =>
      Array.from({ length: view.pixels.names.length / 2 }, (_, i) => view.pixels.names[2 * i] !== 0).filter(
        Boolean,
      ).length
    expect(painted()).toBe(1)
    expect(painter.hasAround(view, request)).toBe(true)
    let at: number | null = 0
    for (let turns = 0; at !== null; turns++) {
      expect(turns).toBeLessThan(30)
      at = painter.showAround(view, request, at)
    }
    expect(painted()).toBe(20)
    expect(Buffer.from(view.pixels.rgba).equals(alone(sheet))).toBe(true)
    expect(painter.showAround(view, asked({ isStale: () => true }), 0)).toBeNull()
    expect(painter.hasAround(view, asked())).toBe(false)
  })
})
