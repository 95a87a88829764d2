import { canonicalJson } from '@/core/math/stable-hash'
import { oklabDistance, srgbToOklab } from '@/core/math/oklab'
import { passKind } from '@/core/passes/registry'
import type { Rig } from '@/core/scene/light-rig'
import { activeShot, passesOf, rigOfPass } from '../active-shot'
import type { Project, ProjectMaterial, ProjectPart } from '../project-schema'
import { textsIn, type OwnNameKind, type Recipe, type RecipePass } from './recipe-schema'
import { rewriteMembers, rewriteRig } from './rewrite'

/** How something of a recipe was found in a project. */
export const FOUND_BY = ['name', 'alike', 'group', 'material', 'colour', 'role', 'nothing'] as const
export type FoundBy = (typeof FOUND_BY)[number]

/** Something that a recipe names and a project must have: what it is here. */
export interface RecipeMatch {
  /** The recipe's own name of it. */
  readonly id: string
  readonly kind: Extract<OwnNameKind, 'part' | 'material' | 'group'>
  readonly name: string
  readonly by: FoundBy
  /** Keys of parts or of materials, names of groups; empty where there is none. */
  readonly keys: readonly string[]
  /** Names of the layers, passes and lights that name it. */
  readonly usedBy: readonly string[]
}

/** Whether a match is to be taken without asking: the same name says enough. */
export const isSure = ({ by }: RecipeMatch): boolean => by === 'name'

/** What each of the recipe's own names is here. */
export type Answers = ReadonlyMap<string, readonly string[]>

export const answersOf = (matches: readonly RecipeMatch[]): Map<string, readonly string[]> =>
  new Map(matches.map(({ id, keys }) => [id, keys]))

const plain = (name: string): string => name.trim().toLowerCase()

/** A name's words, without numbers and what parts them: "Roof_panel.003" is "panel roof", whichever stands first. */
const wordsOf = (name: string): string =>
  name
    .replace(/(\p{Ll})(\p{Lu})/gu, '$1 $2')
    .toLowerCase()
    .split(/[^\p{L}]+/u)
    .filter(Boolean)
    .sort()
    .join(' ')

/** How far apart two colours may be and still be taken for one material, in OKLab. */
const LIKE_COLOUR = 0.12

/**
 * Finds what a recipe names in a project: parts by their name, by one spelled alike, by their group, by their material, at last
 * by their role; materials by name, or by their colour; groups by name. What was not found by its name is a guess to be asked about.
 */
export function matchRecipe(recipe: Recipe, project: Pick<Project, 'models' | 'groups'>): RecipeMatch[] {
  const parts = project.models.flatMap((model) =>
    model.parts.map((part) => ({
      part,
      materials: part.materials.map((i) => model.materials[i]?.name ?? ''),
    })),
  )
  const materials = project.models.flatMap((model) => model.materials)
  const groupIds = (name: string) =>
    new Set(project.groups.filter((group) => plain(group.name) === plain(name)).map(({ id }) => id))
  const usedBy = usersOf(recipe)
  const keysOf = (list: readonly { readonly part: ProjectPart }[]) => list.map(({ part }) => part.key)
  const found = (
    kind: RecipeMatch['kind'],
    { id, name }: { readonly id: string; readonly name: string },
    ways: readonly (readonly [FoundBy, () => readonly string[]])[],
  ): RecipeMatch => {
    for (const [by, look] of ways) {
      const keys = look()
      if (keys.length > 0) return { id, kind, name, by, keys, usedBy: usedBy.get(id) ?? [] }
    }
    return { id, kind, name, by: 'nothing', keys: [], usedBy: usedBy.get(id) ?? [] }
  }
  return [
    ...recipe.parts.map((own) =>
      found('part', own, [
        ['name', () => keysOf(parts.filter(({ part }) => plain(part.name) === plain(own.name)))],
        ['alike', () => keysOf(parts.filter(({ part }) => isAlike(part.name, own.name)))],
        [
          'group',
          () => {
            const ids = own.group === null ? new Set<string>() : groupIds(own.group)
            return keysOf(parts.filter(({ part }) => part.groupId !== null && ids.has(part.groupId)))
          },
        ],
        [
          'material',
          () => {
            const names = new Set(own.materials.map(plain))
            return keysOf(parts.filter((p) => p.materials.some((name) => names.has(plain(name)))))
          },
        ],
        [
          'role',
          () => (own.role === 'subject' ? [] : keysOf(parts.filter(({ part }) => part.role === own.role))),
        ],
      ]),
    ),
    ...recipe.materials.map((own) =>
      found('material', own, [
        ['name', () => materials.filter((m) => plain(m.name) === plain(own.name)).map(({ key }) => key)],
        ['alike', () => materials.filter((m) => isAlike(m.name, own.name)).map(({ key }) => key)],
        ['colour', () => likeColour(materials, own.colour)],
      ]),
    ),
    ...recipe.groups.map((own) =>
      found('group', own, [
        [
          'name',
          () => [
            ...new Set(
              project.groups.filter((g) => plain(g.name) === plain(own.name)).map(({ name }) => name),
            ),
          ],
        ],
        [
          'alike',
          () => [...new Set(project.groups.filter((g) => isAlike(g.name, own.name)).map(({ name }) => name))],
        ],
      ]),
    ),
  ]
}

const isAlike = (a: string, b: string): boolean => wordsOf(a) !== '' && wordsOf(a) === wordsOf(b)

function likeColour(
  materials: readonly ProjectMaterial[],
  colour: readonly [number, number, number],
): string[] {
  const wanted = srgbToOklab(colour)
  const [nearest] = materials
    .map(({ key, baseColour }) => ({ key, far: oklabDistance(srgbToOklab(baseColour), wanted) }))
    .filter(({ far }) => far <= LIKE_COLOUR)
    .sort((a, b) => a.far - b.far)
  return nearest ? [nearest.key] : []
}

/** For each of the recipe's own names, the names of what names it. */
function usersOf({ sheet, passes, rigs }: Recipe): Map<string, string[]> {
  const users = new Map<string, string[]>()
  const note = (name: string, value: unknown): void => {
    for (const text of new Set(textsIn(value))) {
      const known = users.get(text)
      if (known) known.push(name)
      else users.set(text, [name])
    }
  }
  for (const node of Object.values(sheet.nodes)) note(node.name, node)
  for (const pass of passes) note(pass.name, pass.members)
  for (const { lights } of rigs) for (const light of lights) note(light.name, light)
  return users
}

/** A rig as far as it lights: what it is called, and by which ids, does not matter. */
const lightingOf = (rig: Rig): string =>
  canonicalJson(rig.lights.map(({ id: _id, name: _name, ...light }) => light))

/** Where the lights of a rig stand in it: members name them by ids, which differ. */
const lightPlaces = (rig: Rig, lights: readonly string[] | null): string =>
  canonicalJson(lights?.map((id) => rig.lights.findIndex((light) => light.id === id)) ?? null)

/** What passes and rigs of a recipe are in a project as it is answered. */
export interface PassMatch {
  readonly own: RecipePass
  /** The pass of the shot that is set up alike, or null: it is to be added. */
  readonly passId: string | null
  /** Whether that one is rendered. */
  readonly isRendered: boolean
}

export function matchPasses(recipe: Recipe, project: Project, answers: Answers): PassMatch[] {
  const shot = activeShot(project)
  const of = (text: string) => answers.get(text) ?? []
  const taken = new Set<string>()
  return recipe.passes.map((own) => {
    const { lookSchema: _look, usesLights } = passKind(own.kind)
    const rig = recipe.rigs.find(({ id }) => id === own.rigId)
    const lit =
      rig &&
      rewriteRig(
        rig,
        rig.id,
        of,
        (text) => of(text)[0] ?? text,
        (light) => light,
      )
    const asHere = rewriteMembers(own.members, of, (light) => [light])
    const isLit = lit !== undefined && usesLights(own.params)
    const found = passesOf(project, shot.id).find((pass) => {
      if (taken.has(pass.id) || pass.kind !== own.kind) return false
      if (canonicalJson(pass.params) !== canonicalJson(own.params)) return false
      const here = rigOfPass(project, pass)
      const { lights: ownLights, ...ownParts } = asHere
      const { lights: hereLights, ...hereParts } = pass.members
      if (canonicalJson(ownParts) !== canonicalJson(hereParts)) return false
      return (
        !isLit ||
        (lightingOf(lit) === lightingOf(here) &&
          lightPlaces(lit, ownLights) === lightPlaces(here, hereLights))
      )
    })
    if (found) taken.add(found.id)
    return { own, passId: found?.id ?? null, isRendered: Boolean(found?.rendered) }
  })
}

/** The rig of a project that lights as a recipe's does; null where none does. */
export function matchRig(rig: Rig, project: Pick<Project, 'rigs'>, answers: Answers): Rig | null {
  const of = (text: string) => answers.get(text) ?? []
  const own = lightingOf(
    rewriteRig(
      rig,
      rig.id,
      of,
      (text) => of(text)[0] ?? text,
      (light) => light,
    ),
  )
  return project.rigs.find((here) => lightingOf(here) === own) ?? null
}
