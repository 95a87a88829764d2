import { effectWork } from '../sheet/evaluate/effect-works'
import type { Sheet, SheetNode } from '../sheet/sheet-schema'
import { layersOf } from '../sheet/sheet-tree'
import { termMaps } from '../sheet/terms/registry'

/** A stack as a file that knows vectors can hold it, from the back: what is a picture, and blocks of type that stay letters. */
export type StackPart =
  | { readonly kind: 'picture'; readonly nodeIds: readonly string[] }
  | { readonly kind: 'type'; readonly nodeId: string }

/**
 * Splits a page. The first part is the picture at the back, with all that what is in front of it looks at; letters stay letters
 * as long as nothing works on them and nothing in front of them needs to see them as pixels.
 */
export function splitStack(sheet: Sheet): StackPart[] {
  const shown = sheet.roots.filter((id) => isShown(sheet.nodes[id]))
  // 1. From the front, as far as layers do not depend on what lies beneath them.
  const front: StackPart[] = []
  let at = shown.length - 1
  for (; at >= 0; at--) {
    const node = sheet.nodes[shown[at]]
    const isHeld = sheet.nodes[shown[at + 1] ?? '']?.confine ?? false
    if (isLetters(node) && !isHeld) front.push({ kind: 'type', nodeId: node.id })
    else if (isApart(node) && !isHeld) {
      const last = front.at(-1)
      if (last?.kind === 'picture')
        front[front.length - 1] = { kind: 'picture', nodeIds: [node.id, ...last.nodeIds] }
      else front.push({ kind: 'picture', nodeIds: [node.id] })
    } else break
  }
  // 2. Pictures that have no letters behind them belong to the back.
  let back = shown.slice(0, at + 1)
  for (let last = front.at(-1); last?.kind === 'picture'; last = front.at(-1)) {
    back = [...back, ...last.nodeIds]
    front.pop()
  }
  return [{ kind: 'picture', nodeIds: back }, ...front.reverse()]
}

const isShown = (node: SheetNode | undefined): boolean =>
  node !== undefined && node.visible && node.opacity > 0

/** Whether a layer is type that nothing works on. */
function isLetters({ content, mode, mask, gate, confine, effects }: SheetNode): boolean {
  return (
    content.kind === 'type' &&
    content.fill === 'even' &&
    content.inset === 0 &&
    (content.outline === 0 || content.outlineAt === 'outside') &&
    mode === 'normal' &&
    mask === null &&
    gate === null &&
    !confine &&
    !effects.some(({ enabled }) => enabled)
  )
}

/** Whether a layer is the same picture whatever lies beneath it. */
function isApart({ content, mode, gate, confine, mask, effects }: SheetNode): boolean {
  const { kind } = content
  if (
    kind === 'wash' ||
    kind === 'group' ||
    kind === 'pressing' ||
    kind === 'fitted' ||
    kind === 'unreadable'
  )
    return false
  if (mode !== 'normal' || confine || gate?.beneath) return false
  const works = [...effects, ...(mask?.effects ?? [])].map(effectWork)
  if (works.some((work) => work && 'maps' in work && work.maps?.some(({ from }) => from === 'beneath')))
    return false
  return !mask?.terms.some((term) => termMaps(term).some(({ from }) => from === 'beneath'))
}

/** Blocks of type that are shown, letters or not, from the back. */
export const typeOf = (sheet: Sheet): SheetNode[] =>
  layersOf(sheet).filter((node) => node.content.kind === 'type' && isShown(node))
