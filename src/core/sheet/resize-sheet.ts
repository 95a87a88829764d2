import { findEffect } from '../effects/registry'
import { paramControls, type ParamSchema } from '../params'
import { contentSchema, type Content } from './contents/registry'
import type { Mask, Sheet, SheetEffect, SheetNode } from './sheet-schema'
import { termKind, type MaskTerm } from './terms/registry'

interface Size {
  readonly width: number
  readonly height: number
}

const MOST_FEATHER_PX = 500
const MOST_GROWTH_PX = 60

/** Whether a sheet is of a size, to the pixel. */
export const hasSize = (sheet: Size, { width, height }: Size): boolean =>
  sheet.width === width && sheet.height === height

/** Whether two sizes are of one shape, as far as whole pixels can be. */
export const isSameShape = (a: Size, b: Size): boolean =>
  Math.abs(a.width * b.height - a.height * b.width) < Math.max(a.width, a.height, b.width, b.height)

/**
 * Gives a sheet another size, in place. Lengths on it follow its height, as what a lens sees and the weight of lines do, so
 * that the picture looks as it did.
 */
export function resizeSheet(
  sheet: { -readonly [K in keyof Sheet]: Sheet[K] },
  { width, height }: Size,
): void {
  const by = height / sheet.height
  sheet.width = width
  sheet.height = height
  for (const node of Object.values(sheet.nodes)) Object.assign(node, resizedNode(node, by))
}

/** What of a layer changes when lengths on its sheet become so many times as long. */
export const resizedNode = (
  { mask, effects, content }: Pick<SheetNode, 'mask' | 'effects' | 'content'>,
  by: number,
): Pick<SheetNode, 'mask' | 'effects' | 'content'> => ({
  mask: mask && resizedMask(mask, by),
  effects: resizedEffects(effects, by),
  content: { ...content, ...resizedLengths(contentSchema(content) ?? undefined, content, by) } as Content,
})

const resizedMask = (mask: Mask, by: number): Mask => ({
  ...mask,
  featherPx: Math.min(MOST_FEATHER_PX, mask.featherPx * by),
  terms: mask.terms.map((term) => {
    if (term.kind === 'unreadable') return term
    const featherPx = Math.min(MOST_FEATHER_PX, term.featherPx * by)
    const growPx = Math.min(MOST_GROWTH_PX, Math.max(-MOST_GROWTH_PX, term.growPx * by))
    return { ...term, ...resizedLengths(termKind(term)?.schema, term, by), featherPx, growPx } as MaskTerm
  }),
  effects: resizedEffects(mask.effects, by),
})

const resizedEffects = (effects: readonly SheetEffect[], by: number): SheetEffect[] =>
  effects.map((effect) => ({
    ...effect,
    mask: effect.mask && resizedMask(effect.mask, by),
    params: {
      ...effect.params,
      ...resizedLengths(findEffect(effect.kind)?.schema, effect.params, by),
    },
  }))

/** Those parameters that are lengths in sheet pixels, resized, within what they may be. */
function resizedLengths(
  schema: ParamSchema | undefined,
  values: Readonly<Record<string, unknown>>,
  by: number,
): Record<string, number> {
  const lengths: Record<string, number> = {}
  for (const control of schema ? paramControls(schema) : []) {
    const value = values[control.name]
    if (control.control !== 'number' || control.unit !== 'px' || typeof value !== 'number') continue
    lengths[control.name] = Math.min(control.max, Math.max(control.min, value * by))
  }
  return lengths
}
