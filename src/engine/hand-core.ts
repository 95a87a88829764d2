import { KeptTiles } from '@/core/sheet/evaluate/kept-tiles'
import { writeTile } from '@/core/sheet/evaluate/picture-rows'
import { planSheet } from '@/core/sheet/evaluate/plan-sheet'
import { SheetEvaluator } from '@/core/sheet/evaluate/sheet-evaluator'
import { paintInWindow } from '@/core/sheet/evaluate/window-pixels'
import { patchedSheet } from '@/core/sheet/patch-sheet'
import type { Sheet } from '@/core/sheet/sheet-schema'
import { CONTROL, type ToHand } from './sheet-hands'
import { SheetStore } from './sheet-store'

type Told<K extends ToHand['type']> = Extract<ToHand, { readonly type: K }>

/** Paints tiles beside another thread, over the same memory: it takes the next that nobody has taken. */
export class HandCore {
  private readonly store = new SheetStore()
  private evaluator: SheetEvaluator | null = null
  private sheet: Sheet | null = null
  private control: Int32Array = new Int32Array(8)

  /** @param onReady told when it can paint. */
  constructor(private readonly onReady: () => void) {}

  receive(message: ToHand): void {
    switch (message.type) {
      case 'begin':
        this.control = message.control
        this.evaluator = new SheetEvaluator(new KeptTiles(message.memory, false), this.store.resources)
        return this.onReady()
      case 'pass':
        if (message.pass) this.store.passes.set(message.passId, message.pass)
        else this.store.passes.delete(message.passId)
        return
      case 'picture':
        if (message.picture) this.store.pictures.set(message.pictureId, message.picture)
        else this.store.pictures.delete(message.pictureId)
        return
      case 'sheet':
        this.sheet = message.sheet
        return
      case 'patch':
        if (this.sheet) this.sheet = patchedSheet(this.sheet, message.changes)
        return
      case 'take-up':
        return this.begin(message)
      case 'paint':
        return this.work(() => this.paint(message))
      case 'row':
        return this.work(() => this.row(message))
    }
  }

  /** Works, and tells that it is done, whatever happened: those who wait then paint what is missing, and tell what is wrong. */
  private work(paint: () => void): void {
    try {
      paint()
    } catch {
      Atomics.store(this.control, CONTROL.failed, 1)
    }
    Atomics.sub(this.control, CONTROL.working, 1)
    Atomics.notify(this.control, CONTROL.working)
  }

  private begin({ view, series }: Pick<Told<'take-up'>, 'view' | 'series'>): void {
    if (this.evaluator && this.sheet)
      this.evaluator.begin(planSheet(this.sheet, view, this.store.resources), series)
  }

  private paint({ view, series, pixels, order }: Told<'paint'>): void {
    const { evaluator } = this
    if (!evaluator || !this.sheet) return
    this.begin({ view, series })
    for (let i = this.next(); i < order.seen; i = this.next())
      paintInWindow(evaluator, pixels, order.columns[i], order.rows[i])
  }

  private row({ ty, from, to, form, width, pixels }: Told<'row'>): void {
    const { evaluator } = this
    if (!evaluator || !this.sheet) return
    for (let tx = from + this.next(); tx < to; tx = from + this.next())
      evaluator.tile(tx, ty, (at) => writeTile(evaluator, tx, ty, at, form, pixels, width))
  }

  private next(): number {
    return Atomics.add(this.control, CONTROL.next, 1)
  }
}
