import { surfaceTerm } from '@/core/sheet/new-layer'
import type { Mask } from '@/core/sheet/sheet-schema'
import { activeSheet, activeShot } from '@/data/active-shot'
import type { Project } from '@/data/project-schema'
import { askSheet } from '@/state/sheet-sync'
import { withinAt } from './paint/stay-within'
import { useAsked } from './use-asked'
import type { Picking } from './use-sheet-actions'

/** What lies under the pointer: as a press would take it, or as a stroke would stay in it. */
export interface Hovered {
  /** What tells it from others. */
  readonly word: string
  readonly name: string
  readonly terms: Mask['terms']
}

/**
 * Tells what is under the pointer while parts, materials or groups are picked, or while a brush stays in something.
 * @param staying what tells how a brush stays; null: none is at hand, or it goes anywhere.
 */
export function useHovered(project: Project, picking: Picking, staying: string | null) {
  const picked = async ([x, y]: readonly [number, number]): Promise<Hovered | null> => {
    const { surface } = await askSheet(project, (worker) =>
      worker.pick(activeShot(project).id, activeSheet(project), x, y),
    )
    if (!surface || !picking) return null
    const named = {
      parts: [surface.part, surface.partName],
      materials: [surface.material, surface.materialName],
      groups: [surface.groups.at(-1), surface.groups.at(-1)],
    }[picking]
    const [key, name] = named
    if (key === undefined || name === undefined) return null
    return { word: `${picking} ${key}`, name, terms: [surfaceTerm(picking, [key])] }
  }
  const stays = async ([x, y]: readonly [number, number]): Promise<Hovered | null> => {
    const within = await withinAt(x, y)
    return within && !within.mask.invert ? { ...within, terms: within.mask.terms } : null
  }
  const { found, hover } = useAsked(
    staying !== null ? stays : picking ? picked : null,
    `${picking} ${staying}`,
    activeSheet(project),
    (a, b) => a.word === b.word,
  )
  return { hovered: found, hover }
}
