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
/** A curve through points from left to right, both axes 0…1. */
export interface CurveControl {
  readonly control: 'curve'
  readonly label: string
  readonly default: readonly (readonly [number, number])[]
}
/** Colours along a way from 0 to 1. */
export interface StopsControl {
  readonly control: 'stops'
  readonly label: string
  readonly default: readonly (readonly [number, string])[]
}
/** A range with soft ends: nothing up to the first, all between second and third, nothing from the fourth on. */
export interface RangeControl {
  readonly control: 'range'
  readonly label: string
  readonly min: number
  readonly max: number
  readonly default: readonly [number, number, number, number]
}
/** A place on the sheet, in shares of its width and height: pressed on the proof. */
export interface PointControl {
  readonly control: 'point'
  readonly label: string
  readonly default: readonly [number, number]
}
/** A pass of the shot, or a picture in its place, by id; empty: the shot's own. */
export interface MapControl {
  readonly control: 'map'
  readonly label: string
  /** The kind of pass it is made from. */
  readonly pass: string
  readonly default: string
}
/** Another layer of the sheet, by id; empty: none. */
export interface LayerControl {
  readonly control: 'layer'
  readonly label: string
  /** What it means to choose none. */
  readonly none: string
  readonly default: string
}
/** A grading table: one of our own by its name, or a file by its picture's id. */
export interface TableControl {
  readonly control: 'table'
  readonly label: string
  readonly default: string
}
/** Corners of a closed shape on the sheet, in shares of its width and height: drawn on the proof. */
export interface PathControl {
  readonly control: 'path'
  readonly label: string
  readonly default: readonly (readonly [number, number])[]
}
/** Colours, as many as one likes. */
export interface PaletteControl {
  readonly control: 'palette'
  readonly label: string
  readonly default: readonly string[]
}
export type ParamControl =
  | NumberControl
  | ColourControl
  | ToggleControl
  | ChoiceControl
  | CurveControl
  | StopsControl
  | RangeControl
  | PointControl
  | MapControl
  | LayerControl
  | TableControl
  | PathControl
  | PaletteControl
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

const colour6 = () => z.string().regex(/^#[0-9a-f]{6}$/i, 'must look like #rrggbb')

/** A display colour, `#rrggbb`. */
export function colourParam(options: { label: string; default: string }) {
  const schema = colour6().default(options.default)
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

const share = () => z.number().min(0).max(1)
const risesIn = (values: readonly number[]): boolean => values.every((v, i) => i === 0 || v > values[i - 1])

/** Points of a curve, from left to right: see {@link CurveControl}. */
export function curveParam(options: Omit<CurveControl, 'control'>) {
  const schema = z
    .array(z.tuple([share(), share()]))
    .min(2)
    .max(32)
    .refine((points) => risesIn(points.map(([x]) => x)), 'must go from left to right')
    .default(options.default.map(([x, y]) => [x, y]))
  controls.add(schema, { control: 'curve', ...options })
  return schema
}

/** Colours along a way: see {@link StopsControl}. */
export function stopsParam(options: Omit<StopsControl, 'control'>) {
  const schema = z
    .array(z.tuple([share(), colour6()]))
    .min(2)
    .max(64)
    .refine((stops) => stops.every(([at], i) => i === 0 || at >= stops[i - 1][0]), 'must be in order')
    .default(options.default.map(([at, colour]) => [at, colour]))
  controls.add(schema, { control: 'stops', ...options })
  return schema
}

/** A range with soft ends: see {@link RangeControl}. */
export function rangeParam(options: Omit<RangeControl, 'control'>) {
  const edge = () => z.number().min(options.min).max(options.max)
  const [a, b, c, d] = options.default
  const schema = z
    .tuple([edge(), edge(), edge(), edge()])
    .refine((edges) => edges.every((v, i) => i === 0 || v >= edges[i - 1]), 'must rise')
    .default([a, b, c, d])
  controls.add(schema, { control: 'range', ...options })
  return schema
}

/** A place on the sheet: see {@link PointControl}. It may lie beside it. */
export function pointParam(options: Omit<PointControl, 'control'>) {
  const [x, y] = options.default
  const axis = () => z.number().min(-2).max(3)
  const schema = z.tuple([axis(), axis()]).default([x, y])
  controls.add(schema, { control: 'point', ...options })
  return schema
}

/** A pass or a picture that something is made from: see {@link MapControl}. */
export function mapParam(options: { label: string; pass: string }) {
  const schema = z.string().max(200).default('')
  controls.add(schema, { control: 'map', default: '', ...options })
  return schema
}

/** Another layer: see {@link LayerControl}. */
export function layerParam(options: { label: string; none?: string }) {
  const schema = z.string().max(200).default('')
  controls.add(schema, { control: 'layer', default: '', none: 'None', ...options })
  return schema
}

/** A grading table: see {@link TableControl}. */
export function tableParam(options: Omit<TableControl, 'control'>) {
  const schema = z.string().max(200).default(options.default)
  controls.add(schema, { control: 'table', ...options })
  return schema
}

/** A closed shape: see {@link PathControl}. */
export function pathParam(options: Omit<PathControl, 'control'>) {
  const axis = () => z.number().min(-2).max(3)
  const schema = z
    .array(z.tuple([axis(), axis()]))
    .min(3)
    .max(512)
    .default(options.default.map(([x, y]) => [x, y]))
  controls.add(schema, { control: 'path', ...options })
  return schema
}

/** Colours: see {@link PaletteControl}. */
export function paletteParam(options: Omit<PaletteControl, 'control'>) {
  const schema = z
    .array(colour6())
    .min(1)
    .max(64)
    .default([...options.default])
  controls.add(schema, { control: 'palette', ...options })
  return schema
}

/** Puts the parameters of a schema's shape into a group: see {@link NamedControl}. */
export function grouped<S extends z.ZodRawShape>(group: string, shape: S): S {
  for (const field of Object.values(shape)) groups.add(field, { group })
  return shape
}

/** A parameter schema: an object whose every field was made by one of the functions above. */
export type ParamSchema = z.ZodObject

type Single = number | string | boolean
/** A parameter as loose JSON: a number, a word, a switch, or a list of them or of short lists of them. */
export type ParamValue = Single | (Single | Single[])[]
/** Every parameter as loose JSON; a descriptor's own schema turns it into its typed form. */
export type ParamValues = Readonly<Record<string, ParamValue>>

const single = z.union([z.number(), z.string().max(4096), z.boolean()])
export const paramValueSchema: z.ZodType<ParamValue> = z.union([
  single,
  z.array(z.union([single, z.array(single).max(8)])).max(4096),
])
export const paramValuesSchema = z.record(z.string(), paramValueSchema)

/** The controls of a schema, in order. @throws when a field was not made by a function of this file. */
export function paramControls(schema: ParamSchema): NamedControl[] {
  return Object.entries(schema.shape).map(([name, field]) => {
    const control = controls.get(field)
    if (!control) throw new Error(`parameter ${name} has no control: make it with a function of params.ts`)
    return { name, group: groups.get(field)?.group ?? null, ...control }
  })
}

/** Values of a schema: numbers, words, switches and lists of them, for that is all the functions above make. */
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
