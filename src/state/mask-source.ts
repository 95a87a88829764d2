import type { Mask, SheetNode } from '@/core/sheet/sheet-schema'
import { isSurfaceTerm, type SurfaceTerm } from '@/core/sheet/terms/registry'
import { activePasses } from '@/data/active-shot'
import { plural } from '@/core/plural'
import type { BesideSheets, Project } from '@/data/project-schema'

const keys = new WeakMap<Project['models'], Readonly<Record<SurfaceTerm['kind'], ReadonlySet<string>>>>()

/** Keys of everything a term can name, now; found once for models that stay. */
function keysOf({ models }: BesideSheets, kind: SurfaceTerm['kind']): ReadonlySet<string> {
  const known = keys.get(models) ?? {
    parts: new Set(models.flatMap((m) => m.parts.map(({ key }) => key))),
    materials: new Set(models.flatMap((m) => m.materials.map(({ key }) => key))),
  }
  keys.set(models, known)
  return known[kind]
}

/**
 * What a layer's mask has lost of what it is made from, in words; null where all is there. A mask without its ID pass
 * limits nothing, on the proof as in the file.
 */
export function maskProblem(project: BesideSheets, { mask }: Pick<SheetNode, 'mask'>): string | null {
  if (!mask) return null
  const unreadable = mask.terms.find((term) => term.kind === 'unreadable')
  if (unreadable) return `a term cannot be read: ${unreadable.why}`
  if (!hasPictures(project, mask)) return 'a picture it is made from is gone'
  const surfaces = mask.terms.filter(isSurfaceTerm)
  if (surfaces.length === 0) return null
  const ids = activePasses(project).filter(({ kind }) => kind === 'id')
  if (ids.length === 0) return 'the ID pass it is made from was removed: it limits nothing'
  if (!ids.some(({ rendered }) => rendered))
    return 'the ID pass it is made from is not rendered: it limits nothing'
  const gone = surfaces.reduce((count, { kind, keys }) => {
    const known = keysOf(project, kind)
    return count + keys.filter((key) => !known.has(key)).length
  }, 0)
  return gone > 0
    ? `${plural(gone, 'part or material', 'parts or materials')} that it names ${gone === 1 ? 'is' : 'are'} gone`
    : null
}

const hasPictures = ({ pictures }: BesideSheets, { terms }: Mask): boolean =>
  terms.every((term) => term.kind !== 'picture' || pictures.some(({ id }) => id === term.pictureId))
