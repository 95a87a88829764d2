import type { Mask, SheetNode } from '@/core/sheet/sheet-schema'
import { isSurfaceTerm, type SurfaceTerm } from '@/core/sheet/terms/registry'
import { PART_ROLES } from '@/core/scene/part-role'
import { activePasses } from '@/data/active-shot'
import { plural } from '@/core/plural'
import type { BesideSheets, Project } from '@/data/project-schema'

type Named = Readonly<Record<SurfaceTerm['kind'], ReadonlySet<string>>>
/** By what a term can name: models that stay, with groups that stay. */
const known = new WeakMap<Project['models'], { readonly groups: Project['groups']; readonly named: Named }>()

/** Keys of everything a term can name, now. */
function keysOf({ models, groups }: BesideSheets, kind: SurfaceTerm['kind']): ReadonlySet<string> {
  const before = known.get(models)
  if (before?.groups === groups) return before.named[kind]
  const named = {
    parts: new Set(models.flatMap((m) => m.parts.map(({ key }) => key))),
    materials: new Set(models.flatMap((m) => m.materials.map(({ key }) => key))),
    groups: new Set(groups.map(({ name }) => name)),
    roles: new Set(PART_ROLES),
  }
  known.set(models, { groups, named })
  return named[kind]
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
    const there = keysOf(project, kind)
    return count + keys.filter((key) => !there.has(key)).length
  }, 0)
  return gone > 0
    ? `${plural(gone, 'part, material or group', 'parts, materials or groups')} that it names ${gone === 1 ? 'is' : 'are'} gone`
    : null
}

const hasPictures = ({ pictures }: BesideSheets, { terms }: Mask): boolean =>
  terms.every((term) => term.kind !== 'picture' || pictures.some(({ id }) => id === term.pictureId))
