import { BrokenWorkerError } from '@/core/errors'
import { withTiles } from '@/core/paint/live-paint'
import type { PenSample } from '@/core/paint/stroke-walker'
import { activeSheet } from '@/data/active-shot'
import type { Project } from '@/data/project-schema'
import { storePaint } from '@/data/storage-service'
import type { ShownAgain } from '@/engine/sheet-requests'
import type { Stroke, StrokeTile } from '@/engine/stroke-messages'
import { changeProject, useProjectStore } from './project-store'
import { askSheet, knowsPaint, sheetService } from './sheet-sync'
import { owePaint, owesPaint, payPaint } from './owed-paint'
import { noteStroke, writeNoted, type NotedStroke } from './stroke-journal'

/** Strokes from the pen to the document. */

let strokes = 0
/** Told of the views that show what was painted already; the others are to show it. */
type Watcher = (shown: readonly ShownAgain[]) => void
const watching = new Set<Watcher>()

/** Calls back whenever what is painted is to be seen. @returns what ends it. */
export function onPainted(show: Watcher): () => void {
  watching.add(show)
  return () => void watching.delete(show)
}
const showAll = (shown: readonly ShownAgain[] = []): void => watching.forEach((show) => show(shown))

/** The open project, as it is now. */
const projectNow = (): Project | null => useProjectStore.getState().project

/** What a stroke is called among the steps that can be undone. */
const LABELS: Readonly<Record<Stroke['act']['kind'], string>> = {
  paint: 'paint',
  clone: 'clone',
  erase: 'erase',
  smudge: 'smudge',
  soften: 'soften',
  sharpen: 'sharpen',
  lighten: 'lighten',
  darken: 'darken',
  tint: 'tint',
  mask: 'paint the mask',
}

const notKept = (cause: unknown): Error =>
  new Error(
    `The stroke is seen, but not kept yet: ${cause instanceof Error ? cause.message : String(cause)} It is stored as soon as there is room.`,
    { cause },
  )

/** Strokes are told one after the other: what one left, the next one finds. */
let chain: Promise<unknown> = Promise.resolve()

/** A stroke while its pen is down. What the pen tells is kept: a worker that ends by itself is followed by another, given it all. */
export class PaintSession {
  private readonly number = ++strokes
  private readonly samples: PenSample[] = []
  private sent = 0
  private isSending = false
  private isEnded = false
  /** Why a part of it was not painted. */
  private problem: unknown = null
  private readonly begun: Promise<void>

  /**
   * @param of what it does, and where: known when what lies under the pen is.
   * @param onTip told where the tip is led to.
   */
  constructor(
    private readonly projectId: string,
    private readonly of: Promise<Stroke>,
    private readonly onTip: (tip: { readonly x: number; readonly y: number } | null) => void = () =>
      undefined,
  ) {
    const before = chain.catch(() => undefined)
    this.begun = (async () => {
      const stroke = await of
      // What the pen tells is noted from now on, also while the stroke before it is being stored.
      if (projectNow()?.id === projectId)
        noteStroke(this.number, { projectId, stroke, samples: this.samples })
      await before
      await this.begin(stroke)
    })()
    this.begun.catch(() => undefined)
  }

  private async begin(stroke: Stroke): Promise<void> {
    const project = projectNow()
    if (project?.id !== this.projectId) throw new Error('the project was closed')
    await askSheet(project, (worker) => worker.beginStroke(this.number, stroke))
    void this.send()
  }

  /** The pen moved. */
  add(samples: readonly PenSample[]): void {
    this.samples.push(...samples)
    void this.send()
  }

  /** Sends what was not sent yet; one message at a time: what comes meanwhile goes together. */
  private async send(): Promise<void> {
    if (this.isSending) return
    this.isSending = true
    try {
      await this.begun
      while (this.sent < this.samples.length) {
        const some = this.samples.slice(this.sent)
        this.sent = this.samples.length
        const { tip, shown } = await sheetService().addToStroke(this.number, some)
        if (!this.isEnded) this.onTip(tip)
        showAll(shown)
      }
    } catch (error) {
      // Its end tells what is wrong; where a worker ended by itself it does all once more.
      if (!(error instanceof BrokenWorkerError)) this.problem = error
    } finally {
      this.isSending = false
    }
  }

  /** The pen is lifted. @returns when the stroke is part of the document. @throws {Error} why it is not, in words. */
  end(): Promise<void> {
    this.isEnded = true
    writeNoted()
    const done = this.settle()
    chain = done
    return done
  }

  private async settle(): Promise<void> {
    this.onTip(null)
    const stroke = await this.of
    try {
      await this.begun
      const tiles = await this.tiles(stroke)
      knowsPaint(tiles.flatMap(({ name }) => name ?? []))
      const kept = tiles.flatMap(({ name, bytes }) => (name !== null && bytes ? [{ name, bytes }] : []))
      let unstored: unknown = null
      const names = kept.map(({ name }) => name)
      await storePaint(this.projectId, kept).catch((error: unknown) => {
        // It is seen all the same, and stored once there is room.
        unstored = error
        owePaint(this.projectId, names)
      })
      if (unstored === null && owesPaint()) void payPaint()
      if (projectNow()?.id === this.projectId && tiles.length > 0) this.document(stroke, tiles)
      // What was painted before it stays.
      if (this.problem !== null) throw this.problem
      if (unstored !== null) throw notKept(unstored)
    } finally {
      noteStroke(this.number, null)
      const project = projectNow()
      if (project?.id === this.projectId)
        await askSheet(project, (worker) => worker.forgetStroke(this.number)).catch(() => undefined)
      showAll()
    }
  }

  /** The tiles that it changed; from another worker where the first one ended by itself. */
  private async tiles(stroke: Stroke): Promise<readonly StrokeTile[]> {
    const rest = (): readonly PenSample[] => {
      const some = this.samples.slice(this.sent)
      this.sent = this.samples.length
      return some
    }
    try {
      const worker = sheetService()
      const missing = rest()
      if (missing.length > 0) await worker.addToStroke(this.number, missing)
      return await worker.endStroke(this.number, this.samples.slice(-1))
    } catch (error) {
      if (!(error instanceof BrokenWorkerError)) throw error
      this.sent = 0
      await this.begin(stroke)
      await sheetService().addToStroke(this.number, rest())
      return sheetService().endStroke(this.number, this.samples.slice(-1))
    }
  }

  private document({ place, act }: Stroke, tiles: readonly StrokeTile[]): void {
    const named = Object.fromEntries(tiles.map(({ place: at, name }) => [at, name]))
    changeProject(LABELS[act.kind], (draft) => {
      const sheet = activeSheet(draft)
      const painted = withTiles(sheet, { place, tiles: named })
      sheet.nodes[place.layerId] = painted.nodes[place.layerId]
    })
  }
}

/** Paints a stroke that was noted and never came to its end. */
export async function paintNoted({ projectId, stroke, samples }: NotedStroke): Promise<void> {
  const session = new PaintSession(projectId, Promise.resolve(stroke))
  session.add(samples)
  await session.end()
}
