import { cpus } from 'node:os'
import { seededRandom } from '@/core/math/sampling'
import { BRUSH_DEFAULTS } from '@/core/paint/brush'
import { withLivePaint, type LivePaint } from '@/core/paint/live-paint'
import { LAYER_TILE_BYTES } from '@/core/paint/cut-paint'
import type { PenSample } from '@/core/paint/stroke-walker'
import { findTip } from '@/core/paint/tips/registry'
import { KeptTiles } from '@/core/sheet/evaluate/kept-tiles'
import { planSheet } from '@/core/sheet/evaluate/plan-sheet'
import { SheetEvaluator } from '@/core/sheet/evaluate/sheet-evaluator'
import { tileOrder } from '@/core/sheet/evaluate/view-window'
import { emptyWindow, paintInWindow } from '@/core/sheet/evaluate/window-pixels'
import { testLayer, testSheet } from '@/core/sheet/testing/sheets'
import { SheetStore } from '@/engine/sheet-store'
import { StrokeDesk } from '@/engine/stroke-desk'
import { benchLayers, withEffects } from './reference/bench-sheet'

/** The painted layer, and the proof that it is seen in. */
const SHEET = { width: 4096, height: 4096 }
const VIEW = { width: 498, height: 498 }
/** What a pen tells in a second. */
const RATE = 240
const SECONDS = 3
/** Pictures a second. */
const PICTURES = 60

/**
 * A textured tip on a painted layer of 4096² under twenty layers with six effects, one thread: recorded strokes of three
 * seconds; what the pen tells in a sixtieth of a second is painted and shown at once.
 */
export function main(): void {
  console.log(
    `machine: ${cpus()[0].model}, Node ${process.version}; one thread, a proof of ${VIEW.width} × ${VIEW.height}`,
  )
  const { layers, pictures } = benchLayers()
  const content = { kind: 'painted', version: 1, ...SHEET, tiles: {} } as const
  const base = withEffects(
    testSheet(SHEET, [testLayer('paint', { content }), ...layers], { background: '#f4efe6' }),
    6,
  )
  const store = new SheetStore()
  for (const [id, picture] of Object.entries(pictures)) store.pictures.set(id, { picture, revision: 1 })
  for (const [tip, size] of [
    ['chalk', 200],
    ['softRound', 200],
    ['chalk', 1000],
  ] as const) {
    const tiles = new KeptTiles()
    let live: readonly LivePaint[] = []
    const desk = new StrokeDesk(tiles, store.resources, (now) => (live = now))
    const evaluator = new SheetEvaluator(tiles, store.resources)
    const pixels = emptyWindow({ x: 0, y: 0, ...VIEW }, false)
    const { columns, rows } = tileOrder(pixels.window, pixels.window)
    const show = (sheet = withLivePaint(base, live)) => {
      tiles.tick()
      evaluator.begin(planSheet(sheet, { size: VIEW }, store.resources), 'view')
      columns.forEach((tx, i) => paintInWindow(evaluator, pixels, tx, rows[i]))
      tiles.shrinkTo(320 * 2 ** 20)
    }
    show()
    const params = { ...BRUSH_DEFAULTS, ...findTip(tip)?.brush, size }
    desk.begin(
      1,
      {
        place: { layerId: 'paint', term: null },
        brush: { tip, seed: 1, params },
        act: { kind: 'paint', rgb: [0.8, 0.4, 0.2] },
        within: null,
        mirrors: { x: null, y: null },
        seed: 1,
      },
      base,
    )
    const random = seededRandom(3)
    const [phase, turn] = [6 * random(), 1 + random()]
    const at = (i: number): PenSample => {
      const t = i / RATE
      return {
        x: 2048 + 1500 * Math.cos(turn * t + phase),
        y: 2048 + 1500 * Math.sin(1.7 * turn * t),
        pressure: 0.5 + 0.4 * Math.sin(3 * t),
        tiltX: 0,
        tiltY: 0,
        twist: 0,
        at: 1000 * t,
      }
    }
    const pressing: number[] = []
    const shown: number[] = []
    const each = RATE / PICTURES
    for (let i = 0; i < RATE * SECONDS; i += each) {
      const start = performance.now()
      desk.add(
        1,
        Array.from({ length: each }, (_, k) => at(i + k)),
      )
      const pressed = performance.now()
      show()
      pressing.push(pressed - start)
      shown.push(performance.now() - start)
    }
    const place = (values: number[], share: number) =>
      [...values].sort((a, b) => a - b)[Math.floor(share * (values.length - 1))].toFixed(1)
    const touched = Object.keys(live[0]?.tiles ?? {}).length
    console.log(
      `${tip}, ${size} px: from ${each} moments of a pen to the changed proof ${place(shown, 0.5)} ms in the middle, ${place(shown, 0.95)} of the 95th in a hundred, ` +
        `${place(shown, 1)} at most; of that pressing ${place(pressing, 0.5)} and ${place(pressing, 0.95)} ms; ${touched} of ${32 * 32} tiles touched`,
    )
    // Taken back and done again, as a history of documents does it.
    const painted = withLivePaint(base, live)
    const undone: number[] = []
    for (let i = 0; i < 40; i++) {
      const start = performance.now()
      show(i % 2 ? painted : base)
      undone.push(performance.now() - start)
    }
    const share = touched / (32 * 32)
    console.log(
      `  taken back or done again ${place(undone, 0.5)} ms in the middle, ${place(undone, 0.95)} of the 95th in a hundred; ` +
        `${(100 * share).toFixed(1)} % of its tiles take ${((touched * LAYER_TILE_BYTES) / 2 ** 20).toFixed(0)} of ${((32 * 32 * LAYER_TILE_BYTES) / 2 ** 20).toFixed(0)} MB`,
    )
    desk.forget(1)
  }
}
