import { z } from 'zod'
import { InvalidValueError } from '../errors'
import type { Mask, Sheet, SheetNode } from '../sheet/sheet-schema'
import type { PaintGrid } from './paint-grid'

/** What of a sheet is painted on: a layer's own pixels, or a painted term of its mask. */
export const paintPlaceSchema = z.strictObject({
  layerId: z.string(),
  /** The term's place in its mask; null: the layer itself. */
  term: z.number().int().min(0).nullable(),
  /** The effect whose mask it is; without one, the layer's own. */
  effectId: z.string().optional(),
})
export type PaintPlace = z.infer<typeof paintPlaceSchema>

/** Tiles that were painted and that the document does not know yet: a name for each place, or null where nothing is any more. */
export interface LivePaint {
  readonly place: PaintPlace
  readonly tiles: Readonly<Record<string, string | null>>
}

const effectOf = ({ effects }: SheetNode, id: string) => effects.find((effect) => effect.id === id)

/** What is painted on, as the sheet has it; null where there is no such thing. */
export function paintedAt(
  sheet: Sheet,
  { layerId, term, effectId }: PaintPlace,
): { readonly grid: PaintGrid; readonly outside: boolean; readonly isMask: boolean } | null {
  const node = sheet.nodes[layerId] as SheetNode | undefined
  if (!node) return null
  if (term === null)
    return node.content.kind === 'painted' ? { grid: node.content, outside: false, isMask: false } : null
  const mask = effectId === undefined ? node.mask : effectOf(node, effectId)?.mask
  const own = mask?.terms[term]
  return own?.kind === 'painted' ? { grid: own, outside: own.outside, isMask: true } : null
}

const placesOf = (tiles: PaintGrid['tiles'], live: LivePaint['tiles']): Record<string, string> => {
  const now = { ...tiles }
  for (const [place, name] of Object.entries(live)) {
    if (name !== null) now[place] = name
    else delete now[place]
  }
  return now
}

/** A sheet with other tiles in a place. @throws {InvalidValueError} where nothing can be painted there. */
export function withTiles(sheet: Sheet, { place, tiles }: LivePaint): Sheet {
  const found = paintedAt(sheet, place)
  if (!found) throw new InvalidValueError('place', 'holds nothing that is painted', place.layerId)
  const node = sheet.nodes[place.layerId]
  const own = { ...found.grid, tiles: placesOf(found.grid.tiles, tiles) }
  const inMask = (mask: Mask | null): Mask | null =>
    mask && {
      ...mask,
      terms: mask.terms.map((term, i) => (i === place.term ? (own as typeof term) : term)),
    }
  const { effectId } = place
  const painted: SheetNode =
    place.term === null
      ? { ...node, content: own as SheetNode['content'] }
      : effectId === undefined
        ? { ...node, mask: inMask(node.mask) }
        : {
            ...node,
            effects: node.effects.map((effect) =>
              effect.id === effectId ? { ...effect, mask: inMask(effect.mask) } : effect,
            ),
          }
  return { ...sheet, nodes: { ...sheet.nodes, [place.layerId]: painted } }
}

/** A sheet as it is while strokes are painted on it; places that are gone are left out. */
export const withLivePaint = (sheet: Sheet, live: readonly LivePaint[]): Sheet =>
  live.reduce((now, own) => (paintedAt(now, own.place) ? withTiles(now, own) : now), sheet)
