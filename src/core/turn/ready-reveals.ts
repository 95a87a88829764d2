import type { PassKindName } from '../passes/registry'
import type { Sheet, SheetNode } from '../sheet/sheet-schema'
import { layersOf } from '../sheet/sheet-tree'
import { frameCount, type Motion, type Reveal } from './turn-schema'

/** Reveals that are made in one press, by their names. Each closes: what has come is gone when the turntable begins again. */
export const READY_REVEALS = ['wires', 'peel', 'drawn'] as const
export type ReadyReveals = (typeof READY_REVEALS)[number]
export const readyRevealLabels: Readonly<Record<ReadyReveals, string>> = {
  wires: 'Wire by the end of the first turn',
  peel: 'Peel the stack, layer by layer',
  drawn: 'Contour draws itself',
}

/** Share of a turn in which everything goes again, at the very end. */
const LEAVING = 1 / 8
/** Degrees: from the lower left to the upper right, as a hand would wipe. */
const SLANT = -13

/**
 * Reveals of a sheet's layers, ready to be changed.
 * @param kindOf which kind a pass is of; null for one that is gone.
 * @param newId gives each a name of its own.
 * @returns none where the sheet has no layer for it.
 */
export function readyReveals(
  name: ReadyReveals,
  sheet: Sheet,
  motion: Motion,
  kindOf: (passId: string) => PassKindName | null,
  newId: () => string,
): Reveal[] {
  const count = frameCount(motion)
  const turn = motion.framesPerTurn
  const goes = Math.round(count - LEAVING * turn)
  const reveal = ({ id }: SheetNode, from: number, whole: number, rest: Partial<Reveal> = {}): Reveal => ({
    id: newId(),
    layerId: id,
    kind: 'fade',
    from: Math.round(from),
    whole: Math.min(goes, Math.round(whole)),
    goes,
    gone: count,
    ease: 'slow both',
    angleDeg: 0,
    softness: 0.04,
    centre: [0.5, 0.5],
    parts: [],
    ...rest,
  })
  const ofKind = (kind: PassKindName): SheetNode[] =>
    layersOf(sheet).filter(({ content }) => content.kind === 'pass' && kindOf(content.passId) === kind)
  switch (name) {
    case 'wires':
      // By the end of the first turn, or where there is only one by its middle.
      return ofKind('wireframe').map((node) =>
        reveal(node, 0.6 * Math.min(turn, goes), Math.min(turn, goes), { kind: 'sweep', angleDeg: SLANT }),
      )
    case 'drawn':
      return ofKind('contour').map((node) => reveal(node, 0, turn / 2, { kind: 'drawn' }))
    case 'peel': {
      const shown = sheet.roots
        .map((id) => sheet.nodes[id])
        .filter((node) => node.visible && node.opacity > 0)
      // The hindmost is there from the first; each of the others takes half of its share of the time to come.
      const step = (goes - LEAVING * turn) / Math.max(1, shown.length)
      return shown.slice(1).map((node, i) => reveal(node, (i + 1) * step, (i + 1.5) * step))
    }
  }
}
