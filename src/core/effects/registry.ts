import type { z } from 'zod'
import { InvalidValueError } from '../errors'
import type { ParamSchema, ParamValues } from '../params'
import { paramControls, paramDefaults, parseParams } from '../params'
import type { EffectGroup, EffectKind, EffectWork } from './effect-kind'
import { boxBlur } from './box-blur'
import { brightnessGradient } from './brightness-gradient'
import { crossHatching } from './cross-hatching'
import { curve } from './curve'
import { darksColour } from './darks-colour'
import { depthBlur } from './depth-blur'
import { depthHaze } from './depth-haze'
import { directionalBlur } from './directional-blur'
import { displace } from './displace'
import { dust } from './dust'
import { engraving } from './engraving'
import { exposure } from './exposure'
import { gaussianBlur } from './gaussian-blur'
import { glow } from './glow'
import { gradingTable } from './grading-table'
import { grain } from './grain'
import { growShrink } from './grow-shrink'
import { halftone } from './halftone'
import { hatching } from './hatching'
import { hueChromaLightness } from './hue-chroma-lightness'
import { inkBleed } from './ink-bleed'
import { inks } from './inks'
import { invert } from './invert'
import { levels } from './levels'
import { lineScreen } from './line-screen'
import { localContrast } from './local-contrast'
import { matchTones } from './match-tones'
import { misregister } from './misregister'
import { normalSaturation } from './normal-saturation'
import { outline } from './outline'
import { painterlySmoothing } from './painterly-smoothing'
import { paperThrough } from './paper-through'
import { partPalette } from './part-palette'
import { pixelSort } from './pixel-sort'
import { pointBlur } from './point-blur'
import { posterise } from './posterise'
import { rangeTint } from './range-tint'
import { rim } from './rim'
import { ripple } from './ripple'
import { softProof } from './soft-proof'
import { stipple } from './stipple'
import { threshold } from './threshold'
import { tint } from './tint'
import { unsharpMask } from './unsharp-mask'
import { vignette } from './vignette'
import { whiteBalance } from './white-balance'
import { wornEdges } from './worn-edges'

/** Every effect, in the order it is offered. Adding one is its file and its line here. */
const effects = [
  register(levels),
  register(curve),
  register(exposure),
  register(posterise),
  register(threshold),
  register(invert),
  register(whiteBalance),
  register(hueChromaLightness),
  register(tint),
  register(rangeTint),
  register(darksColour),
  register(brightnessGradient),
  register(gradingTable),
  register(partPalette),
  register(matchTones),
  register(gaussianBlur),
  register(boxBlur),
  register(directionalBlur),
  register(pointBlur),
  register(depthBlur),
  register(unsharpMask),
  register(localContrast),
  register(depthHaze),
  register(growShrink),
  register(painterlySmoothing),
  register(outline),
  register(normalSaturation),
  register(glow),
  register(rim),
  register(vignette),
  register(grain),
  register(dust),
  register(ripple),
  register(displace),
  register(inkBleed),
  register(wornEdges),
  register(paperThrough),
  register(halftone),
  register(inks),
  register(lineScreen),
  register(hatching),
  register(crossHatching),
  register(stipple),
  register(engraving),
  register(misregister),
  register(softProof),
  register(pixelSort),
] as const

/** An effect with its parameter types closed over. */
export interface RegisteredEffect {
  readonly kind: string
  readonly version: number
  readonly label: string
  readonly group: EffectGroup
  readonly summary: string
  readonly schema: ParamSchema
  readonly defaults: ParamValues
  /** Parameters at which it changes nothing; null where there are none. */
  readonly neutral: ParamValues | null
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
    neutral: effect.neutral ? { ...paramDefaults(schema), ...(effect.neutral as ParamValues) } : null,
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
