import type { Mask, Sheet } from '../sheet/sheet-schema'
import { storedNames, type PaintGrid } from './paint-grid'

/** Of which of the two forms a tile is. */
export type PaintForm = 'layer' | 'mask'

/** Names of all tiles that sheets show, were painted by hand and are stored. */
export function paintNames(sheets: readonly Pick<Sheet, 'nodes'>[]): Map<string, PaintForm> {
  const names = new Map<string, PaintForm>()
  const add = (grid: PaintGrid, form: PaintForm) => storedNames(grid).forEach((name) => names.set(name, form))
  const addMask = (mask: Mask | null): void => {
    for (const term of mask?.terms ?? []) if (term.kind === 'painted') add(term, 'mask')
    for (const effect of mask?.effects ?? []) addMask(effect.mask)
  }
  for (const { nodes } of sheets)
    for (const { content, mask, effects } of Object.values(nodes)) {
      if (content.kind === 'painted') add(content, 'layer')
      addMask(mask)
      for (const effect of effects) addMask(effect.mask)
    }
  return names
}
