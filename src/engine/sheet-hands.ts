import type { LivePaint } from '@/core/paint/live-paint'
import type { DocumentChange } from '@/core/document-changes'
import type { LinearMemory } from '@/core/wasm/linear-memory'
import type { SheetView } from '@/core/sheet/evaluate/sheet-plan'
import type { PixelForm } from '@/core/sheet/evaluate/picture-rows'
import type { TileOrder } from '@/core/sheet/evaluate/view-window'
import type { WindowPixels } from '@/core/sheet/evaluate/window-pixels'
import type { Sheet } from '@/core/sheet/sheet-schema'
import type { StoredPass, StoredPicture } from './sheet-store'

/** Numbers that the threads of a picture share. */
export const CONTROL = {
  /** The next tile that nobody has taken. */
  next: 0,
  /** Hands still at work. */
  working: 1,
  /** Whether one of them failed. */
  failed: 2,
} as const

/** What a hand is told. Arrays within are shared: nothing is copied. */
export type ToHand =
  | { readonly type: 'begin'; readonly memory: LinearMemory; readonly control: Int32Array }
  | { readonly type: 'pass'; readonly passId: string; readonly pass: StoredPass | null }
  | { readonly type: 'picture'; readonly pictureId: string; readonly picture: StoredPicture | null }
  | { readonly type: 'font'; readonly fontId: string; readonly files: readonly Uint8Array[] | null }
  /** The sheet at work, or that of one view; null: it is gone. */
  | { readonly type: 'sheet'; readonly beside: number | null; readonly sheet: Sheet | null }
  | {
      readonly type: 'patch'
      readonly beside: number | null
      readonly changes: readonly DocumentChange[]
    }
  | { readonly type: 'paint-tile'; readonly name: string; readonly words: Uint16Array | null }
  /** What was painted and the sheet at work does not know yet. */
  | { readonly type: 'live'; readonly live: readonly LivePaint[] }
  /** A picture that is painted row by row, … */
  | { readonly type: 'take-up'; readonly view: SheetView; readonly series: string }
  /** … and columns from…to of one of its rows. */
  | {
      readonly type: 'row'
      readonly ty: number
      readonly from: number
      readonly to: number
      readonly form: PixelForm
      /** Of the picture, in pixels. */
      readonly width: number
      /** Shared. */
      readonly pixels: Uint8Array
    }
  | {
      readonly type: 'paint'
      readonly beside: number | null
      readonly view: SheetView
      readonly series: string
      readonly pixels: WindowPixels
      /** The seen tiles of it are painted. */
      readonly order: TileOrder
    }

/** A hand as its worker is spoken to. */
export interface Hand {
  readonly post: (message: ToHand) => void
  readonly close: () => void
}
export type SpawnHand = (onReady: () => void, onBroken: () => void) => Hand

/** What a sheet is called among the things that hands are told. */
export const sheetName = (beside: number | null): string => `sheet ${beside ?? 'at work'}`

/** How long a picture waits for a hand that does not answer before it goes on without it. Milliseconds. */
const PATIENCE = 4000

/** The hands that help to paint: none where memory cannot be shared, or until they are ready. */
export class SheetHands {
  readonly control = new Int32Array(new SharedArrayBuffer(32))
  private readonly ready: Hand[] = []
  /** What the hands hold, for those that come later. */
  private readonly told = new Map<string, ToHand>()
  private isBroken = false

  /** When all are ready, or one of them never will be. */
  readonly allReady: Promise<void>
  private settle: () => void = () => undefined

  constructor(memory: LinearMemory, count: number, spawn: SpawnHand) {
    this.allReady = new Promise((resolve) => (this.settle = resolve))
    for (let i = 0; i < count; i++) {
      const hand: Hand = spawn(
        () => {
          for (const message of this.told.values()) hand.post(message)
          this.ready.push(hand)
          if (this.ready.length === count) this.settle()
        },
        () => this.breakOff(),
      )
      hand.post({ type: 'begin', memory, control: this.control })
    }
  }

  get count(): number {
    return this.ready.length
  }

  /** Tells every hand of a pass, a picture or a sheet, those that are not ready yet too. */
  tell(name: string, message: ToHand, isGone = false): void {
    if (isGone) this.told.delete(name)
    else this.told.set(name, message)
    this.send(message)
  }

  /** Tells every hand what changed of the sheet, and those that are not ready yet of what it is now. */
  patch(changes: readonly DocumentChange[], now: Sheet, beside: number | null): void {
    this.told.set(sheetName(beside), { type: 'sheet', beside, sheet: now })
    this.send({ type: 'patch', beside, changes })
  }

  /** Tells the hands something that those who come later need not know. */
  send(message: ToHand): void {
    for (const hand of this.ready) hand.post(message)
  }

  /** Sets the hands to work on a picture, or a part of one. */
  begin(message: Extract<ToHand, { type: 'paint' | 'row' }>): void {
    this.isBroken = false
    this.control.fill(0)
    Atomics.store(this.control, CONTROL.working, this.ready.length)
    this.send(message)
  }

  /** The place in the order of the next tile that nobody has taken. */
  next(): number {
    return Atomics.add(this.control, CONTROL.next, 1)
  }

  /** No tile is taken any more. @returns how many were. */
  stop(): number {
    return Atomics.exchange(this.control, CONTROL.next, 2 ** 30)
  }

  /** Waits until all hands are done. @returns whether all tiles are painted: else they are to be painted again, without. */
  finish(): boolean {
    const started = Date.now()
    for (;;) {
      const working = Atomics.load(this.control, CONTROL.working)
      if (working <= 0) break
      Atomics.wait(this.control, CONTROL.working, working, PATIENCE)
      if (Date.now() - started > PATIENCE) this.breakOff()
      if (this.isBroken) return false
    }
    return Atomics.load(this.control, CONTROL.failed) === 0
  }

  /** A hand is gone: what it held may be half made. From now on the worker paints alone. */
  private breakOff(): void {
    this.isBroken = true
    this.settle()
    this.close()
  }

  /** Lets go of the hands. */
  close(): void {
    for (const hand of this.ready.splice(0)) hand.close()
  }
}
