import { EFFECTS } from '@/core/effects/registry'
import { paramControls, type NamedControl, type ParamSchema } from '@/core/params'
import { PASS_KINDS, passKind } from '@/core/passes/registry'
import { BLEND_MODES, blendDefinitions } from '@/core/sheet/blend-modes'
import { contents } from '@/core/sheet/contents/registry'
import { SHEET_FORMATS, sheetFormatExtensions, sheetFormatLabels } from '@/core/sheet/export-sheet'
import { terms } from '@/core/sheet/terms/registry'
import { parseOptions } from './arguments'
import { UsageError } from './usage-error'

/** A parameter as it is told: what its control needs, without its name. */
function told({ name: _name, control, group, ...rest }: NamedControl) {
  return { type: control, ...(group !== null && { group }), ...rest }
}
const paramsOf = (schema: ParamSchema) =>
  Object.fromEntries(paramControls(schema).map((control) => [control.name, told(control)]))

/** Every registry there is, by name: what `relief kinds` prints. */
const REGISTRIES: Readonly<Record<string, () => readonly object[]>> = {
  passes: () =>
    PASS_KINDS.map((name) => {
      const { kind, label, summary, renderSchema, lookSchema } = passKind(name)
      return { kind, label, summary, params: paramsOf(renderSchema), look: paramsOf(lookSchema) }
    }),
  effects: () =>
    EFFECTS.map(({ kind, version, label, group, summary, schema }) => {
      return { kind, version, label, group, summary, params: paramsOf(schema) }
    }),
  terms: () =>
    terms.kinds.map(({ kind, version, label, summary, ...rest }) => {
      const params = 'schema' in rest && rest.schema ? { params: paramsOf(rest.schema) } : {}
      return { kind, version, label, summary, ...params }
    }),
  contents: () =>
    contents.kinds.map(({ kind, version, label, summary, ...rest }) => {
      const params = 'schema' in rest && rest.schema ? { params: paramsOf(rest.schema) } : {}
      return { kind, version, label, summary, ...params }
    }),
  modes: () => BLEND_MODES.map((kind) => ({ kind, label: blendDefinitions[kind].label })),
  formats: () =>
    SHEET_FORMATS.map((kind) => ({
      kind,
      label: sheetFormatLabels[kind],
      extension: sheetFormatExtensions[kind],
    })),
}

/** `relief kinds`: one of the registries as JSON. */
export async function kinds(argv: readonly string[]): Promise<void> {
  const { positionals } = parseOptions(argv, {})
  const [name] = positionals
  const list = name !== undefined && Object.hasOwn(REGISTRIES, name) ? REGISTRIES[name] : null
  if (!list || positionals.length !== 1)
    throw new UsageError(`relief kinds ${Object.keys(REGISTRIES).join('|')}`)
  process.stdout.write(`${JSON.stringify(list(), null, 2)}\n`)
}
