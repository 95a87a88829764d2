import { paramDefaults, type ParamValues } from '../params'
import type { Effort, EffortName } from '../passes/effort'
import type { PassMembers, PassOrder } from '../passes/render-tile'
import { passKind, type PassKindName } from '../passes/registry'
import type { Rig } from '../scene/light-rig'
import { roleMask, SEEN_BY_CAMERA } from '../scene/part-role'
import type { ScenePart } from '../scene/scene-geometry'
import { fitsPattern } from './part-sets'
import type { OneMaterialPart } from './split-materials'

/** Parts that come out as one picture. */
export interface PartSet {
  readonly name: string
  /** Keys of its parts. */
  readonly parts: readonly string[]
}

/** How sets are cut: each as if nothing stood before it, or only what is seen of it. */
export type Separation = 'whole' | 'seen'

/** A pass that sets are rendered in. */
export interface SeparatePass {
  readonly kind: PassKindName
  readonly params: ParamValues
  readonly effort: Effort
  readonly rig?: Rig
}

const isSeen = ({ role }: Pick<ScenePart, 'role'>): boolean => (roleMask(role) & SEEN_BY_CAMERA) !== 0

/** Parts that have triangles. @param boxes see `RayTree.partBoxes`. */
export const partsWithShape = (parts: readonly ScenePart[], boxes: Float32Array): ScenePart[] =>
  parts.filter((_, part) => boxes[6 * part] <= boxes[6 * part + 3])

/** How sets are made of parts. */
export const SETS_BY = ['part', 'group', 'material'] as const
export type SetsBy = (typeof SETS_BY)[number]

/**
 * Parts as sets: each alone, by their outermost groups, or by their materials.
 * @param parts by materials such as `splitByMaterials` makes.
 */
export const setsBy = (by: SetsBy, parts: readonly (ScenePart | OneMaterialPart)[]): PartSet[] => {
  if (by === 'group') return setsOfGroups(parts)
  return by === 'material' ? setsOfMaterials(parts) : setsOfParts(parts)
}

/** Those of some sets whose name fits a pattern, see `fitsPattern`; a part also with the groups that it lies in. */
export function setsFitting(
  by: SetsBy,
  sets: readonly PartSet[],
  parts: readonly ScenePart[],
  pattern: string,
): PartSet[] {
  const groups = new Map(parts.map(({ key, group = [] }) => [key, group]))
  return sets.filter(({ name, parts: keys }) =>
    fitsPattern(name, by === 'part' ? (groups.get(keys[0]) ?? []) : [], pattern),
  )
}

/** Every part that the camera may see, as a set of its own, in the order of the scene. */
const setsOfParts = (parts: readonly ScenePart[]): PartSet[] =>
  parts.filter(isSeen).map(({ key, name }) => ({ name, parts: [key] }))

/** Sets by the outermost group that parts lie in; parts in no group are sets of their own. */
function setsOfGroups(parts: readonly ScenePart[]): PartSet[] {
  const sets: { name: string; parts: string[] }[] = []
  const ofGroup = new Map<string, string[]>()
  for (const part of parts.filter(isSeen)) {
    const group = part.group?.at(0)
    const there = group === undefined ? undefined : ofGroup.get(group)
    if (there) {
      there.push(part.key)
      continue
    }
    const keys = [part.key]
    sets.push({ name: group ?? part.name, parts: keys })
    if (group !== undefined) ofGroup.set(group, keys)
  }
  return sets
}

/** Sets by what parts are made of, in the order in which materials are met. */
function setsOfMaterials(parts: readonly (ScenePart | OneMaterialPart)[]): PartSet[] {
  const sets = new Map<string, { name: string; parts: string[] }>()
  for (const part of parts) {
    if (!isSeen(part) || !('material' in part)) continue
    const { key, name } = part.material
    const own = sets.get(key) ?? { name, parts: [] }
    own.parts.push(part.key)
    sets.set(key, own)
  }
  return [...sets.values()]
}

const members = (own: Partial<PassMembers>): PassMembers => ({
  parts: null,
  others: 'hold out',
  letThrough: [],
  lights: null,
  ...own,
})

/**
 * The pass of one set: lit, shaded and mirrored in the whole scene.
 * @param cut keys of parts that are behind it and hide it nevertheless.
 */
export const setOrder = (
  pass: SeparatePass,
  set: PartSet,
  how: Separation,
  cut: readonly string[] = [],
): PassOrder => ({
  ...pass,
  members: members({
    parts: [...set.parts],
    others: how === 'whole' ? 'look past' : 'hold out',
    ...(how === 'whole' && cut.length > 0 && { holdOut: [...cut] }),
  }),
})

/** Of the shadow of one set: there are many of them, each on the whole picture. */
export const SET_SHADOW_EFFORTS: Readonly<Record<EffortName, Effort>> = {
  draft: { samples: 2, rays: 4 },
  good: { samples: 4, rays: 8 },
  final: { samples: 8, rays: 16 },
}

/** The shadow that one set alone throws on all others, also beneath itself where it is whole. */
export function setShadowOrder(
  effort: Effort,
  set: PartSet,
  all: readonly ScenePart[],
  how: Separation,
  look: ParamValues,
  rig?: Rig,
): PassOrder {
  const own = new Set(set.parts)
  const others = all.map(({ key }) => key).filter((key) => !own.has(key))
  return {
    kind: 'shadow',
    params: { ...paramDefaults(passKind('shadow').renderSchema), on: 'all' },
    effort,
    rig,
    shownAs: look,
    members: members({
      parts: others,
      others: how === 'whole' ? 'look past' : 'hold out',
      letThrough: others,
    }),
  }
}

/** What of one set alone the ground mirrors, also beneath itself where it is whole. */
export function setReflectionOrder(
  effort: Effort,
  set: PartSet,
  all: readonly ScenePart[],
  how: Separation,
  params: ParamValues,
  rig?: Rig,
): PassOrder {
  const own = new Set(set.parts)
  return {
    kind: 'reflection',
    params: { ...paramDefaults(passKind('reflection').renderSchema), ...params },
    effort,
    rig,
    members: members({
      parts: all.map(({ key }) => key).filter((key) => !own.has(key)),
      others: how === 'whole' ? 'look past' : 'hold out',
      mirrored: [...set.parts],
    }),
  }
}

/** How far away one set alone is, for its place in the order. */
export const setDepthOrder = (set: PartSet): PassOrder => ({
  kind: 'depth',
  params: {},
  effort: { samples: 1, rays: 0 },
  members: members({ parts: [...set.parts], others: 'look past' }),
})
