import { sheetUses } from '../sheet/sheet-uses'
import type { Sheet, SheetNode } from '../sheet/sheet-schema'
import { sheetAt } from '../sheet/tracks'
import { withMovingGrain } from './moving-grain'
import { withWords } from '../sheet/words-in-type'
import { revealed } from './reveal'
import { frameCount, type Turn } from './turn-schema'
import { turnWords } from './turn-words'

/**
 * A sheet as it is in a frame: an ordinary sheet, of which layers that nothing moves are the same objects. A layer that the still
 * hides is shown by its reveals, as far as they are.
 */
export function frameSheet(
  sheet: Sheet,
  { tracks, reveals, motion, grainEvery }: Turn,
  frame: number,
): Sheet {
  const keyed = sheetAt(withRevealed(sheet, reveals), tracks, frame)
  // Where it closes it is the first frame again.
  const grained = withMovingGrain(keyed, frame % frameCount(motion), grainEvery)
  const seen = reveals.reduce((now, reveal) => revealed(now, reveal, frame), grained)
  return withWords(seen, turnWords(motion, frame))
}

function withRevealed(sheet: Sheet, reveals: Turn['reveals']): Sheet {
  const hidden = reveals.flatMap(({ layerId }) => {
    const node = sheet.nodes[layerId] as SheetNode | undefined
    return node && !node.visible ? [[layerId, { ...node, visible: true }] as const] : []
  })
  return hidden.length === 0 ? sheet : { ...sheet, nodes: { ...sheet.nodes, ...Object.fromEntries(hidden) } }
}

/**
 * A sheet without layers that bring nothing to its picture: those that are hidden, wholly transparent, or lie in such a group.
 * Of these stay what others show, are masked by, or throw the shadow of.
 */
export function seenOf(sheet: Sheet): Sheet {
  const nodes: Record<string, SheetNode> = {}
  const take = (id: string): void => {
    const node = sheet.nodes[id] as SheetNode | undefined
    if (!node || id in nodes) return
    nodes[id] = node
    if (node.content.kind === 'group') visit(node.content.children)
    for (const other of layersAsked(node)) take(other)
  }
  const visit = (ids: readonly string[]): void => {
    for (const id of ids) {
      const node = sheet.nodes[id] as SheetNode | undefined
      if (node?.visible && node.opacity > 0) take(id)
    }
  }
  visit(sheet.roots)
  return { ...sheet, roots: sheet.roots.filter((id) => id in nodes), nodes }
}

/** Layers that a layer is made from. */
function layersAsked(node: SheetNode): string[] {
  const { content } = node
  const shown =
    (content.kind === 'pressing' || content.kind === 'castShadow') && content.of ? [content.of] : []
  return [...shown, ...sheetUses({ nodes: { [node.id]: node } }).layers]
}
