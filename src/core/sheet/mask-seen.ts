import { evenFill, newEffect, newLayer, newMask, newTerm } from './new-layer'
import type { Mask, Sheet, SheetNode } from './sheet-schema'

/** How a layer's mask is looked at: white on black, as a colour over what it lets through, or as a line along its edge. */
export const MASK_SEEN = ['alone', 'tint', 'outline'] as const
export type MaskSeen = (typeof MASK_SEEN)[number]

const TINT = '#c8502a'
/** Width of the line, in heights of the sheet. */
const LINE = 1 / 420

/**
 * A sheet that shows a layer's mask in front of everything.
 * @param upTo only so many of its layers that lie in no group, from the back.
 */
export function withMaskSeen<S extends Sheet>(sheet: S, layerId: string, as: MaskSeen, upTo = Infinity): S {
  const shared = { ...newMask(), terms: [newTerm('layerMask', { layer: layerId })] }
  const front: SheetNode[] =
    as === 'alone'
      ? [
          newLayer({ id: 'mask ground', name: '', content: evenFill('#000000') }),
          newLayer({ id: 'mask', name: '', content: evenFill('#ffffff'), mask: shared }),
        ]
      : as === 'tint'
        ? [newLayer({ id: 'mask', name: '', opacity: 0.55, content: evenFill(TINT), mask: shared })]
        : [
            newLayer({
              id: 'mask',
              name: '',
              content: evenFill(TINT),
              mask: { ...shared, effects: edges(Math.min(12, Math.max(1, sheet.height * LINE))) },
            }),
          ]
  const added = Object.fromEntries(front.map((node) => [node.id, node]))
  return {
    ...sheet,
    roots: [...sheet.roots.slice(0, upTo), ...front.map(({ id }) => id)],
    nodes: { ...sheet.nodes, ...added },
  }
}

/** A sheet with a line about everything that a mask lets through, in front of it. */
export function withOutline<S extends Sheet>(sheet: S, terms: Mask['terms'], upTo = Infinity): S {
  const effects = edges(Math.min(12, Math.max(1, sheet.height * LINE)))
  const line = newLayer({
    id: 'outline',
    name: '',
    content: evenFill(TINT),
    mask: { ...newMask(), terms, effects },
  })
  return {
    ...sheet,
    roots: [...sheet.roots.slice(0, upTo), line.id],
    nodes: { ...sheet.nodes, [line.id]: line },
  }
}

/** White along the edges of a grey picture, black elsewhere. */
function edges(width: number) {
  const outline = newEffect('edge', 'outline')
  const params = {
    ...outline.params,
    of: 'brightness',
    width,
    threshold: 0.3,
    colour: '#000000',
    ground: 'white',
  }
  return [{ ...outline, params }, newEffect('turned', 'invert')]
}
