import { simplified } from '@/core/lines/find-lines'
import { meetsDrawn, type HandEdit } from '@/core/lines/hand-weights'
import type { SheetNode } from '@/core/sheet/sheet-schema'
import { useProjectStore } from '@/state/project-store'
import { askSheet } from '@/state/sheet-sync'
import { setBench, useViewStore, type LineBrush } from '@/state/view-store'
import { changeLayer } from './layer-actions'

/** What a brush over lines does; each tool is one of these. */
export const LINE_TOOLS = {
  thicken: { label: 'Thicken', done: 'thicken lines' },
  thin: { label: 'Thin', done: 'thin lines' },
  erase: { label: 'Erase', done: 'erase lines' },
  draw: { label: 'Draw', done: 'draw a line' },
} as const
export type LineTool = keyof typeof LINE_TOOLS

/** Farthest a drawn line may lie from the way the hand went, in picture heights. */
const TOLERANCE = 0.0004

/** Changes the brush in the hand. */
export const setBrush = (patch: Partial<LineBrush>): void =>
  setBench({ lineBrush: { ...useViewStore.getState().lineBrush, ...patch } })

/** Makes the brush, or the line it draws, larger or smaller. */
export function sizeBrush(factor: number): void {
  const { tool, radius, weight } = useViewStore.getState().lineBrush
  if (tool === 'draw') setBrush({ weight: Math.min(40, Math.max(0.2, weight * factor)) })
  else setBrush({ radius: Math.min(0.3, Math.max(0.002, radius * factor)) })
}

/** How much a weight changes under a brush. */
function amountOf({ tool, strength }: LineBrush): number {
  if (tool === 'thicken') return 1.5 * strength
  return tool === 'thin' ? -0.75 * strength : -1
}

/** Points of a path that are enough for it. */
export function fewerPoints(path: readonly number[], tolerance = TOLERANCE): number[] {
  if (path.length <= 4) return [...path]
  return simplified(Float64Array.from(path), tolerance).flatMap((i) => [path[2 * i], path[2 * i + 1]])
}

/**
 * Lays one stroke of the brush on a line layer, as one step of undo.
 * @param path x, y, x, y … in shares of the picture's height.
 * @returns false where no line lay beneath it: then nothing changes.
 */
export async function layStroke(
  layer: SheetNode,
  path: readonly number[],
  brush: LineBrush,
): Promise<boolean> {
  const { content } = layer
  if (content.kind !== 'pass' || !brush.tool || path.length < 2) return false
  const edit = await editFor(content.passId, content.byHand ?? [], path, brush)
  if (!edit) return false
  changeLayer(layer.id, LINE_TOOLS[brush.tool].done, (l) => {
    if (l.content.kind === 'pass') l.content.byHand = [...(l.content.byHand ?? []), edit]
  })
  return true
}

async function editFor(
  passId: string,
  before: readonly HandEdit[],
  path: readonly number[],
  brush: LineBrush,
): Promise<HandEdit | null> {
  if (brush.tool === 'draw') {
    // A tap is a dot.
    const drawn = path.length < 4 ? [...path, path[0] + 1e-4, path[1]] : fewerPoints(path)
    return { kind: 'line', path: drawn, weight: brush.weight }
  }
  const way = fewerPoints(path, brush.radius / 10)
  const { project } = useProjectStore.getState()
  if (!project) return null
  const parts = await askSheet(project, (worker) => worker.partsBeneath(passId, way, brush.radius))
  if (parts.length === 0 && !meetsDrawn(before, way, brush.radius)) return null
  return { kind: 'weight', path: way, radius: brush.radius, amount: amountOf(brush), parts }
}
