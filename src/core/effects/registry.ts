import type { z } from 'zod'
import { InvalidValueError } from '../errors'
import type { ParamSchema, ParamValues } from '../params'
import { paramControls, paramDefaults, parseParams } from '../params'
import type { EffectGroup, EffectKind, EffectWork } from './effect-kind'
import { gaussianBlur } from './gaussian-blur'
import { levels } from './levels'
import { tint } from './tint'

/** Every effect, in the order it is offered. Adding one is its file and its line here. */
const effects = [register(levels), register(tint), register(gaussianBlur)] as const

/** An effect with its parameter types closed over. */
export interface RegisteredEffect {
  readonly kind: string
  readonly version: number
  readonly label: string
  readonly group: EffectGroup
  readonly summary: string
  readonly schema: ParamSchema
  readonly defaults: ParamValues
  /** Parameters as a version stored them, brought up to date and checked. @throws {InvalidValueError} */
  readonly read: (version: number, params: unknown) => ParamValues
  /** @throws {InvalidValueError} for parameters outside their rule. */
  readonly work: (params: ParamValues) => EffectWork
}

function register<K extends string, P extends ParamSchema>(effect: EffectKind<K, P>): RegisteredEffect {
  // Refuses an incomplete descriptor.
  paramControls(effect.schema)
  const { kind, version, label, group, summary, schema, upgrade } = effect
  if (version > 1 && !upgrade)
    throw new Error(`effect ${kind} is of version ${version} and upgrades from none`)
  return {
    kind,
    version,
    label,
    group,
    summary,
    schema,
    defaults: paramDefaults(schema),
    read(stored, params) {
      if (stored > version)
        throw new InvalidValueError(kind, 'was stored by a newer version of the application')
      let now = params
      for (let v = stored; v < version; v++) now = upgrade?.(now as Readonly<Record<string, unknown>>) ?? now
      return parseParams(schema, now, kind)
    },
    work: (params) => effect.work(parseParams(schema, params, kind) as z.infer<P>),
  }
}

const byName: ReadonlyMap<string, RegisteredEffect> = new Map(effects.map((effect) => [effect.kind, effect]))
if (byName.size !== effects.length) throw new Error('two effects have one name')

export const EFFECTS: readonly RegisteredEffect[] = effects
export const EFFECT_KINDS: readonly string[] = effects.map(({ kind }) => kind)

/** An effect by its name; undefined where this version knows none of it. */
export const findEffect = (kind: string): RegisteredEffect | undefined => byName.get(kind)

/** @throws {InvalidValueError} for a name that no effect has. */
export function effectKind(kind: string): RegisteredEffect {
  const found = findEffect(kind)
  if (!found) throw new InvalidValueError('effect', `must be one of ${EFFECT_KINDS.join(', ')}`, kind)
  return found
}
