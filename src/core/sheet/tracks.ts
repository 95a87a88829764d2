import { z } from 'zod'
import type { DocumentChange } from '../document-changes'
import { findEffect } from '../effects/registry'
import { parseHex, toHex } from '../math/colour'
import { oklabToSrgb, srgbToOklab } from '../math/oklab'
import { paramControls } from '../params'
import { patchedSheet } from './patch-sheet'
import { effectProblem } from './evaluate/effect-works'
import type { Sheet, SheetNode } from './sheet-schema'

/**
 * Time lies beside a sheet: tracks say how values of it go from key to key, and a sheet at a time is an ordinary sheet. Nothing
 * that plans or paints knows of time.
 */

/** How a value leaves its key for the next: evenly, not at all until it is there, or slowly at one end or both, … */
export const EASES = ['even', 'hold', 'slow out', 'slow in', 'slow both'] as const
/** … or along a curve with two handles: x1, y1, x2, y2 of a cubic Bézier curve from 0, 0 to 1, 1; time along x. */
export const easeSchema = z.union([
  z.enum(EASES),
  z.tuple([
    z.number().min(0).max(1),
    z.number().min(-4).max(4),
    z.number().min(0).max(1),
    z.number().min(-4).max(4),
  ]),
])
export type Ease = z.infer<typeof easeSchema>

const valueSchema = z.union([z.number(), z.string(), z.boolean(), z.null()])
export const trackSchema = z.object({
  /** Where the value lies in the sheet: names and positions; of a list of things with ids, the id. */
  path: z.array(z.union([z.string(), z.number().int().min(0)])).min(1),
  /** In order of time, which is counted in frames. */
  keys: z
    .array(z.object({ at: z.number().min(0), value: valueSchema, ease: easeSchema }))
    .min(1)
    .refine(
      (keys) => keys.every(({ at }, i) => i === 0 || at > keys[i - 1].at),
      'must come one after the other',
    ),
})
export type Track = z.infer<typeof trackSchema>
type Value = Track['keys'][number]['value']

/** How one value becomes another. An angle takes the shorter way round; a colour goes through OKLab; others change at a key. */
export type Interpolation = 'number' | 'angle' | 'colour' | 'step'

const isObject = (value: unknown): value is Readonly<Record<string, unknown>> =>
  typeof value === 'object' && value !== null && !Array.isArray(value)

/** A path with positions where it names ids; null where it leads nowhere. */
function resolved(sheet: Sheet, path: Track['path']): DocumentChange['path'] | null {
  const steps: (string | number)[] = []
  let at: unknown = sheet
  for (const [i, key] of path.entries()) {
    let step: string | number = key
    if (Array.isArray(at)) {
      const list: readonly unknown[] = at
      step = typeof key === 'number' ? key : list.findIndex((item) => isObject(item) && item.id === key)
      if (step < 0 || step >= list.length) return null
      at = list[step]
    } else {
      if (!isObject(at) || typeof key !== 'string') return null
      // A parameter at its default need not be stored.
      const isParam = i === path.length - 1 && (path[i - 1] === 'look' || path[i - 1] === 'params')
      if (!isParam && !Object.hasOwn(at, key)) return null
      at = at[key]
    }
    steps.push(step)
  }
  return steps
}

function valueAt(sheet: Sheet, path: DocumentChange['path']): unknown {
  return path.reduce<unknown>(
    (at, key) => (Array.isArray(at) ? (at as unknown[])[Number(key)] : isObject(at) ? at[key] : undefined),
    sheet,
  )
}

const COLOUR = /^#[0-9a-f]{6}([0-9a-f]{2})?$/i

/**
 * How the value at a place of a sheet is interpolated: a parameter of an effect as its schema says, anything else by what it is
 * and by the unit that its name ends with.
 * @param like a value of it, where the sheet has none stored.
 */
export function interpolationAt(
  sheet: Sheet,
  path: DocumentChange['path'],
  like: Value = null,
): Interpolation {
  const last = path.at(-1)
  const value = valueAt(sheet, path) ?? like
  if (path.at(-2) === 'params') {
    const effect = valueAt(sheet, path.slice(0, -2))
    const kind = isObject(effect) && typeof effect.kind === 'string' ? findEffect(effect.kind) : undefined
    const control = kind && paramControls(kind.schema).find(({ name }) => name === last)
    if (control?.control === 'colour') return 'colour'
    if (control?.control === 'number') return control.unit === '°' ? 'angle' : 'number'
    return 'step'
  }
  if (typeof value === 'number') return typeof last === 'string' && last.endsWith('Deg') ? 'angle' : 'number'
  return typeof value === 'string' && COLOUR.test(value) ? 'colour' : 'step'
}

/** How far on the way to the next key, 0…1, after a share of the time. */
export function eased(ease: Ease, share: number): number {
  if (typeof ease !== 'string') return alongCurve(ease, share)
  switch (ease) {
    case 'even':
      return share
    case 'hold':
      return 0
    case 'slow out':
      return share * share
    case 'slow in':
      return share * (2 - share)
    case 'slow both':
      return share * share * (3 - 2 * share)
  }
}

/** How high a curve with two handles is at a share of the time. Its time never runs back: x1 and x2 lie in 0…1. */
function alongCurve([x1, y1, x2, y2]: readonly [number, number, number, number], share: number): number {
  if (share <= 0) return 0
  if (share >= 1) return 1
  const at = (a: number, b: number, t: number): number =>
    3 * a * t * (1 - t) * (1 - t) + 3 * b * t * t * (1 - t) + t * t * t
  // Halving: 40 steps are finer than a double tells of a share.
  let [low, high] = [0, 1]
  for (let i = 0; i < 40; i++) {
    const middle = (low + high) / 2
    if (at(x1, x2, middle) < share) low = middle
    else high = middle
  }
  return at(y1, y2, (low + high) / 2)
}

function between(from: Value, to: Value, share: number, by: Interpolation): Value {
  if (by === 'colour' && typeof from === 'string' && typeof to === 'string')
    return colourBetween(from, to, share)
  if (by !== 'number' && by !== 'angle') return from
  if (typeof from !== 'number' || typeof to !== 'number') return from
  if (by === 'number') return from + (to - from) * share
  const turn = ((((to - from) % 360) + 540) % 360) - 180
  return from + turn * share
}

function colourBetween(from: string, to: string, share: number): string {
  const [a, b] = [parseHex(from), parseHex(to)]
  const [x, y] = [srgbToOklab([a[0], a[1], a[2]]), srgbToOklab([b[0], b[1], b[2]])]
  const mix = (p: number, q: number) => p + (q - p) * share
  const rgb = oklabToSrgb([mix(x[0], y[0]), mix(x[1], y[1]), mix(x[2], y[2])])
  const alpha = mix(a[3], b[3])
  const isWhole = from.length === 7 && to.length === 7
  return (
    toHex(rgb) +
    (isWhole
      ? ''
      : Math.round(255 * alpha)
          .toString(16)
          .padStart(2, '0'))
  )
}

/** A track's value at a time: that of its first key before it, of its last one after it. */
export function trackValue({ keys }: Pick<Track, 'keys'>, at: number, by: Interpolation): Value {
  const next = keys.findIndex((key) => key.at > at)
  if (next === 0) return keys[0].value
  if (next < 0) return keys[keys.length - 1].value
  const [from, to] = [keys[next - 1], keys[next]]
  if (at === from.at) return from.value
  return between(from.value, to.value, eased(from.ease, (at - from.at) / (to.at - from.at)), by)
}

/** What of a layer cannot be read or does not work, in words: a value out of its range makes it so. */
function faults({ content, mask, effects }: SheetNode): string[] {
  const terms = [mask, ...effects.map((effect) => effect.mask)].flatMap((own) => own?.terms ?? [])
  return [
    ...[content, ...terms].flatMap((own) => (own.kind === 'unreadable' ? [own.why] : [])),
    ...effects.flatMap((effect) => effectProblem(effect) ?? []),
  ]
}

/** A sheet with one value changed, or why it may not be. */
function withValue(sheet: Sheet, path: DocumentChange['path'], value: Value): Sheet | string {
  try {
    const next = patchedSheet(sheet, [{ path, value }])
    const id = path[0] === 'nodes' ? String(path[1]) : null
    const more = id === null ? [] : faults(next.nodes[id])
    return id !== null && more.length > faults(sheet.nodes[id]).length ? more[more.length - 1] : next
  } catch (error) {
    return error instanceof z.ZodError ? error.issues[0].message : String(error)
  }
}

/** Why a track does nothing, in words; null where it works. */
export function trackProblem(sheet: Sheet, track: Track): string | null {
  const path = resolved(sheet, track.path)
  if (!path) return `it leads nowhere: ${track.path.join('.')}`
  for (const { value } of track.keys) {
    const tried = withValue(sheet, path, value)
    if (typeof tried === 'string')
      return `${track.path.join('.')} cannot be ${JSON.stringify(value)}: ${tried}`
  }
  return null
}

/**
 * A sheet as it is at a time: an ordinary sheet, of which layers that no track touches are the same objects. A track that leads
 * nowhere, or to a value that may not be, does nothing: see {@link trackProblem}.
 * @param at frames.
 */
export function sheetAt(sheet: Sheet, tracks: readonly Track[], at: number): Sheet {
  return tracks.reduce((now, track) => {
    const path = resolved(now, track.path)
    if (!path) return now
    const by = interpolationAt(now, path, track.keys[0].value)
    const value = trackValue(track, at, by)
    if (Object.is(valueAt(now, path), value)) return now
    // An angle may have left its range on the shorter way round: a turn more or less is the same.
    const same = by === 'angle' && typeof value === 'number' ? [value, value - 360, value + 360] : [value]
    const tried = same.map((one) => withValue(now, path, one))
    return tried.find((sheetOrWords) => typeof sheetOrWords !== 'string') ?? now
  }, sheet)
}
