import type { ProjectModel } from './project-schema'

/** A named thing in a tree, as its file has it. */
export interface FiledPart {
  readonly name: string
  readonly parent: number
}

/** What did not find its like when a model was replaced by a newer file; names as people know them. */
export interface Unmatched {
  /** Parts that the new file no longer has. */
  readonly gone: readonly string[]
  /** Parts that only the new file has. */
  readonly added: readonly string[]
  readonly goneMaterials: readonly string[]
  readonly addedMaterials: readonly string[]
}

/** Names with those of all above, and which of its like it is: equal only for the same thing. */
function pathsOf(parts: readonly FiledPart[]): string[] {
  const paths: string[] = []
  const seen = new Map<string, number>()
  for (const { name, parent } of parts) {
    const path = JSON.stringify([parent >= 0 ? paths[parent] : '', name])
    const nth = (seen.get(path) ?? 0) + 1
    seen.set(path, nth)
    paths.push(nth === 1 ? path : `${path} ${nth}`)
  }
  return paths
}

/** Names that occur once, with their index. */
function singles(names: readonly string[], free: (i: number) => boolean): Map<string, number> {
  const found = new Map<string, number>()
  names.forEach((name, i) => {
    if (free(i)) found.set(name, found.has(name) ? -1 : i)
  })
  for (const [name, i] of found) if (i < 0) found.delete(name)
  return found
}

/**
 * For each of the new ones the index of its like among the old, or −1: the same names all the way up; else the same name
 * where it is the only one left of that name on both sides.
 */
export function matchParts(before: readonly FiledPart[], now: readonly FiledPart[]): number[] {
  const old = new Map(pathsOf(before).map((path, i) => [path, i]))
  const match = pathsOf(now).map((path) => old.get(path) ?? -1)
  const taken = new Set(match)
  const oldNames = singles(
    before.map((p) => p.name),
    (i) => !taken.has(i),
  )
  const newNames = singles(
    now.map((p) => p.name),
    (i) => match[i] < 0,
  )
  for (const [name, i] of newNames) match[i] = oldNames.get(name) ?? -1
  return match
}

const lastNumber = (keys: readonly { readonly key: string }[]): number =>
  Math.max(-1, ...keys.map(({ key }) => Number(key.slice(key.lastIndexOf('/') + 1)) || 0))

/** The list with keys kept for what has its like, and keys never used before for the rest. */
function rekeyed<T extends { readonly key: string }>(
  id: string,
  before: readonly T[],
  now: readonly T[],
  match: readonly number[],
  carry: (old: T, fresh: T) => T,
): T[] {
  let next = lastNumber(before) + 1
  return now.map((fresh, i) =>
    match[i] >= 0
      ? { ...carry(before[match[i]], fresh), key: before[match[i]].key }
      : { ...fresh, key: `${id}/${next++}` },
  )
}

const missing = <T extends { readonly name: string }>(
  list: readonly T[],
  match: readonly number[],
): string[] => list.filter((_, i) => !match.includes(i)).map((item) => item.name)

/**
 * A model whose file was replaced: the new geometry under the old names, roles, groups, colours, place and repairs.
 * @param oldParts, oldMaterials as the old file named them; people may have renamed them since.
 * @param fresh what the new file became, named as the file names it.
 */
export function carryOver(
  old: ProjectModel,
  oldParts: readonly FiledPart[],
  oldMaterials: readonly string[],
  fresh: ProjectModel,
): { readonly model: ProjectModel; readonly unmatched: Unmatched } {
  const parts = matchParts(oldParts, fresh.parts)
  const flat = (name: string): FiledPart => ({ name, parent: -1 })
  const materials = matchParts(
    oldMaterials.map(flat),
    fresh.materials.map(({ name }) => flat(name)),
  )
  const newNumber = new Map(parts.map((from, to) => [from, to]))
  const isOwnColour = (m: ProjectModel['materials'][number]) =>
    m.baseColour.some((v, i) => v !== m.fileColour[i])
  const model: ProjectModel = {
    ...fresh,
    id: old.id,
    name: old.name,
    placement: old.placement,
    copies: old.copies,
    repairs: old.repairs.map((repair) => ({
      ...repair,
      parts: repair.parts?.flatMap((p) => newNumber.get(p) ?? []) ?? null,
    })),
    parts: rekeyed(old.id, old.parts, fresh.parts, parts, (before, now) => ({
      ...now,
      name: before.name,
      role: before.role,
      hidden: before.hidden,
      groupId: before.groupId,
    })),
    materials: rekeyed(old.id, old.materials, fresh.materials, materials, (before, now) => ({
      ...before,
      baseColour: isOwnColour(before) ? before.baseColour : now.baseColour,
      fileColour: now.fileColour,
      texture: now.texture,
    })),
  }
  return {
    model,
    unmatched: {
      gone: missing(old.parts, parts),
      added: fresh.parts.filter((_, i) => parts[i] < 0).map((p) => p.name),
      goneMaterials: missing(old.materials, materials),
      addedMaterials: fresh.materials.filter((_, i) => materials[i] < 0).map((m) => m.name),
    },
  }
}
