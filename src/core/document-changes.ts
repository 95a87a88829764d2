import { z } from 'zod'
import { InvalidValueError } from './errors'

/**
 * What differs between two states of a document, as a list that is small where the change was: states share what they have
 * in common by identity, so only what changed is looked at.
 */
const path = z.array(z.union([z.string(), z.number().int().min(0)]))
export const documentChangeSchema = z.union([
  z.strictObject({ path, value: z.unknown() }),
  z.strictObject({ path, gone: z.literal(true) }),
  /** `remove` items of a list from `at` on, with others in their place. */
  z.strictObject({
    path,
    at: z.number().int().min(0),
    remove: z.number().int().min(0),
    insert: z.array(z.unknown()),
  }),
])
export type DocumentChange = z.infer<typeof documentChangeSchema>
type Path = DocumentChange['path']

const isObject = (value: unknown): value is Readonly<Record<string, unknown>> =>
  typeof value === 'object' && value !== null && !Array.isArray(value)

function gather(before: unknown, after: unknown, path: Path, into: DocumentChange[]): void {
  if (Object.is(before, after)) return
  if (Array.isArray(before) && Array.isArray(after)) gatherList(before, after, path, into)
  else if (isObject(before) && isObject(after)) {
    for (const key of Object.keys(before))
      if (after[key] === undefined && before[key] !== undefined)
        into.push({ path: [...path, key], gone: true })
    for (const [key, value] of Object.entries(after))
      if (value !== undefined) gather(before[key], value, [...path, key], into)
  } else into.push({ path, value: after })
}

function gatherList(
  before: readonly unknown[],
  after: readonly unknown[],
  path: Path,
  into: DocumentChange[],
): void {
  if (before.length === after.length) {
    after.forEach((value, i) => gather(before[i], value, [...path, i], into))
    return
  }
  // What both begin and end with stands.
  const least = Math.min(before.length, after.length)
  let start = 0
  while (start < least && Object.is(before[start], after[start])) start++
  let end = 0
  while (end < least - start && Object.is(before[before.length - 1 - end], after[after.length - 1 - end]))
    end++
  into.push({
    path,
    at: start,
    remove: before.length - end - start,
    insert: after.slice(start, after.length - end),
  })
}

/** The changes that lead from one state to another. Both are plain data, as JSON can hold it. */
export function documentChanges(before: unknown, after: unknown): DocumentChange[] {
  const changes: DocumentChange[] = []
  gather(before, after, [], changes)
  return changes
}

function applyAt(value: unknown, change: DocumentChange, depth: number): unknown {
  if (depth === change.path.length) {
    if ('value' in change) return change.value
    if ('gone' in change) return undefined
    if (!Array.isArray(value)) throw new InvalidValueError(change.path.join('.'), 'must be a list')
    const { at, remove, insert } = change
    return [...value.slice(0, at), ...insert, ...value.slice(at + remove)]
  }
  const key = change.path[depth]
  if (Array.isArray(value) && typeof key === 'number' && key < value.length)
    return value.map((item: unknown, i) => (i === key ? applyAt(item, change, depth + 1) : item))
  if (!isObject(value) || typeof key !== 'string' || key === '__proto__')
    throw new InvalidValueError(change.path.slice(0, depth + 1).join('.'), 'must be there')
  const next = applyAt(value[key], change, depth + 1)
  const { [key]: _old, ...rest } = value
  return next === undefined && depth === change.path.length - 1 ? rest : { ...rest, [key]: next }
}

/** A state with changes made to it; what is given stays as it is. @throws {InvalidValueError} where a path leads nowhere. */
export const applyDocumentChanges = (document: unknown, changes: readonly DocumentChange[]): unknown =>
  changes.reduce<unknown>((now, change) => applyAt(now, change, 0), document)
