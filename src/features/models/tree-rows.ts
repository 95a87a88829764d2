import type { PartGroup, Project, ProjectModel, ProjectPart } from '@/data/project-schema'

/** A line of the parts tree. */
export type TreeRow =
  | {
      readonly type: 'group'
      readonly key: string
      readonly depth: number
      readonly group: PartGroup
      readonly size: number
    }
  | { readonly type: 'model'; readonly key: string; readonly depth: number; readonly model: ProjectModel }
  | {
      readonly type: 'part'
      readonly key: string
      readonly depth: number
      readonly part: ProjectPart
      readonly model: ProjectModel
      /** Names of its materials. */
      readonly materials: string
    }

const materialsOf = (model: ProjectModel, part: ProjectPart): string =>
  part.materials.map((m) => model.materials[m]?.name ?? '').join(', ')

/**
 * The lines of the parts tree: groups with what is in them first, then each model with its other parts as its file has
 * them. A search shows only what fits it, with the lines above it.
 * @param folded keys of groups and models whose inside is not shown; a search looks into them all the same.
 */
export function treeRows(
  project: Pick<Project, 'models' | 'groups'>,
  search: string,
  folded: ReadonlySet<string>,
): TreeRow[] {
  const wanted = search.trim().toLowerCase()
  const fits = (text: string) => wanted === '' || text.toLowerCase().includes(wanted)
  const partFits = (model: ProjectModel, part: ProjectPart) =>
    fits(`${part.name} ${materialsOf(model, part)}`)
  const isOpen = (key: string) => wanted !== '' || !folded.has(key)

  const grouped = new Map<string, { part: ProjectPart; model: ProjectModel }[]>()
  for (const model of project.models)
    for (const part of model.parts)
      if (part.groupId !== null) {
        const list = grouped.get(part.groupId) ?? []
        list.push({ part, model })
        grouped.set(part.groupId, list)
      }

  const rows: TreeRow[] = []
  const line = (model: ProjectModel, part: ProjectPart, depth: number): TreeRow => ({
    type: 'part',
    key: part.key,
    depth,
    part,
    model,
    materials: materialsOf(model, part),
  })
  const addGroups = (parentId: string | null, depth: number): boolean => {
    let found = false
    for (const group of project.groups) {
      if (group.parentId !== parentId) continue
      const key = `group ${group.id}`
      const inside = grouped.get(group.id) ?? []
      const at = rows.length
      rows.push({ type: 'group', key, depth, group, size: inside.length })
      const own = fits(group.name)
      const open = isOpen(key)
      const shown = inside.filter(({ model, part }) => own || partFits(model, part))
      if (open) for (const { model, part } of shown) rows.push(line(model, part, depth + 1))
      const below = rows.length
      const deeper = addGroups(group.id, depth + 1)
      if (!open) rows.length = below
      if (own || shown.length > 0 || deeper) found = true
      else rows.length = at
    }
    return found
  }
  addGroups(null, 0)

  for (const model of project.models) {
    const key = `model ${model.id}`
    const own = fits(model.name)
    const at = rows.length
    rows.push({ type: 'model', key, depth: 0, model })
    const depths: number[] = []
    let shown = 0
    for (const [i, part] of model.parts.entries()) {
      // What stands above it in the file may have been put into a group: then it moves up.
      depths[i] =
        part.parent < 0 ? 1 : depths[part.parent] + (model.parts[part.parent].groupId === null ? 1 : 0)
      if (part.groupId !== null || !(own || partFits(model, part))) continue
      shown++
      if (isOpen(key)) rows.push(line(model, part, depths[i]))
    }
    if (wanted !== '' && shown === 0 && !own) rows.length = at
  }
  return rows
}

/** Keys of the parts between two lines, both included, whichever comes first. */
export function partsBetween(rows: readonly TreeRow[], from: string, to: string): string[] {
  const [a, b] = [rows.findIndex((r) => r.key === from), rows.findIndex((r) => r.key === to)].sort(
    (x, y) => x - y,
  )
  return rows
    .slice(Math.max(0, a), b + 1)
    .filter((row) => row.type === 'part')
    .map((row) => row.key)
}

/** Keys of all parts in a group, those in groups inside it too. */
export function partsInGroup(project: Pick<Project, 'models' | 'groups'>, id: string): string[] {
  const inside = new Set([id])
  // Groups may stand in any order: look until none is found any more.
  for (let before = 0; before !== inside.size;) {
    before = inside.size
    for (const group of project.groups)
      if (group.parentId !== null && inside.has(group.parentId)) inside.add(group.id)
  }
  return project.models
    .flatMap((model) => model.parts)
    .filter((part) => part.groupId !== null && inside.has(part.groupId))
    .map((part) => part.key)
}
