import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { KeptTiles } from '@/core/sheet/evaluate/kept-tiles'
import { wholePicture } from '@/core/sheet/evaluate/picture-rows'
import { planSheet } from '@/core/sheet/evaluate/plan-sheet'
import { SheetEvaluator } from '@/core/sheet/evaluate/sheet-evaluator'
import type { ViewWindow } from '@/core/sheet/evaluate/view-window'
import { emptyWindow } from '@/core/sheet/evaluate/window-pixels'
import { BRUSH_DEFAULTS } from '@/core/paint/brush'
import type { PenSample } from '@/core/paint/stroke-walker'
import { testLayer, testSheet } from '@/core/sheet/testing/sheets'
import type { Sheet } from '@/core/sheet/sheet-schema'
import { randomEdit, randomSheet, resources } from '@/core/sheet/testing/random-sheet'
import { documentChanges } from '@/core/document-changes'
import type { SpawnHand } from './sheet-hands'
import { SheetPainter, type ViewRequest } from './sheet-painter'
import { DraftPace } from './draft-pace'
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
    surface: { put: (_, put) => void parts.push(put.length), enlarge: () => [] },
    pace: new DraftPace(),
    drafts: new Map(),
    isNew: true,
    resumeAt: 0,
  }
  return { view, parts }
}
const asked = (rest: Partial<ViewRequest> = {}): ViewRequest => ({
  series: 'view 0',
  seen: WHOLE,
  upTo: 99,
  beside: null,
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

describe('a view while a hand moves', () => {
  /** A view that is shown at half the size while a hand moves. */
  const halfView = () => {
    const pace = new DraftPace()
    vi.spyOn(pace, 'next').mockImplementation((isDraft) => (isDraft ? 2 : 1))
    const enlarged: number[] = []
    const own = viewOf()
    const surface = {
      put: own.view.surface.put,
      enlarge: (_: unknown, parts: readonly ViewWindow[]) => {
        enlarged.push(parts.length)
        return parts.map(({ x, y, width, height }) => ({
          x: 2 * x,
          y: 2 * y,
          width: 2 * width,
          height: 2 * height,
        }))
      },
    }
    return { view: { ...own.view, pace, surface }, parts: own.parts, enlarged }
  }

  it('is coarse, the same bits with hands as without, and fine again at rest', async () => {
    const sheet = sheetOf(7)
    const coarse: Buffer[] = []
    for (const spawn of [null, inThreadHands()]) {
      const painter = await painterOf(sheet, spawn)
      const { view, parts, enlarged } = halfView()
      await painter.show(view, asked())
      const shown = parts.length
      await painter.show(view, asked({ isDraft: true }))
      expect(enlarged.length).toBeGreaterThan(0)
      const draft = view.drafts.get(2)
      expect(draft?.pixels.window).toMatchObject({ width: SIZE.width / 2, height: SIZE.height / 2 })
      coarse.push(Buffer.from(draft?.pixels.rgba ?? []))
      expect(painter.hasAround(view, asked({ isDraft: true }))).toBe(false)
      // Nothing of the sheet changed: the fine picture is put back as it was.
      await painter.show(view, asked())
      expect(parts.length).toBeGreaterThan(shown)
      expect(Buffer.from(view.pixels.rgba).equals(alone(sheet))).toBe(true)
    }
    expect(coarse[0].equals(coarse[1])).toBe(true)
    expect(coarse[0].some((v) => v > 0)).toBe(true)
  })
})

describe('a stroke on a view', () => {
  const content = { kind: 'painted', version: 1, ...SIZE, tiles: {} } as const
  const pen = (x: number, y: number): PenSample => ({
    ...{ x, y, pressure: 1, tiltX: 0, tiltY: 0, twist: 0 },
    at: x,
  })

  it('is seen while it is painted, the same with hands as without, and as the document has it afterwards', async () => {
    const below = sheetOf(8)
    const layer = testLayer('paint', { content })
    const sheet = { ...below, roots: [...below.roots, 'paint'], nodes: { ...below.nodes, paint: layer } }
    const seen: Buffer[][] = []
    for (const spawn of [null, inThreadHands()]) {
      const painter = await painterOf(sheet, spawn)
      const { desk } = painter
      const { view } = viewOf()
      const look = async () => {
        await painter.show(view, asked())
        return Buffer.from(view.pixels.rgba)
      }
      const own = [await look()]
      desk.begin(
        1,
        {
          place: { layerId: 'paint', term: null },
          brush: { tip: 'hardRound', seed: 1, params: { ...BRUSH_DEFAULTS, size: 50 } },
          act: { kind: 'paint', rgb: [1, 0, 0] },
          within: null,
          mirrors: { x: null, y: null },
          seed: 1,
        },
        painter.document,
      )
      desk.add(1, [pen(60, 60), pen(200, 90)])
      own.push(await look())
      desk.add(1, [pen(350, 200)])
      const tiles = await desk.end(1, null)
      for (const { name, bytes } of tiles) if (name !== null && bytes) painter.takePaint(name, bytes)
      desk.settle(1, tiles)
      own.push(await look())
      // The document is told, and the desk forgets.
      const named = Object.fromEntries(
        tiles.flatMap(({ place, name }) => (name === null ? [] : [[place, name]])),
      )
      const now = {
        ...sheet,
        nodes: { ...sheet.nodes, paint: { ...layer, content: { ...content, tiles: named } } },
      }
      painter.patchSheet(structuredClone(documentChanges(sheet, now)))
      desk.forget(1)
      own.push(await look())
      expect(own[3].equals(own[2])).toBe(true)
      expect(own[1].equals(own[0])).toBe(false)
      expect(own[2].equals(own[1])).toBe(false)
      seen.push(own)
    }
    seen[0].forEach((picture, i) => expect(picture.equals(seen[1][i]), `picture ${i}`).toBe(true))
  })

  it('that is forgotten was never there, and paints nothing where there is nothing to paint on', async () => {
    const painter = await painterOf({ ...testSheet(SIZE, [testLayer('paint', { content })]) }, null)
    const { desk } = painter
    const of = {
      place: { layerId: 'paint', term: null },
      brush: { tip: 'chalk', seed: 1, params: BRUSH_DEFAULTS },
      act: { kind: 'paint', rgb: [1, 0, 0] },
      within: null,
      mirrors: { x: null, y: null },
      seed: 1,
    } as const
    const { view } = viewOf()
    await painter.show(view, asked())
    const before = Buffer.from(view.pixels.rgba)
    desk.begin(1, { ...of, act: { kind: 'paint', rgb: [1, 0, 0] } }, painter.document)
    desk.add(1, [pen(60, 60), pen(300, 90)])
    desk.forget(1)
    await painter.show(view, asked())
    expect(Buffer.from(view.pixels.rgba).equals(before)).toBe(true)
    expect(await desk.end(1, null)).toEqual([])
    const gone = { ...of, place: { layerId: 'gone', term: null }, act: { kind: 'erase' } } as const
    expect(() => desk.begin(2, gone, painter.document)).toThrow('gone')
    const mask = { ...of, act: { kind: 'mask', value: 0 } } as const
    expect(() => desk.begin(3, mask, painter.document)).toThrow('paint')
  })
})
