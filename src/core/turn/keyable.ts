import { findEffect } from '../effects/registry'
import { paramControls, type NamedControl, type ParamSchema } from '../params'
import type { PassKindName } from '../passes/registry'
import { passKind } from '../passes/registry'
import { contentSchema } from '../sheet/contents/registry'
import { hasContent, type Sheet, type SheetNode } from '../sheet/sheet-schema'
import { termKind } from '../sheet/terms/registry'
import type { Track } from '../sheet/tracks'

/** A value of a layer that keys can be set for. */
export interface Keyable {
  readonly path: Track['path']
  readonly label: string
  readonly control: NamedControl
}

const number = (
  path: Track['path'],
  label: string,
  options: { readonly unit?: string; readonly min: number; readonly max: number; readonly step: number },
  start: number,
): Keyable => ({
  path,
  label,
  control: {
    control: 'number',
    name: String(path.at(-1)),
    group: null,
    label,
    unit: '',
    logarithmic: false,
    default: start,
    ...options,
  },
})

const SHARE = { min: 0, max: 1, step: 0.01 }
const GROWN = { unit: 'px', min: -60, max: 60, step: 0.5 }
const FEATHERED = { unit: 'px', min: 0, max: 500, step: 0.5 }

/** Numbers, colours, switches and choices of a schema: what has a control of one value. */
const ofSchema = (schema: ParamSchema, path: Track['path'], owner: string): Keyable[] =>
  paramControls(schema)
    .filter(({ control }) => ['number', 'colour', 'toggle', 'choice'].includes(control))
    .map((control) => ({
      path: [...path, control.name],
      label: owner === '' ? control.label : `${owner}: ${control.label}`,
      control,
    }))

/**
 * Values of a layer that may change over time: opacity, what it shows, its mask, its effects.
 * @param kindOf which kind a pass is of; null for one that is gone.
 */
export function keyablesOf(node: SheetNode, kindOf: (passId: string) => PassKindName | null): Keyable[] {
  const at = ['nodes', node.id]
  const { content, mask, effects } = node
  const found = [number([...at, 'opacity'], 'Opacity', SHARE, 1)]
  if (hasContent(node, 'pass')) {
    const kind = kindOf(node.content.passId)
    if (kind) found.push(...ofSchema(passKind(kind).lookSchema, [...at, 'content', 'look'], ''))
  } else {
    const schema = contentSchema(content)
    if (schema) found.push(...ofSchema(schema, [...at, 'content'], ''))
  }
  if (hasContent(node, 'fill'))
    node.content.stops.forEach((stop, i) =>
      found.push({
        path: [...at, 'content', 'stops', i, 'colour'],
        label: node.content.stops.length === 1 ? 'Colour' : `Colour ${i + 1}`,
        control: { control: 'colour', name: 'colour', group: null, label: 'Colour', default: stop.colour },
      }),
    )
  if (mask) {
    found.push(number([...at, 'mask', 'featherPx'], 'Mask: feather', FEATHERED, 0))
    mask.terms.forEach((term, i) => {
      if (term.kind === 'unreadable') return
      const path = [...at, 'mask', 'terms', i]
      const owner = `Mask ${i + 1}, ${termKind(term)?.label.toLowerCase() ?? term.kind}`
      found.push(
        number([...path, 'strength'], `${owner}: strength`, SHARE, 1),
        number([...path, 'growPx'], `${owner}: grow`, GROWN, 0),
        number([...path, 'featherPx'], `${owner}: feather`, FEATHERED, 0),
      )
      const schema = termKind(term)?.schema
      if (schema) found.push(...ofSchema(schema, path, owner))
    })
  }
  for (const effect of effects) {
    const kind = findEffect(effect.kind)
    if (!kind) continue
    const path = [...at, 'effects', effect.id]
    found.push(number([...path, 'opacity'], `${kind.label}: strength`, SHARE, 1))
    found.push(...ofSchema(kind.schema, [...path, 'params'], kind.label))
  }
  return found
}

export const samePath = (a: Track['path'], b: Track['path']): boolean =>
  a.length === b.length && a.every((step, i) => step === b[i])

/** The layer that a track is of; null for one of the sheet itself. */
export const layerOfTrack = ({ path }: Pick<Track, 'path'>): string | null =>
  path[0] === 'nodes' ? String(path[1]) : null

/** A value of a sheet; undefined where the path leads nowhere. */
export function valueOf(sheet: Sheet, path: Track['path']): unknown {
  return path.reduce<unknown>((at, step) => {
    if (Array.isArray(at))
      return (at as unknown[]).find((item, i) =>
        typeof step === 'number' ? i === step : (item as { readonly id?: unknown }).id === step,
      )
    return typeof at === 'object' && at !== null ? (at as Record<string, unknown>)[step] : undefined
  }, sheet)
}
