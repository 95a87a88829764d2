import type { z } from 'zod'
import type { ParamSchema } from '../params'

/** Where effects stand in menus. */
export const EFFECT_GROUPS = ['Tone', 'Colour', 'Blur'] as const
export type EffectGroup = (typeof EFFECT_GROUPS)[number]

/**
 * What an effect does to a picture, in one of a few forms; the evaluator brings tiles, scales, borders and workers.
 * Colours are straight display values, 0…1.
 */
export type EffectWork =
  /** Each colour channel by itself, by one curve. Curves that follow each other become one table of 65,536 steps. */
  | { readonly by: 'tone'; readonly curve: (value: number) => number }
  /** Each pixel by itself: changes `rgb` in place. */
  | { readonly by: 'colour'; readonly change: (rgb: Float64Array) => void }
  /** A gaussian blur of so many sheet pixels; alpha with it, the sheet's border repeats. */
  | { readonly by: 'blur'; readonly sigmaPx: number }

/** One re-editable step. Adding one is one file with one of these and one line in the registry. */
export interface EffectKind<K extends string, P extends ParamSchema> {
  readonly kind: K
  /** Counts up when its parameters change their meaning. */
  readonly version: number
  readonly label: string
  readonly group: EffectGroup
  readonly summary: string
  readonly schema: P
  /** Makes of the parameters that the version before stored what this one stores. */
  readonly upgrade?: (old: Readonly<Record<string, unknown>>) => Record<string, unknown>
  readonly work: (params: z.infer<P>) => EffectWork
}

export const defineEffect = <K extends string, P extends ParamSchema>(
  effect: EffectKind<K, P>,
): EffectKind<K, P> => effect
