import { assertNever } from '../errors'
import { newMask, newTerm } from '../sheet/new-layer'
import type { Sheet, SheetNode } from '../sheet/sheet-schema'
import type { MaskTerm } from '../sheet/terms/registry'
import { eased } from '../sheet/tracks'
import type { Reveal } from './turn-schema'

/** How much of a layer a reveal shows in a frame: 0 nothing, 1 all. */
export function revealedShare({ from, whole, goes, gone, ease }: Reveal, frame: number): number {
  if (goes !== null && gone !== null && frame >= goes)
    return frame >= gone ? 0 : 1 - eased(ease, (frame - goes) / (gone - goes))
  if (frame >= whole) return 1
  return frame <= from ? 0 : eased(ease, (frame - from) / (whole - from))
}

/** A sheet in which a layer is revealed as far as it is in a frame: an ordinary sheet, others of its layers the same objects. */
export function revealed(sheet: Sheet, reveal: Reveal, frame: number): Sheet {
  const node = sheet.nodes[reveal.layerId] as SheetNode | undefined
  const share = Math.min(1, Math.max(0, revealedShare(reveal, frame)))
  if (!node || share === 1) return sheet
  const next = share === 0 ? { ...node, visible: false } : partly(sheet, node, reveal, share)
  return { ...sheet, nodes: { ...sheet.nodes, [node.id]: next } }
}

function partly(sheet: Sheet, node: SheetNode, reveal: Reveal, share: number): SheetNode {
  switch (reveal.kind) {
    case 'fade':
      return { ...node, opacity: node.opacity * share }
    case 'sweep':
      return without(node, sweepTerms(sheet, reveal, share))
    case 'iris':
      return without(node, irisTerms(sheet, reveal, share))
    case 'depth':
      return without(node, [rangeTerm('depthRange', reveal, share)])
    case 'height':
      return without(node, [rangeTerm('heightRange', reveal, share)])
    case 'parts':
      return without(node, partTerms(reveal, share))
    case 'drawn': {
      const { content } = node
      if (content.kind !== 'pass') return { ...node, opacity: node.opacity * share }
      return { ...node, content: { ...content, look: { ...content.look, drawn: share } } }
    }
    default:
      return assertNever(reveal.kind)
  }
}

/** A layer without what terms choose: they are taken from its mask, or of an inverted one added to what that leaves out. */
function without(node: SheetNode, terms: readonly MaskTerm[]): SheetNode {
  const mask = node.mask ?? newMask()
  const join = mask.invert ? 'add' : 'subtract'
  return {
    ...node,
    mask: { ...mask, terms: [...mask.terms, ...terms.map((term) => ({ ...term, join }) as MaskTerm)] },
  }
}

interface SheetSize {
  readonly width: number
  readonly height: number
}

/** Where the edge of a sweep is, along the way it goes, from the middle of the sheet. Sheet pixels. */
function sweepAt({ width, height }: SheetSize, { angleDeg, softness }: Reveal, share: number) {
  const angle = (angleDeg * Math.PI) / 180
  const [dx, dy] = [Math.cos(angle), Math.sin(angle)]
  const reach = (Math.abs(dx) * width + Math.abs(dy) * height) / 2
  // At least a pixel: no stairs.
  const soft = Math.max(1, softness * 2 * reach)
  return { dx, dy, soft, edge: -reach + (2 * reach + soft) * share }
}

/** What a straight edge has not reached that goes over the sheet: it comes in at one corner and leaves, its soft part with it, at the other. */
function sweepTerms(size: SheetSize, reveal: Reveal, share: number): MaskTerm[] {
  const { dx, dy, soft, edge } = sweepAt(size, reveal, share)
  const at = (along: number): [number, number] => [
    0.5 + (along * dx) / size.width,
    0.5 + (along * dy) / size.height,
  ]
  return [newTerm('gradient', { shape: 'linear', from: at(edge - soft), to: at(edge), invert: true })]
}

/** The middle of the edge of a sweep, as the ends of a line that crosses the sheet, in shares of it: x and y of each. */
export function sweepEdge(
  size: SheetSize,
  reveal: Reveal,
  share: number,
): readonly [number, number, number, number] {
  const { dx, dy, soft, edge } = sweepAt(size, reveal, share)
  const { width, height } = size
  const along = edge - soft / 2
  const far = Math.hypot(width, height)
  const [cx, cy] = [width / 2 + along * dx, height / 2 + along * dy]
  return [
    (cx - far * dy) / width,
    (cy + far * dx) / height,
    (cx + far * dy) / width,
    (cy - far * dx) / height,
  ]
}

/** How far a sweep has come when the middle of its edge goes through a place, in shares of the sheet. */
export function sweepShareAt(size: SheetSize, reveal: Reveal, x: number, y: number): number {
  const { dx, dy, soft, edge } = sweepAt(size, reveal, 0)
  const { edge: end } = sweepAt(size, reveal, 1)
  const along = (x - 0.5) * size.width * dx + (y - 0.5) * size.height * dy
  return Math.min(1, Math.max(0, (along + soft / 2 - edge) / (end - edge)))
}

/** What lies beside a round opening that grows from its middle until it holds the farthest corner. */
function irisTerms({ width, height }: SheetSize, { centre, softness }: Reveal, share: number): MaskTerm[] {
  const corners = [0, 1].flatMap((x) =>
    [0, 1].map((y) => [(x - centre[0]) * width, (y - centre[1]) * height]),
  )
  const diagonal = Math.hypot(width, height)
  const far = Math.max(...corners.map(([x, y]) => Math.hypot(x, y))) / diagonal
  const soft = softness * far
  const radius = (far + soft) * share - soft / 2
  return [newTerm('circle', { centre, radius, soft, invert: true })]
}

/** What is farther, or higher, than an edge that goes from before the subject to behind it, or up it, and in the end over all there is. */
function rangeTerm(kind: 'depthRange' | 'heightRange', { softness }: Reveal, share: number): MaskTerm {
  // The subject lies between 0 and 1; what is behind or above it comes in the last tenth.
  const reach = 1.04 + softness
  const edge = share < 0.9 ? -0.02 + (reach * share) / 0.9 : -0.02 + reach + (3 - reach) * 10 * (share - 0.9)
  const clamp = (v: number): number => Math.min(3, Math.max(-1, v))
  const range = [-1, -1, clamp(edge - Math.max(0.002, softness)), clamp(edge)]
  return newTerm(kind, { range, invert: true })
}

/** The parts that have not come yet, in their order; of the one that is coming as much as is missing. */
function partTerms({ parts }: Reveal, share: number): MaskTerm[] {
  const come = share * parts.length
  const next = Math.floor(come)
  const missing = [newTerm('parts', { keys: parts.slice(next + 1) })]
  if (next < parts.length)
    missing.push(newTerm('parts', { keys: [parts[next]], strength: 1 - (come - next) }))
  return missing
}
