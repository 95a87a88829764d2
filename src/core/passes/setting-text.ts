import { paramControls, type ParamValues } from '../params'
import { passKind, type PassKindName } from './registry'

/**
 * Parameters of a pass as `relief --set` takes them: `KIND.PARAM=VALUE`, `KIND.look.PARAM=VALUE` for how it is shown. Lengths are in
 * percent of the figure's diagonal; curves, ranges and the like are JSON.
 */
export function settingTexts(
  kind: PassKindName,
  schema: 'lookSchema' | 'renderSchema',
  values: ParamValues,
): string[] {
  const before = schema === 'lookSchema' ? `${kind}.look` : kind
  return paramControls(passKind(kind)[schema]).flatMap((control) => {
    const value: unknown = values[control.name]
    if (value === undefined) return []
    const isLength = control.control === 'number' && control.unit === '%D'
    const text = typeof value === 'object' ? JSON.stringify(value) : String(value)
    return [`${before}.${control.name}=${text}${isLength ? '%' : ''}`]
  })
}
