import type { z } from 'zod'
import type { ParamSchema, ParamValues } from '../params'
import { paramControls, parseParams } from '../params'
import type { EffectContext, EffectKind } from './effect-kind'
import { levels } from './levels'
import { tint } from './tint'

/** Every effect, in the order it is offered. Adding one is its file and its line here. */
export const EFFECT_KINDS = ['levels', 'tint'] as const
export type EffectKindName = (typeof EFFECT_KINDS)[number]

export interface RegisteredEffect {
  readonly kind: EffectKindName
  readonly label: string
  readonly summary: string
  readonly schema: ParamSchema
  readonly apply: (pixels: Float32Array, params: ParamValues, context: EffectContext) => void
}

function register<K extends EffectKindName, P extends ParamSchema>(
  effect: EffectKind<K, P>,
): RegisteredEffect {
  paramControls(effect.schema)
  return {
    ...effect,
    apply: (pixels, params, context) =>
      effect.apply(pixels, parseParams(effect.schema, params, effect.kind) as z.infer<P>, context),
  }
}

const effects: Readonly<Record<EffectKindName, RegisteredEffect>> = {
  levels: register(levels),
  tint: register(tint),
}

export const effectKind = (kind: EffectKindName): RegisteredEffect => effects[kind]
