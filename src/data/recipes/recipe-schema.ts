import { z } from 'zod'
import { paramValuesSchema } from '@/core/params'
import { effortSchema } from '@/core/passes/effort'
import { PASS_KINDS } from '@/core/passes/registry'
import { passMembersSchema } from '@/core/passes/render-tile'
import { rigSchema } from '@/core/scene/light-rig'
import { partRoleSchema } from '@/core/scene/part-role'
import { treeSchema } from '@/core/sheet/sheet-schema'
import { validateTree } from '@/core/sheet/sheet-tree'

/**
 * A recipe: passes, lights, stack, masks and effects without the model. What belongs to one project alone (its parts, materials,
 * groups, passes, pictures, rigs) stands in it by a _name of the recipe's own_, `part:3`, and is described beside it, so that
 * another project's like can be found. docs/recipe-file.md tells the file.
 */

export const RECIPE_VERSION = 1

/** What a recipe names. */
export const OWN_NAMES = ['layer', 'pass', 'picture', 'rig', 'part', 'material', 'group'] as const
export type OwnNameKind = (typeof OWN_NAMES)[number]

const ownName = (kind: OwnNameKind) =>
  z.string().regex(new RegExp(`^${kind}:[\\w-]+$`), `must look like ${kind}:name`)

export const recipePassSchema = z.object({
  id: ownName('pass'),
  kind: z.enum(PASS_KINDS),
  name: z.string(),
  /** The rig it is lit by; null where it needs no light. */
  rigId: ownName('rig').nullable(),
  /** Parts by the recipe's names, lights by the ids they have in the rig. */
  members: passMembersSchema,
  denoise: z.boolean(),
  effort: effortSchema,
  params: paramValuesSchema,
})
export type RecipePass = z.infer<typeof recipePassSchema>

export const recipePartSchema = z.object({
  id: ownName('part'),
  name: z.string(),
  role: partRoleSchema,
  /** Names of the materials on it. */
  materials: z.array(z.string()),
  /** The group it was in, or null. */
  group: z.string().nullable(),
})

export const recipeSchema = z.object({
  version: z.literal(RECIPE_VERSION),
  id: z.string().min(1),
  name: z.string().min(1),
  /** What the picture becomes, in a sentence. */
  note: z.string(),
  /** Its lengths are those of its own size. */
  sheet: treeSchema.omit({ shotId: true }),
  passes: z.array(recipePassSchema),
  rigs: z.array(rigSchema.extend({ id: ownName('rig') })),
  /** Files that it brings along: pictures, and fonts, which say what they are licensed under. */
  pictures: z.array(z.object({ id: ownName('picture'), name: z.string(), licence: z.string().optional() })),
  parts: z.array(recipePartSchema),
  materials: z.array(
    z.object({
      id: ownName('material'),
      name: z.string(),
      /** Display values. */
      colour: z.tuple([z.number(), z.number(), z.number()]),
    }),
  ),
  groups: z.array(z.object({ id: ownName('group'), name: z.string() })),
})
export type Recipe = z.infer<typeof recipeSchema>

/** Everything that a value holds as text, but names of layers. */
export function textsIn(value: unknown): string[] {
  if (typeof value === 'string') return [value]
  if (value === null || typeof value !== 'object') return []
  return Object.entries(value).flatMap(([key, inner]) => (key === 'name' ? [] : textsIn(inner)))
}

const NAMED = new RegExp(`^(${OWN_NAMES.join('|')}):[\\w-]+$`)

/** Checks what a schema cannot: that everything a recipe names is described in it, once. In words. */
export function validateRecipe(recipe: Recipe): string[] {
  const problems = validateTree(recipe.sheet)
  const described = new Set(Object.keys(recipe.sheet.nodes))
  for (const list of [
    recipe.passes,
    recipe.rigs,
    recipe.pictures,
    recipe.parts,
    recipe.materials,
    recipe.groups,
  ])
    for (const { id } of list) {
      if (described.has(id)) problems.push(`${id} is described twice`)
      described.add(id)
    }
  const named = textsIn([recipe.sheet, recipe.passes, recipe.rigs]).filter((text) => NAMED.test(text))
  for (const text of new Set(named))
    if (!described.has(text)) problems.push(`it names ${text}, which it does not describe`)
  return problems
}
