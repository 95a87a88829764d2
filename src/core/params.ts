import { z } from 'zod'
import { InvalidValueError } from './errors'

/**
 * Parameters of passes, effects and layers are Zod schemas whose fields carry what the interface needs to draw a
 * control: label, unit, range, step, default. One schema validates, documents and draws.
 */

export interface NumberControl {
  readonly control: 'number'
  readonly label: string
  /** Shown small behind the number. `%D` reads as percent of the figure diagonal. */
  readonly unit: string
  readonly min: number
  readonly max: number
  readonly step: number
  readonly default: number
  /** Moves the slider by powers rather than by steps, for ranges over several magnitudes. */
  readonly logarithmic: boolean
}
export interface ColourControl {
  readonly control: 'colour'
  readonly label: string
  readonly default: string
}
export interface ToggleControl {
  readonly control: 'toggle'
  readonly label: string
  readonly default: boolean
}
export interface ChoiceControl {
  readonly control: 'choice'
  readonly label: string
  readonly options: readonly { readonly value: string; readonly label: string }[]
  readonly default: string
}
export type ParamControl = NumberControl | ColourControl | ToggleControl | ChoiceControl
export type NamedControl = ParamControl & {
  readonly name: string
  /** Controls of one group are folded away together; null is always shown. */
  readonly group: string | null
}

interface NumberOptions {
  label: string
  unit?: string
  min: number
  max: number
  step: number
  default: number
  logarithmic?: boolean
}

const controls = z.registry<ParamControl>()
const groups = z.registry<{ readonly group: string }>()

export function numberParam(options: NumberOptions) {
  const schema = z.number().min(options.min).max(options.max).default(options.default)
  controls.add(schema, { control: 'number', unit: '', logarithmic: false, ...options })
  return schema
}

/** A display colour, `#rrggbb`. */
export function colourParam(options: { label: string; default: string }) {
  const schema = z
    .string()
    .regex(/^#[0-9a-f]{6}$/i, 'must look like #rrggbb')
    .default(options.default)
  controls.add(schema, { control: 'colour', ...options })
  return schema
}

export function toggleParam(options: { label: string; default: boolean }) {
  const schema = z.boolean().default(options.default)
  controls.add(schema, { control: 'toggle', ...options })
  return schema
}

export function choiceParam<const T extends string>(options: {
  label: string
  options: Readonly<Record<T, string>>
  default: NoInfer<T>
}) {
  const values = Object.keys(options.options) as [T, ...T[]]
  const schema = z.enum(values).default(options.default as never)
  controls.add(schema, {
    control: 'choice',
    label: options.label,
    default: options.default,
    options: values.map((value) => ({ value, label: options.options[value] })),
  })
  return schema
}

/** Puts the parameters of a schema's shape into a group: see {@link NamedControl}. */
export function grouped<S extends z.ZodRawShape>(group: string, shape: S): S {
  for (const field of Object.values(shape)) groups.add(field, { group })
  return shape
}

/** A parameter schema: an object whose every field was made by one of the functions above. */
export type ParamSchema = z.ZodObject

/** Every parameter as loose JSON; a descriptor's own schema turns it into its typed form. */
export type ParamValues = Readonly<Record<string, number | string | boolean>>

export const paramValuesSchema = z.record(z.string(), z.union([z.number(), z.string(), z.boolean()]))

/** The controls of a schema, in order. @throws when a field was not made by a function of this file. */
export function paramControls(schema: ParamSchema): NamedControl[] {
  return Object.entries(schema.shape).map(([name, field]) => {
    const control = controls.get(field)
    if (!control) throw new Error(`parameter ${name} has no control: make it with a function of params.ts`)
    return { name, group: groups.get(field)?.group ?? null, ...control }
  })
}

/** Values of a schema: each is a number, a word or a switch, for that is all the functions above make. */
type ValuesOf<S extends ParamSchema> = z.infer<S> & ParamValues

/** All parameters at their defaults. */
export const paramDefaults = <S extends ParamSchema>(schema: S): ValuesOf<S> =>
  schema.parse({}) as ValuesOf<S>

/** Schemas that refuse what they do not know, made once: a new one is compiled at its first use, which is slow. */
const strictSchemas = new WeakMap<ParamSchema, ParamSchema>()
function strict(schema: ParamSchema): ParamSchema {
  let own = strictSchemas.get(schema)
  if (!own) strictSchemas.set(schema, (own = schema.strict()))
  return own
}

/** A rule as it follows the name of what it is about. */
const ruleOf = (message: string): string => (/^must\b/.test(message) ? message : `is refused: ${message}`)

/**
 * Validates loose values.
 * @throws {InvalidValueError} naming the parameter, the rule and the value, e.g. `occlusion.reach must be … (got -2)`.
 */
export function parseParams<S extends ParamSchema>(schema: S, values: unknown, owner: string): ValuesOf<S> {
  const result = strict(schema).safeParse(values)
  if (result.success) return result.data as ValuesOf<S>
  const issue = result.error.issues[0]
  const path = [owner, ...issue.path].join('.')
  const got = issue.path.reduce<unknown>(
    (at, key) =>
      typeof at === 'object' && at !== null ? (at as Record<PropertyKey, unknown>)[key] : undefined,
    values,
  )
  throw new InvalidValueError(path, ruleOf(issue.message), got)
}
