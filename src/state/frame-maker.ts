import type { PassResult } from '@/core/passes/pass-result'
import type { Project } from '@/data/project-schema'
import { neededBy } from '@/data/sheet-needs'
import { paintedSheet } from '@/data/shown-sheets'
import type { TurnStage } from '@/data/turn-frames'
import { SheetService } from '@/engine/sheet-service'
import { bringUp, giveRendered, nothingGiven } from './sheet-sync'

/** Composites frames of a turntable in a worker of its own: the proof and whoever renders go on beside it. */
export class FrameMaker {
  private own: SheetService | null = null
  private given = nothingGiven('')
  /** Passes of the turning shot that the worker has. */
  private passes = new Set<string>()

  private worker(projectId: string): SheetService {
    if (this.own?.isBroken || this.given.projectId !== projectId) this.close()
    if (!this.own) {
      this.own = new SheetService()
      this.given = nothingGiven(projectId)
      this.passes = new Set()
    }
    return this.own
  }

  /**
   * Takes up what a pose shows.
   * @param posed the project as it stands there, with its passes noted as rendered. @param results those; their channels move.
   */
  async takePose(
    { shot, sheet }: TurnStage,
    posed: Project,
    results: ReadonlyMap<string, PassResult>,
  ): Promise<void> {
    const worker = this.worker(posed.id)
    const needed = neededBy(posed, posed.sheets.find(({ id }) => id === sheet.id) ?? sheet)
    const others = needed.passes.filter(({ shotId }) => shotId !== shot.id)
    await bringUp(worker, posed, this.given, { ...needed, passes: others })
    for (const passId of this.passes) {
      if (results.has(passId)) continue
      this.passes.delete(passId)
      await worker.give({ type: 'pass', passId, shotId: '', revision: '', result: null })
    }
    for (const pass of posed.passes) {
      const result = results.get(pass.id)
      if (!result || !pass.rendered) continue
      this.passes.add(pass.id)
      await giveRendered(worker, posed, pass, result)
    }
  }

  /**
   * A frame as a PNG file.
   * @param now the project as it stands in the frame; its pose was taken up.
   * @param mean of the pictures under its key, of which this is one: before the last the file is empty.
   */
  async frame(
    { sheet, shot, turn }: TurnStage,
    now: Project,
    size: { readonly width: number; readonly height: number },
    mean: { readonly key: string; readonly isLast: boolean } | null,
  ): Promise<Blob> {
    const worker = this.worker(now.id)
    const own = now.sheets.find(({ id }) => id === sheet.id) ?? sheet
    const needed = neededBy(now, own)
    // Pictures of sequences are others in every frame.
    const others = needed.passes.filter(({ shotId }) => shotId !== shot.id)
    await bringUp(worker, now, this.given, { ...needed, passes: others })
    await worker.takeSheet(paintedSheet(now, own))
    const packing = 'quick' as const
    const message = { type: 'export', format: 'png8', size, transparent: turn.isClear, packing } as const
    return worker.export(mean ? { ...message, mean } : message, () => undefined)
  }

  close(): void {
    this.own?.close()
    this.own = null
    this.given = nothingGiven('')
  }
}
