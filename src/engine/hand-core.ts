import { withLivePaint, type LivePaint } from '@/core/paint/live-paint'
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
  /** The one at work under null, those of single views under their numbers. */
  private readonly sheets = new Map<number | null, Sheet>()
  private control: Int32Array = new Int32Array(8)
  private live: readonly LivePaint[] = []

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
      case 'font':
        if (message.files) this.store.fonts.set(message.fontId, message.files)
        else this.store.fonts.delete(message.fontId)
        return
      case 'sheet':
        if (message.sheet) this.sheets.set(message.beside, message.sheet)
        else this.sheets.delete(message.beside)
        return
      case 'patch': {
        const before = this.sheets.get(message.beside)
        if (before) this.sheets.set(message.beside, patchedSheet(before, message.changes))
        return
      }
      case 'paint-tile':
        if (message.words) this.store.paint.set(message.name, message.words)
        else this.store.paint.delete(message.name)
        return
      case 'live':
        this.live = message.live
        return
      case 'take-up':
        return void this.begin(message, null)
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

  /** @returns whether it has the sheet. */
  private begin({ view, series }: Pick<Told<'take-up'>, 'view' | 'series'>, beside: number | null): boolean {
    const own = this.sheets.get(beside)
    const sheet = own && beside === null ? withLivePaint(own, this.live) : own
    if (this.evaluator && sheet) this.evaluator.begin(planSheet(sheet, view, this.store.resources), series)
    return sheet !== undefined
  }

  private paint({ view, series, pixels, order, beside }: Told<'paint'>): void {
    const { evaluator } = this
    if (!evaluator || !this.begin({ view, series }, beside)) return
    for (let i = this.next(); i < order.seen; i = this.next())
      paintInWindow(evaluator, pixels, order.columns[i], order.rows[i])
  }

  private row({ ty, from, to, form, width, pixels }: Told<'row'>): void {
    const { evaluator } = this
    if (!evaluator || !this.sheets.has(null)) return
    for (let tx = from + this.next(); tx < to; tx = from + this.next())
      evaluator.tile(tx, ty, (at) => writeTile(evaluator, tx, ty, at, form, pixels, width))
  }

  private next(): number {
    return Atomics.add(this.control, CONTROL.next, 1)
  }
}
