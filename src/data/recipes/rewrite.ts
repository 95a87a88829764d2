import type { Light, Rig } from '@/core/scene/light-rig'
import type { PassMembers } from '@/core/passes/render-tile'

/** What stands for a thing elsewhere: in lists any number of others, else the first, or nothing. */
export type Elsewhere = (text: string) => readonly string[]

/** Names in lists that belong to one kind of thing: keys of parts and of materials may be spelled alike. */
export interface ListNames {
  readonly parts: Elsewhere
  readonly materials: Elsewhere
  readonly groups: Elsewhere
}

/** Fields of other things, by their kind, that are such lists: what throws a fallen shadow. */
const IN_FIELDS: Readonly<Record<string, keyof ListNames>> = { fallenShadow: 'parts' }

const everyOf = (list: readonly string[], elsewhere: Elsewhere): string[] => [
  ...new Set(list.flatMap(elsewhere)),
]

/**
 * A copy of plain data in which everything named is named otherwise: layers, passes and pictures by `one`, what mask terms choose
 * by their own lists. Names that people gave (`name`) stay.
 */
export function rewrite<T>(value: T, one: (text: string) => string, lists: ListNames): T {
  const walk = (inner: unknown, key: string): unknown => {
    if (typeof inner === 'string') return key === 'name' ? inner : one(inner)
    if (Array.isArray(inner)) return inner.map((each) => walk(each, ''))
    if (inner === null || typeof inner !== 'object') return inner
    const fields = inner as Record<string, unknown>
    const kind = String(fields.kind)
    const own = Object.hasOwn(lists, kind) ? lists[kind as keyof ListNames] : null
    const inField = Object.hasOwn(IN_FIELDS, kind) ? IN_FIELDS[kind] : null
    return Object.fromEntries(
      Object.entries(fields).map(([name, field]) => [
        // The dictionary of layers is by their ids.
        key === 'nodes' ? one(name) : name,
        own && name === 'keys' && Array.isArray(field)
          ? everyOf(field.map(String), own)
          : inField && name === inField && Array.isArray(field)
            ? everyOf(field.map(String), lists[inField])
            : walk(field, name),
      ]),
    )
  }
  return walk(value, '') as T
}

/** Members of a pass, their parts and lights named otherwise. */
export const rewriteMembers = (members: PassMembers, parts: Elsewhere, light: Elsewhere): PassMembers => ({
  ...members,
  parts: members.parts && everyOf(members.parts, parts),
  letThrough: everyOf(members.letThrough, parts),
  lights: members.lights && everyOf(members.lights, light),
})

/** A rig under another id, what its lights name named otherwise. */
export const rewriteRig = (
  rig: Rig,
  id: string,
  parts: Elsewhere,
  picture: (text: string) => string,
  light: (text: string) => string,
): Rig => ({
  ...rig,
  id,
  lights: rig.lights.map((own): Light => {
    const next = {
      ...own,
      id: light(own.id),
      lights: own.lights && everyOf(own.lights, parts),
      throws: own.throws && everyOf(own.throws, parts),
    }
    return next.kind === 'dome' && next.pictureId !== null
      ? { ...next, pictureId: picture(next.pictureId) }
      : next
  }),
})
