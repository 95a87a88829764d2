import { sheetUses } from '../sheet/sheet-uses'
import { hasContent, type Sheet, type SheetNode } from '../sheet/sheet-schema'
import { sheetAt } from '../sheet/tracks'
import { withBoilingLines, withMovingGrain } from './moving-grain'
import { withWords } from '../sheet/words-in-type'
import { revealed } from './reveal'
import { sequencePicture, type SequencePictures } from './sequence'
import { frameCount, type Motion, type Turn } from './turn-schema'
import { turnWords } from './turn-words'

/**
 * A sheet as it is in a frame: an ordinary sheet, of which layers that nothing moves are the same objects. A layer that the still
 * hides is shown by its reveals, as far as they are.
 */
export function frameSheet(
  sheet: Sheet,
  { tracks, reveals, motion, grainEvery, boilEvery }: Turn,
  frame: number,
  sequences: SequencePictures = NO_SEQUENCES,
): Sheet {
  const keyed = sheetAt(withSequences(withRevealed(sheet, reveals), sequences, frame, motion), tracks, frame)
  // Where it closes it is the first frame again.
  const at = frame % frameCount(motion)
  const grained = withBoilingLines(withMovingGrain(keyed, at, grainEvery), at, boilEvery)
  const seen = reveals.reduce((now, reveal) => revealed(now, reveal, frame), grained)
  return withWords(seen, turnWords(motion, frame))
}

const NO_SEQUENCES: SequencePictures = new Map()

/** A sheet whose sequences are the pictures of a frame: of the same picture the same layer. A layer is hidden where it has none. */
function withSequences(sheet: Sheet, sequences: SequencePictures, frame: number, motion: Motion): Sheet {
  const changed = Object.values(sheet.nodes).flatMap((node): [string, SheetNode][] => {
    if (!hasContent(node, 'picture') || !node.content.sequence) return []
    const { sequence, ...content } = node.content
    const pictures = sequences.get(sequence.sequenceId) ?? []
    const pictureId = sequencePicture(sequence, pictures, frame % frameCount(motion), motion.rate)
    if (pictureId === null) return [[node.id, { ...node, visible: false }]]
    return [[node.id, { ...node, content: { ...content, pictureId } }]]
  })
  return changed.length === 0
    ? sheet
    : { ...sheet, nodes: { ...sheet.nodes, ...Object.fromEntries(changed) } }
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
