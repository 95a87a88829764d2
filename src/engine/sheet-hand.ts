import { KeptTiles } from '@/core/sheet/evaluate/kept-tiles'
import { planSheet } from '@/core/sheet/evaluate/plan-sheet'
import { SheetEvaluator } from '@/core/sheet/evaluate/sheet-evaluator'
import { paintInWindow } from '@/core/sheet/evaluate/window-pixels'
import { patchedSheet } from '@/core/sheet/patch-sheet'
import type { Sheet } from '@/core/sheet/sheet-schema'
import { CONTROL, type ToHand } from './sheet-hands'
import { SheetStore } from './sheet-store'

/** Paints tiles beside the sheet worker, over the same memory: it takes the next that nobody has taken. */

const store = new SheetStore()
let evaluator: SheetEvaluator | null = null
let sheet: Sheet | null = null
let control: Int32Array = new Int32Array(8)

function paint({ view, series, pixels, order }: Extract<ToHand, { type: 'paint' }>): void {
  if (!evaluator || !sheet) return
  evaluator.begin(planSheet(sheet, view, store.resources), series)
  for (;;) {
    const tile = Atomics.add(control, CONTROL.next, 1)
    if (tile >= order.seen) return
    paintInWindow(evaluator, pixels, order.columns[tile], order.rows[tile])
  }
}

self.onmessage = ({ data }: MessageEvent<ToHand>) => {
  switch (data.type) {
    case 'begin':
      control = data.control
      evaluator = new SheetEvaluator(new KeptTiles(data.memory, false), store.resources)
      self.postMessage('ready')
      return
    case 'pass':
      if (data.pass) store.passes.set(data.passId, data.pass)
      else store.passes.delete(data.passId)
      return
    case 'picture':
      if (data.picture) store.pictures.set(data.pictureId, data.picture)
      else store.pictures.delete(data.pictureId)
      return
    case 'sheet':
      sheet = data.sheet
      return
    case 'patch':
      if (sheet) sheet = patchedSheet(sheet, data.changes)
      return
    case 'paint':
      try {
        paint(data)
      } catch {
        // The sheet worker then paints alone, and tells of what is wrong.
        Atomics.store(control, CONTROL.failed, 1)
      }
      Atomics.sub(control, CONTROL.working, 1)
      Atomics.notify(control, CONTROL.working)
  }
}
