import { parseHex } from '../math/colour'
import { isAllLines } from '../passes/pass-picture'
import { effectWork } from '../sheet/evaluate/effect-works'
import { within } from '../sheet/evaluate/sheet-plan'
import type { SheetResources } from '../sheet/sheet-resources'
import { hasContent, type Sheet, type SheetNode } from '../sheet/sheet-schema'
import { layersOf } from '../sheet/sheet-tree'
import { termMaps } from '../sheet/terms/registry'

/** A stack as a file that knows vectors can hold it, from the back: pictures, and what stays letters or lines. */
export type StackPart =
  | {
      readonly kind: 'picture'
      /** What is left out of the page, so that it shows this part alone. */
      readonly without: ReadonlySet<string>
      /** What it is made of: ids as views leave them out. */
      readonly ids: readonly string[]
    }
  | { readonly kind: 'type'; readonly nodeId: string }
  | {
      readonly kind: 'lines'
      readonly nodeId: string
      /** The layer of the page in which their sheet lies; null for those on the page itself. */
      readonly frameId: string | null
    }

/** A layer by itself; of a sheet in a plain frame what lies beneath its lines, and what is in front of that. */
interface Piece {
  /** Its layers, as views leave them out. */
  readonly ids: readonly string[]
  /** Null: a picture of its own, whatever lies beneath it. */
  readonly node: SheetNode | null
  readonly frameId: string | null
  /** The sheet that it is a layer of. */
  readonly sheet: Sheet
  readonly isHeld: boolean
}

/**
 * Splits a page. The first part is the picture at the back, with all that what is in front of it looks at; letters and the lines
 * of passes stay what they are as long as nothing works on them and nothing in front of them needs to see them as pixels.
 */
export function splitStack(sheet: Sheet, resources: Pick<SheetResources, 'pass'>): StackPart[] {
  const pieces = piecesOf(sheet, resources)
  // 1. From the front, as far as layers do not depend on what lies beneath them.
  const front: (StackPart | Piece[])[] = []
  let at = pieces.length - 1
  for (; at >= 0; at--) {
    const piece = pieces[at]
    const { node, frameId } = piece
    const kind = kindOf(piece, resources)
    const last = front.at(-1)
    if (kind === 'held') break
    if (kind === 'type' && node) front.push({ kind, nodeId: node.id })
    else if (kind === 'lines' && node) front.push({ kind, nodeId: node.id, frameId })
    else if (Array.isArray(last)) last.unshift(piece)
    else front.push([piece])
  }
  // 2. Pictures that have no letters behind them belong to the back.
  let back = pieces.slice(0, at + 1)
  for (let last = front.at(-1); Array.isArray(last); last = front.at(-1)) {
    back = [...back, ...last]
    front.pop()
  }
  const pictureOf = (own: readonly Piece[]): StackPart => {
    const ids = new Set(own.flatMap((piece) => piece.ids))
    const without = new Set(pieces.flatMap((piece) => piece.ids).filter((id) => !ids.has(id)))
    // A frame of which nothing is left is left out.
    for (const { frameId } of pieces)
      if (frameId !== null && !own.some((piece) => piece.frameId === frameId)) without.add(frameId)
    return { kind: 'picture', ids: [...ids], without }
  }
  return [pictureOf(back), ...front.reverse().map((part) => (Array.isArray(part) ? pictureOf(part) : part))]
}

/** What a file can hold a piece as; `held`: it needs what lies beneath it, or is needed. */
function kindOf(
  { node, sheet, frameId, isHeld }: Piece,
  resources: Pick<SheetResources, 'pass'>,
): 'type' | 'lines' | 'apart' | 'held' {
  if (isHeld) return 'held'
  if (!node) return 'apart'
  if (frameId === null && isLetters(node, sheet)) return 'type'
  if (isLines(node, sheet, resources)) return 'lines'
  return isApart(node) ? 'apart' : 'held'
}

/** What is shown of a stack, from the back, each with whether something is confined to it. */
function layersShown(sheet: Sheet, frameId: string | null): Piece[] {
  const shown = sheet.roots.filter((id) => isShown(sheet.nodes[id]))
  return shown.map((id, i) => {
    const next = sheet.nodes[shown[i + 1] ?? ''] as SheetNode | undefined
    const ids = [frameId === null ? id : within(frameId, id)]
    return { ids, node: sheet.nodes[id], frameId, sheet, isHeld: next?.confine ?? false }
  })
}

function piecesOf(sheet: Sheet, resources: Pick<SheetResources, 'pass'>): Piece[] {
  return layersShown(sheet, null).flatMap((whole): Piece[] => {
    const { node } = whole
    if (!node || !hasContent(node, 'sheet') || whole.isHeld) return [whole]
    const inner = sheet.shown?.[node.content.sheetId]
    if (!inner || !isPlainFrame(node, inner, sheet)) return [whole]
    // From the front, as far as layers can be taken apart; what lies beneath the hindmost lines of those stays one picture.
    const layers = layersShown(inner, node.id)
    let first = layers.length
    for (let i = layers.length - 1; i >= 0; i--) {
      const kind = kindOf(layers[i], resources)
      if (kind === 'held') break
      if (kind === 'lines') first = i
    }
    if (first === layers.length) return [whole]
    const ground = inner.background === null ? [] : [within(node.id, null)]
    const ids = [...ground, ...layers.slice(0, first).flatMap((piece) => piece.ids)]
    const rest: Piece = { ids, node: null, frameId: node.id, sheet: inner, isHeld: false }
    return ids.length > 0 ? [rest, ...layers.slice(first)] : layers.slice(first)
  })
}

/** Whether a sheet lies on a page as it is: its layers can then be put on the page one after the other. */
const isPlainFrame = (node: SheetNode, inner: Sheet, page: Sheet): boolean =>
  hasContent(node, 'sheet') &&
  node.content.edge === 'straight' &&
  node.content.rule === 0 &&
  node.opacity === 1 &&
  isPlain(node) &&
  node.mode === 'normal' &&
  inner.blendSpace === 'display' &&
  page.blendSpace === 'display'

const isShown = (node: SheetNode | undefined): boolean =>
  node !== undefined && node.visible && node.opacity > 0

/** Whether nothing works on a layer, and nothing weighs it. */
const isPlain = ({ mask, gate, confine, effects }: SheetNode): boolean =>
  mask === null && gate === null && !confine && !effects.some(({ enabled }) => enabled)

/** In linear light half of a colour is another colour than files mix. */
const isMixedAlike = ({ opacity }: SheetNode, { blendSpace }: Sheet): boolean =>
  opacity === 1 || blendSpace === 'display'

/** Whether a layer is type that nothing works on. */
function isLetters(node: SheetNode, sheet: Sheet): boolean {
  const { content, mode } = node
  return (
    content.kind === 'type' &&
    content.fill === 'even' &&
    content.inset === 0 &&
    (content.outline === 0 || content.outlineAt === 'outside') &&
    mode === 'normal' &&
    isPlain(node) &&
    isMixedAlike(node, sheet)
  )
}

/** Whether a layer is lines of a pass that nothing works on, with nothing beneath them. */
function isLines(node: SheetNode, sheet: Sheet, { pass }: Pick<SheetResources, 'pass'>): boolean {
  const { content, mode } = node
  if (content.kind !== 'pass' || !isPlain(node) || !isMixedAlike(node, sheet)) return false
  // Where nothing is beneath them a file would multiply with what lies behind the frame.
  const isInkAlike =
    mode === 'normal' || (mode === 'multiply' && sheet.blendSpace === 'display' && isGround(sheet))
  const result = isInkAlike ? pass(content.passId) : null
  return result !== null && isAllLines(result, content.look)
}
const isGround = ({ background }: Sheet): boolean => background !== null && parseHex(background)[3] === 1

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
