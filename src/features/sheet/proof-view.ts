import { holds, windowAround, type ViewWindow } from '@/core/sheet/evaluate/view-window'
import type { RenderSize } from '@/core/sheet/sheet-resources'
import { takesRays } from '@/core/sheet/sheet-uses'
import { activeSheet } from '@/data/active-shot'
import { paintedSheet } from '@/data/shown-sheets'
import type { Project, ProjectSheet } from '@/data/project-schema'
import { MOST_VIEWS } from '@/engine/sheet-requests'
import type { SheetService } from '@/engine/sheet-service'
import { askSheet, showBeside } from '@/state/sheet-sync'
import { onPainted } from '@/state/paint-session'
import { keepThumbnail } from '@/state/thumbnail'
import { scaledSize, type Look } from './proof-look'

/** A picture must have stood this long before the start page's picture is made of it. */
const REST_MS = 700

/** A hand must have rested this long before what takes long is worked out as finely as it can be. */
const REFINE_MS = 250

/** A picture that is longer away than this is told of, and how far it is. */
const TELL_MS = 600

/** What a view tells of. */
export interface ProofTold {
  /** Why there is no picture, or null when there is one again. */
  readonly onProblem: (problem: string | null) => void
  /** How much of what is seen is composed where that takes a while: 0…1, null while that is not known; undefined when it is done. */
  readonly onBusy: (share01: number | null | undefined) => void
}

/** What a view is to show. */
export interface Wanted {
  readonly project: Project
  /** Only so many of the sheet's layers, from the back. */
  readonly upTo: number
  /** Leaves one layer out. */
  readonly without: string | null
  /** Another sheet than the one at work; null: that one. */
  readonly sheet: ProjectSheet | null
}

/** A canvas that the sheet worker owns, and what of the sheet it shows. */
interface ViewCanvas {
  readonly element: HTMLCanvasElement
  readonly worker: SheetService
  readonly size: RenderSize
  readonly window: ViewWindow
  /** Whether all that is seen was on it once. */
  isWhole: boolean
}

let opened = 0

/**
 * A view of the sheet within an element of the size the sheet is seen at. The sheet worker paints it; here nothing is done but to
 * tell what is wanted, and to change one canvas for another when another part or scale is looked at: the old one stands,
 * scaled, until the new one is whole. The first of all is seen piece by piece.
 */
export class ProofView {
  private readonly id = opened++ % MOST_VIEWS
  private wanted: Wanted | null = null
  private look: Look | null = null
  private canvas: ViewCanvas | null = null
  private isBringing = false
  /** Counts what was asked for: the host is busy until the last of it is shown. */
  private asked = 0
  /** Whether something was asked for meanwhile. */
  private isMissed = false
  /** Whether a hand moves something: what takes long is shown more coarsely until it rests. */
  private isMoving = false
  private refining: ReturnType<typeof setTimeout> | null = null
  private isClosed = false
  private timer: ReturnType<typeof setTimeout> | null = null
  /** Whether something was shown that the start page's picture was not made of. */
  private isUnkept = false
  private shown = 0
  /** Until it is told that a picture takes a while. */
  private waiting: ReturnType<typeof setTimeout> | null = null
  private isToldBusy = false
  private share01: number | null = null

  constructor(
    private readonly host: HTMLElement,
    private readonly label: string,
    private readonly told: ProofTold,
  ) {
    // What is painted is seen at once, as fine as it is: little of the picture changes.
    this.endPainted = onPainted((shown) => {
      const again = shown.find(({ view }) => view === this.id)
      const { canvas } = this
      if (again && canvas?.isWhole) this.reveal(canvas, again.milliseconds)
      else void this.ask()
    })
  }
  private readonly endPainted: () => void

  show(wanted: Wanted): void {
    this.isMoving = this.wanted !== null
    this.wanted = wanted
    void this.ask()
    if (this.refining) clearTimeout(this.refining)
    if (this.isMoving)
      this.refining = setTimeout(() => {
        this.isMoving = false
        void this.ask()
      }, REFINE_MS)
  }
  lookAt(look: Look): void {
    this.look = look
    if (this.needsOther()) void this.ask()
  }

  /** Lets go of the view. What was changed last is seen on the start page. */
  close(): void {
    this.isClosed = true
    this.endPainted()
    if (this.timer) clearTimeout(this.timer)
    if (this.refining) clearTimeout(this.refining)
    this.endWait()
    if (this.isUnkept) void this.keep(true)
    showBeside(this.id, null)
    void this.canvas?.worker.closeView(this.id).catch(() => undefined)
    this.host.replaceChildren()
  }

  /** What is seen of the sheet at the scale it is looked at. */
  private framed(look: Look, wanted: Wanted): { readonly size: RenderSize; readonly seen: ViewWindow } {
    const size = scaledSize(wanted.sheet ?? activeSheet(wanted.project), look.scale ?? 1)
    const { x, y, width, height } = look.seen
    return {
      size,
      seen: {
        x: x * size.width,
        y: y * size.height,
        width: width * size.width,
        height: height * size.height,
      },
    }
  }

  private needsOther(): boolean {
    const { canvas, look, wanted } = this
    if (!look || !wanted) return false
    const { size, seen } = this.framed(look, wanted)
    return !canvas || !isSameSize(canvas.size, size) || !holds(canvas.window, size, seen)
  }

  /** From now on a picture is waited for. */
  private wait(): void {
    this.host.setAttribute('aria-busy', 'true')
    this.waiting ??= setTimeout(() => {
      this.isToldBusy = true
      this.told.onBusy(this.share01)
    }, TELL_MS)
  }
  private onShare(share01: number): void {
    this.share01 = share01
    if (this.isToldBusy) this.told.onBusy(share01)
  }
  private endWait(): void {
    if (this.waiting) clearTimeout(this.waiting)
    this.waiting = null
    this.share01 = null
    if (this.isToldBusy) this.told.onBusy(undefined)
    this.isToldBusy = false
  }

  /** Asks for what is wanted now; what is wanted meanwhile is asked for when the worker has all that it needs. */
  private async ask(): Promise<void> {
    const { wanted } = this
    if (!wanted || this.look?.scale == null || this.isClosed) return
    this.isMissed = this.isBringing
    if (this.isBringing) return
    this.isBringing = true
    const turn = ++this.asked
    this.wait()
    let asked: ViewCanvas | null = null
    // What takes rays is looked at coarsely before it is there at all.
    let isFirstLook = false
    try {
      showBeside(this.id, wanted.sheet)
      const milliseconds = await askSheet(wanted.project, (worker) => {
        this.brought(wanted)
        if (this.isClosed || !this.look) return Promise.resolve(null)
        const { size, seen } = this.framed(this.look, wanted)
        asked = this.canvasFor(worker, size, seen)
        const { without, sheet } = wanted
        const own = sheet ?? activeSheet(wanted.project)
        // What prints a page in its inks lies in front of all that the document has.
        const upTo =
          wanted.upTo < own.roots.length ? wanted.upTo : paintedSheet(wanted.project, own).roots.length
        const isBeside = sheet !== null
        isFirstLook = !asked.isWhole && takesRays(own)
        const isDraft = this.isMoving || isFirstLook
        const message = { view: this.id, seen, upTo, without, isBeside, isDraft }
        return worker.show(message, (share01) => turn === this.asked && this.onShare(share01))
      })
      if (milliseconds !== null && asked && !this.isClosed) this.reveal(asked, milliseconds)
      if (this.isMoving || turn !== this.asked || milliseconds === null) return
      if (isFirstLook) void this.ask()
      else this.host.removeAttribute('aria-busy')
    } catch (error) {
      this.brought(wanted)
      this.host.removeAttribute('aria-busy')
      this.endWait()
      if (!this.isClosed) this.told.onProblem(error instanceof Error ? error.message : String(error))
    }
  }

  private brought(asked: Wanted): void {
    this.isBringing = false
    if (this.wanted !== asked || this.isMissed) queueMicrotask(() => void this.ask())
  }

  /** The canvas to show it on: the one that stands, or another, behind it, for another part or scale. */
  private canvasFor(worker: SheetService, size: RenderSize, seen: ViewWindow): ViewCanvas {
    const before = this.canvas
    if (before?.worker === worker && isSameSize(before.size, size) && holds(before.window, size, seen))
      return before
    const window = windowAround(size, seen)
    const element = document.createElement('canvas')
    element.setAttribute('aria-hidden', 'true')
    const share = (part: number, of: number) => `${(100 * part) / of}%`
    Object.assign(element.style, {
      position: 'absolute',
      // There is nothing that could stand instead of the first.
      opacity: before ? '0' : '1',
      left: share(window.x, size.width),
      top: share(window.y, size.height),
      width: share(window.width, size.width),
      height: share(window.height, size.height),
    })
    this.host.prepend(element)
    const canvas = element.transferControlToOffscreen()
    const own: ViewCanvas = { element, worker, size, window, isWhole: false }
    this.canvas = own
    // What fails of it fails the request after it too, which tells; the next one gets another.
    void worker.setCanvas({ view: this.id, canvas, size, window: { ...window } }).catch(() => {
      if (this.canvas === own) this.canvas = null
    })
    return own
  }

  /** A canvas shows all that is seen: those it takes the place of go. */
  private reveal(canvas: ViewCanvas, milliseconds: number): void {
    const { element } = canvas
    this.endWait()
    if (!element.isConnected) return
    while (element.nextElementSibling) element.nextElementSibling.remove()
    if (!canvas.isWhole) {
      canvas.isWhole = true
      element.style.opacity = '1'
      element.removeAttribute('aria-hidden')
      element.setAttribute('role', 'img')
      element.setAttribute('aria-label', this.label)
    }
    // For those who measure.
    this.host.dataset.shown = String(++this.shown)
    this.host.dataset.milliseconds = milliseconds.toFixed(1)
    this.told.onProblem(null)
    if (this.timer) clearTimeout(this.timer)
    this.isUnkept = true
    this.timer = setTimeout(() => void this.keep(false), REST_MS)
  }

  /**
   * At rest on the whole stack: that is the start page's picture.
   * @param isLast whether the view goes: where it shows a part of the sheet only, the whole is then made for it.
   */
  private async keep(isLast: boolean): Promise<void> {
    const { wanted, canvas } = this
    if (!wanted || !canvas || wanted.without !== null || wanted.sheet !== null) return
    const sheet = activeSheet(wanted.project)
    if (wanted.upTo < sheet.roots.length) return
    const isWhole = isSameSize(canvas.window, canvas.size)
    if (!isWhole && !isLast) return
    this.isUnkept = false
    const view = isWhole ? this.id : null
    await keepThumbnail(wanted.project.id, sheet, (size) => canvas.worker.snapshot(view, size)).catch(
      () => undefined,
    )
  }
}

const isSameSize = (a: RenderSize, b: RenderSize): boolean => a.width === b.width && a.height === b.height
