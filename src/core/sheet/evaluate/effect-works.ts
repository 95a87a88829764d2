import { effectKind, findEffect } from '../../effects/registry'
import type { EffectWork } from '../../effects/effect-kind'
import type { SheetEffect } from '../sheet-schema'

/** What an effect does; null where it cannot be read. */
export function effectWork(effect: SheetEffect): EffectWork | null {
  if (effectProblem(effect) !== null) return null
  const known = works.get(effect)
  if (known) return known
  const kind = effectKind(effect.kind)
  const made = kind.work(kind.read(effect.version, effect.params))
  works.set(effect, made)
  return made
}
const works = new WeakMap<SheetEffect, EffectWork>()

/** Effects that do something: enabled, known, with parameters within their rules. What is wrong with others their card says. */
export function readyEffects(effects: readonly SheetEffect[]): { effect: SheetEffect; work: EffectWork }[] {
  return effects.flatMap((effect) => {
    const work = effect.enabled && effect.opacity > 0 ? effectWork(effect) : null
    return work ? [{ effect, work }] : []
  })
}

const problems = new WeakMap<SheetEffect, string | null>()

/** Why an effect does nothing, in words; null where it works. */
export function effectProblem(effect: SheetEffect): string | null {
  const known = problems.get(effect)
  if (known !== undefined) return known
  let problem: string | null = null
  const kind = findEffect(effect.kind)
  if (!kind) problem = `this version does not know the effect "${effect.kind}"`
  else
    try {
      kind.read(effect.version, effect.params)
    } catch (error) {
      problem = error instanceof Error ? error.message : String(error)
    }
  problems.set(effect, problem)
  return problem
}
