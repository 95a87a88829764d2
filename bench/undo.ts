import { cpus } from 'node:os'
import { documentChanges } from '@/core/document-changes'
import { seededRandom } from '@/core/math/sampling'
import { hashBytes } from '@/core/math/stable-hash'
import { BLEND_MODES } from '@/core/sheet/blend-modes'
import { KeptTiles } from '@/core/sheet/evaluate/kept-tiles'
import { planSheet } from '@/core/sheet/evaluate/plan-sheet'
import { SheetEvaluator } from '@/core/sheet/evaluate/sheet-evaluator'
import { tileOrder } from '@/core/sheet/evaluate/view-window'
import { emptyWindow, paintInWindow } from '@/core/sheet/evaluate/window-pixels'
import { patchedSheet } from '@/core/sheet/patch-sheet'
import type { Sheet } from '@/core/sheet/sheet-schema'
import { testResources, testSheet } from '@/core/sheet/testing/sheets'
import { manyLayers } from './reference/bench-sheet'

const STEPS = 200
/** As the proof of a sheet of 1280 × 800 is seen on a screen of that size. */
const VIEW = { width: 797, height: 498 }

/** Two hundred edits of a sheet of sixty layers, taken back one by one: from the patch to the pixels, on one thread. */
export function main(): void {
  console.log(
    `machine: ${cpus()[0].model}, Node ${process.version}; one thread, ${VIEW.width} × ${VIEW.height}`,
  )
  const { layers: all, pictures } = manyLayers()
  const resources = testResources(pictures)
  const random = seededRandom(9)
  const states: Sheet[] = [testSheet({ width: 1280, height: 800 }, all, { background: '#f4efe6' })]
  for (let i = 0; i < STEPS; i++) {
    const before = states[i]
    const ids = Object.keys(before.nodes)
    const id = ids[Math.floor(random() * ids.length)]
    const node = before.nodes[id]
    const kind = Math.floor(random() * 3)
    const next =
      kind === 0
        ? { ...node, opacity: Math.round(100 * random()) / 100 }
        : kind === 1
          ? { ...node, mode: BLEND_MODES[Math.floor(random() * BLEND_MODES.length)] }
          : { ...node, visible: !node.visible }
    states.push({ ...before, nodes: { ...before.nodes, [id]: next } })
  }
  const evaluator = new SheetEvaluator(new KeptTiles(), resources)
  const pixels = emptyWindow({ x: 0, y: 0, ...VIEW }, false)
  const { columns, rows } = tileOrder(pixels.window, pixels.window)
  const paint = (sheet: Sheet): void => {
    evaluator.tiles.tick()
    evaluator.begin(planSheet(sheet, { size: VIEW }, resources), 'view')
    columns.forEach((tx, i) => paintInWindow(evaluator, pixels, tx, rows[i]))
    evaluator.tiles.shrinkTo(320 * 2 ** 20)
  }
  // Forth, as a hand does it: what is seen after each edit is noted.
  const seen: string[] = []
  let held = structuredClone(states[0])
  for (let i = 0; i <= STEPS; i++) {
    if (i > 0) held = patchedSheet(held, structuredClone(documentChanges(states[i - 1], states[i])))
    paint(held)
    seen.push(hashBytes(pixels.rgba))
  }
  const times: number[] = []
  let same = 0
  for (let i = STEPS; i > 0; i--) {
    const changes = structuredClone(documentChanges(states[i], states[i - 1]))
    const start = performance.now()
    held = patchedSheet(held, changes)
    paint(held)
    times.push(performance.now() - start)
    if (hashBytes(pixels.rgba) === seen[i - 1]) same++
  }
  times.sort((a, b) => a - b)
  console.log(
    `${Object.keys(states[0].nodes).length} layers, ${STEPS} steps back: ${times[STEPS >> 1].toFixed(1)} ms in the middle, ` +
      `${times[Math.floor(0.95 * STEPS)].toFixed(1)} ms of the 95th in a hundred, ${times[STEPS - 1].toFixed(1)} ms at most; ${same} of ${STEPS} the same bits`,
  )
}
