import { KeptTiles } from '@/core/sheet/evaluate/kept-tiles'
import { writeTile } from '@/core/sheet/evaluate/picture-rows'
import { planSheet } from '@/core/sheet/evaluate/plan-sheet'
import { SheetEvaluator } from '@/core/sheet/evaluate/sheet-evaluator'
import { TILE, tileGrid } from '@/core/picture/tile-form'
import { CONTROL, type ToHand } from './sheet-hands'
import { SheetStore } from './sheet-store'

/** Paints tiles beside the sheet worker, over the same memory: it takes the next that nobody has taken. */

const store = new SheetStore()
let evaluator: SheetEvaluator | null = null
let control: Int32Array = new Int32Array(8)

function paint({ sheet, view, series, output }: Extract<ToHand, { type: 'paint' }>): void {
  const own = evaluator
  if (!own) return
  const { across, down } = tileGrid(view.size.width, view.size.height)
  own.begin(planSheet(sheet, view, store.resources), series)
  for (;;) {
    const tile = Atomics.add(control, CONTROL.next, 1)
    if (tile >= across * down) return
    const [tx, ty] = [tile % across, Math.floor(tile / across)]
    const row = output.subarray(4 * ty * TILE * view.size.width)
    own.tile(tx, ty, (at) => writeTile(own, tx, ty, at, 'bytes', row, view.size.width))
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
