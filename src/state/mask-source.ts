import type { Layer, MaskTerm } from '@/core/sheet/sheet-schema'
import { activePasses } from '@/data/active-shot'
import { plural } from '@/core/plural'
import type { Project } from '@/data/project-schema'

/** Keys of everything a term can name, now. */
const keysOf = (project: Project, by: MaskTerm['by']): Set<string> =>
  new Set(project.models.flatMap((m) => (by === 'part' ? m.parts : m.materials).map(({ key }) => key)))

/**
 * What a layer's mask has lost of what it is made from, in words; null where all is there. A mask without its ID pass
 * limits nothing, on the proof as in the file.
 */
export function maskProblem(project: Project, { mask }: Pick<Layer, 'mask'>): string | null {
  if (!mask) return null
  if (mask.picture !== null && !project.pictures.some(({ id }) => id === mask.picture))
    return 'the picture it is made from is gone'
  if (mask.terms.length === 0) return null
  const ids = activePasses(project).filter(({ kind }) => kind === 'id')
  if (ids.length === 0) return 'the ID pass it is made from was removed: it limits nothing'
  if (!ids.some(({ rendered }) => rendered))
    return 'the ID pass it is made from is not rendered: it limits nothing'
  const gone = mask.terms.reduce((count, { by, keys }) => {
    const known = keysOf(project, by)
    return count + keys.filter((key) => !known.has(key)).length
  }, 0)
  return gone > 0
    ? `${plural(gone, 'part or material', 'parts or materials')} that it names ${gone === 1 ? 'is' : 'are'} gone`
    : null
}
