import type { Mask, SheetNode } from '@/core/sheet/sheet-schema'
import { passKind } from '@/core/passes/registry'
import { sheetUses } from '@/core/sheet/sheet-uses'
import { rigOfPass } from '../active-shot'
import { allPictures, asStill } from '../project-pictures'
import type { Project, ProjectSheet } from '../project-schema'
import { RECIPE_VERSION, type OwnNameKind, type Recipe } from './recipe-schema'
import { rewrite, rewriteMembers, rewriteRig } from './rewrite'

/** A recipe, and which picture of the project each of its own is. */
export interface MadeRecipe {
  readonly recipe: Recipe
  /** Ids of files of the project, by the recipe's names of its pictures. */
  readonly fileIds: ReadonlyMap<string, string>
}

/** Gives names of the recipe's own, always the same for the same thing, in the order they are asked for. */
class OwnNames {
  private readonly names = new Map<string, string>()
  private readonly counts = new Map<OwnNameKind, number>()

  of(kind: OwnNameKind, id: string): string {
    const key = `${kind} ${id}`
    const before = this.names.get(key)
    if (before) return before
    const number = (this.counts.get(kind) ?? 0) + 1
    this.counts.set(kind, number)
    this.names.set(key, `${kind}:${number}`)
    return `${kind}:${number}`
  }

  /** The name of each thing of a list that was asked for. */
  named<T>(kind: OwnNameKind, list: readonly T[], idOf: (item: T) => string): { id: string; item: T }[] {
    return list.flatMap((item) => {
      const id = this.names.get(`${kind} ${idOf(item)}`)
      return id ? [{ id, item }] : []
    })
  }
}

/**
 * What a sheet is made by, without what it is made from: its passes as they are set up, their lights, its stack. What was painted, or
 * done to lines by hand, belongs to one picture and stays behind.
 * @param given name, id and note of the recipe.
 */
export function makeRecipe(
  project: Project,
  sheet: ProjectSheet,
  given: Pick<Recipe, 'id' | 'name' | 'note'>,
): MadeRecipe {
  const names = new OwnNames()
  const partName = (key: string) => [names.of('part', key)]
  const uses = sheetUses(sheet)
  const passes = project.passes.filter(
    (pass) => uses.ids.has(pass.id) || (pass.shotId === sheet.shotId && uses.kinds.has(pass.kind)),
  )
  const isPass = new Set(passes.map(({ id }) => id))
  // Fonts that were brought go along as pictures do.
  const files: readonly {
    readonly id: string
    readonly name: string
    readonly fileId: string
    readonly licence?: string
  }[] = [...allPictures(project), ...project.fonts]
  const isPicture = new Set(files.map(({ id }) => id))
  const isLayer = new Set(Object.keys(sheet.nodes))
  const one = (text: string): string =>
    isLayer.has(text)
      ? names.of('layer', text)
      : isPass.has(text)
        ? names.of('pass', text)
        : isPicture.has(text)
          ? names.of('picture', text)
          : text
  const { shotId: _shot, ...bare } = sheet
  const nodes = Object.fromEntries(
    Object.entries(sheet.nodes).map(([id, node]) => [id, withoutHand(node)] as const),
  )
  const own = rewrite({ ...bare, name: given.name, nodes }, one, {
    parts: partName,
    materials: (key) => [names.of('material', key)],
    groups: (name) => [names.of('group', name)],
  })
  const rigs = new Map(passes.filter(usesLight).map((pass) => [pass.id, rigOfPass(project, pass)] as const))
  const lit = new Map([...rigs.values()].map((rig) => [rig.id, rig]))
  const recipePasses = passes.map(({ id, kind, name, members, denoise, effort, params }) => {
    const rig = rigs.get(id)
    return {
      id: names.of('pass', id),
      kind,
      name,
      rigId: rig ? names.of('rig', rig.id) : null,
      members: rewriteMembers(members, partName, (light) => [light]),
      denoise,
      effort: { ...effort },
      params: structuredClone(params),
    }
  })
  const recipeRigs = [...lit.values()].map((rig) =>
    rewriteRig(rig, names.of('rig', rig.id), partName, one, (light) => light),
  )
  const groupNames = new Map(project.groups.map(({ id, name }) => [id, name]))
  const pictures = names.named('picture', files, ({ id }) => id)
  const recipe: Recipe = {
    version: RECIPE_VERSION,
    ...given,
    sheet: { ...own, id: 'sheet' },
    passes: recipePasses,
    rigs: recipeRigs,
    pictures: pictures.map(({ id, item }) => ({
      id,
      name: item.name,
      ...(item.licence !== undefined && { licence: item.licence }),
    })),
    parts: project.models.flatMap((model) =>
      names
        .named('part', model.parts, ({ key }) => key)
        .map(({ id, item }) => ({
          id,
          name: item.name,
          role: item.role,
          materials: item.materials.map((index) => model.materials[index]?.name ?? ''),
          group: (item.groupId !== null && groupNames.get(item.groupId)) || null,
        })),
    ),
    materials: project.models.flatMap((model) =>
      names
        .named('material', model.materials, ({ key }) => key)
        .map(({ id, item }) => ({ id, name: item.name, colour: item.baseColour })),
    ),
    groups: names
      .named('group', [...new Set(project.groups.map(({ name }) => name))], (name) => name)
      .map(({ id, item }) => ({ id, name: item })),
  }
  return {
    recipe: withGone(recipe),
    fileIds: new Map(pictures.map(({ id, item }) => [id, item.fileId])),
  }
}

/** Whether it matters which rig a pass is lit by: for what it renders, or for what its lines go by. */
const usesLight = ({ kind, params }: Project['passes'][number]): boolean => {
  const { usesLights, lookSchema } = passKind(kind)
  return usesLights(params) || 'lightFrom' in lookSchema.shape
}

function withoutHand(node: SheetNode): SheetNode {
  const { content } = node
  const mask = unpaintedMask(node.mask)
  const effects = node.effects.map((effect) => ({ ...effect, mask: unpaintedMask(effect.mask) }))
  const rest = { ...asStill(node), mask, effects }
  if (content.kind === 'painted') {
    const { seenBy: _view, ...painted } = content
    return { ...rest, content: { ...painted, tiles: {} } }
  }
  if (content.kind === 'cracks') return { ...rest, content: { ...content, lines: [] } }
  if (content.kind !== 'pass') return rest
  const { byHand: _hand, ...own } = content
  return { ...rest, content: own }
}

/** A mask without what was painted: the term stays, to be painted anew. */
const unpaintedMask = (mask: Mask | null): Mask | null =>
  mask && {
    ...mask,
    terms: mask.terms.map((term) => (term.kind === 'painted' ? { ...term, tiles: {} } : term)),
    effects: mask.effects.map((effect) => ({ ...effect, mask: unpaintedMask(effect.mask) })),
  }

/** Parts, materials and groups that the sheet still names although they are gone have no description: they are let go of. */
function withGone(recipe: Recipe): Recipe {
  const known = new Set(
    [recipe.parts, recipe.materials, recipe.groups].flatMap((list) => list.map(({ id }) => id)),
  )
  const kept = (text: string) => (known.has(text) ? [text] : [])
  const itself = (text: string) => text
  return {
    ...recipe,
    sheet: rewrite(recipe.sheet, itself, { parts: kept, materials: kept, groups: kept }),
    passes: recipe.passes.map((pass) => ({
      ...pass,
      members: rewriteMembers(pass.members, kept, (light) => [light]),
    })),
    rigs: recipe.rigs.map((rig) => rewriteRig(rig, rig.id, kept, itself, itself)),
  }
}
