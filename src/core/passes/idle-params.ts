import type { ParamValues } from '../params'
import type { PassFacts } from './pass-facts'

/** Parameters that change nothing as things are, by name, each with what would wake it, in words. */
export type IdleParams = Readonly<Record<string, string>>

/** What of a scene decides whether a parameter has anything to act on. */
export interface SceneTraits {
  readonly hasGround: boolean
  /** Some material shows a picture. */
  readonly hasTextures: boolean
  /** Some material lets light through. */
  readonly hasGlass: boolean
  /** Some material glows of itself. */
  readonly hasGlow: boolean
}

/** What a look is looked at on. */
export interface LookGround {
  /** What the pass was rendered with. */
  readonly rendered: ParamValues
  readonly facts: PassFacts
  readonly scene: SceneTraits
}

export const NO_GROUND = 'No part is ground'
export const NO_GLASS = 'No material lets light through'

/** Rules in order: the first that holds for a parameter says what would wake it. */
export function idleWhere(
  ...rules: readonly (readonly [holds: boolean, names: readonly string[], wake: string])[]
): IdleParams {
  const idle: Record<string, string> = {}
  for (const [holds, names, wake] of rules) if (holds) for (const name of names) idle[name] ??= wake
  return idle
}
