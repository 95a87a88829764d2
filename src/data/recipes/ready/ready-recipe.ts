import { paramDefaults, parseParams, type ParamValues } from '@/core/params'
import { passKind, type PassKindName } from '@/core/passes/registry'
import { ALL_MEMBERS, type PassMembers } from '@/core/passes/render-tile'
import type { Light } from '@/core/scene/light-rig'
import { groupOf, newEffect, newLayer, newMask, passOf } from '@/core/sheet/new-layer'
import type { Mask, SheetEffect, SheetNode } from '@/core/sheet/sheet-schema'
import type { MaskTerm } from '@/core/sheet/terms/registry'
import { RECIPE_VERSION, type Recipe, type RecipePass } from '../recipe-schema'

/** Our own recipes are written down by these. Each is a file and a line in the registry. */

/** The size that the lengths of all of them are for. */
const SIZE = { width: 1200, height: 750 }

interface ReadyPass {
  readonly kind: PassKindName
  readonly name?: string
  readonly params?: ParamValues
  /** Which of the recipe's rigs it is lit by. */
  readonly rig?: string
  readonly members?: Partial<PassMembers>
}

/** A layer, and for a group those in it, back first. */
export interface ReadyLayer extends Partial<Omit<SheetNode, 'id' | 'name' | 'mask' | 'effects' | 'content'>> {
  readonly name: string
  readonly content?: SheetNode['content']
  readonly mask?: Mask
  readonly effects?: readonly SheetEffect[]
  readonly within?: readonly ReadyLayer[]
  /** What other layers call it by. */
  readonly called?: string
}

export interface ReadyRecipe {
  readonly id: string
  readonly name: string
  readonly note: string
  readonly background?: string
  readonly passes: Readonly<Record<string, ReadyPass>>
  readonly rigs?: Readonly<Record<string, readonly Light[]>>
  /** Back first. */
  readonly layers: readonly ReadyLayer[]
}

/** A pass of the recipe under a look: what is not said of it is as it begins. */
export const pass = (
  kind: PassKindName,
  look: ParamValues = {},
  called: string = kind,
): SheetNode['content'] => passOf(`pass:${called}`, { ...paramDefaults(passKind(kind).lookSchema), ...look })

/** A pass under one of its ready looks, changed. */
export const inLook = (kind: PassKindName, ready: string, look: ParamValues = {}): SheetNode['content'] =>
  pass(kind, { ...passKind(kind).readyLooks[ready].look, ...look })

let effectCount = 0
export const effect = (
  kind: string,
  params: ParamValues = {},
  rest: Partial<Pick<SheetEffect, 'opacity' | 'mask'>> = {},
): SheetEffect => {
  const begun = newEffect(`effect:${++effectCount}`, kind)
  return { ...begun, ...rest, params: { ...begun.params, ...params } }
}

export const masked = (terms: readonly MaskTerm[], rest: Partial<Omit<Mask, 'terms'>> = {}): Mask => ({
  ...newMask(),
  terms: [...terms],
  ...rest,
})

const rigName = (name: string): string => `rig:${name.toLowerCase().replaceAll(' ', '-')}`

export function readyRecipe(given: ReadyRecipe): Recipe {
  const nodes: Record<string, SheetNode> = {}
  let count = 0
  const hang = ({ called, within, content, mask, effects, ...layer }: ReadyLayer): string => {
    const id = `layer:${called ?? ++count}`
    const held = within ? groupOf(within.map(hang), content?.kind !== 'group' || content.isolated) : content
    if (!held) throw new Error(`recipe ${given.id}: layer ${layer.name} holds nothing`)
    nodes[id] = newLayer({
      ...layer,
      id,
      content: held,
      ...(mask && { mask }),
      ...(effects && { effects: [...effects] }),
    })
    return id
  }
  const roots = given.layers.map(hang)
  const passes = Object.entries(given.passes).map(([called, own]): RecipePass => ({
    id: `pass:${called}`,
    kind: own.kind,
    name: own.name ?? passKind(own.kind).label,
    rigId: own.rig === undefined ? null : rigName(own.rig),
    members: { ...structuredClone(ALL_MEMBERS), ...own.members },
    denoise: false,
    effort: { ...passKind(own.kind).efforts.final },
    params: parseParams(passKind(own.kind).renderSchema, own.params ?? {}, own.kind),
  }))
  return {
    version: RECIPE_VERSION,
    id: given.id,
    name: given.name,
    note: given.note,
    sheet: {
      id: 'sheet',
      name: given.name,
      ...SIZE,
      fit: 'extend',
      blendSpace: 'display',
      background: given.background ?? '#ffffff',
      roots,
      nodes,
    },
    passes,
    rigs: Object.entries(given.rigs ?? {}).map(([called, lights]) => ({
      id: rigName(called),
      name: called,
      lights: [...lights],
    })),
    pictures: [],
    parts: [],
    materials: [],
    groups: [],
  }
}
