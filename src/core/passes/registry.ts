import type { z } from 'zod'
import type { ChannelSpec } from '../picture/channel'
import type { SceneGeometry } from '../scene/scene-geometry'
import type { KeptAnswer } from './surface-cache'
import type { RenderedLight } from '../scene/rendered-light'
import type { ParamSchema, ParamValues } from '../params'
import { paramControls, parseParams } from '../params'
import { cavity } from './cavity'
import { clay } from './clay'
import { contour } from './contour'
import { depth } from './depth'
import { facing } from './facing'
import { flat } from './flat'
import { id } from './id'
import type { IdleParams, LookGround, SceneTraits } from './idle-params'
import { light } from './light'
import type { LinePart } from './line-pass'
import { lit } from './lit'
import { normal } from './normal'
import { occlusion } from './occlusion'
import type {
  FactRules,
  LookInput,
  MaterialAspect,
  PassContext,
  PassKind,
  ReadyLook,
  TileRenderer,
} from './pass-kind'
import type { Effort, EffortName } from './effort'
import { reflection } from './reflection'
import { shadow } from './shadow'
import { stepped } from './stepped'
import { surroundings } from './surroundings'
import { thickness } from './thickness'
import { wireframe } from './wireframe'

/** Every pass, in the order it is offered. Adding one is its file and its line here. */
export const PASS_KINDS = [
  'clay',
  'lit',
  'occlusion',
  'cavity',
  'contour',
  'wireframe',
  'id',
  'flat',
  'stepped',
  'shadow',
  'reflection',
  'light',
  'depth',
  'normal',
  'facing',
  'thickness',
  'surroundings',
] as const
export type PassKindName = (typeof PASS_KINDS)[number]

/** A pass with its parameter types closed over: values go in loose and are validated by its own schemas. */
export interface RegisteredPass {
  readonly kind: PassKindName
  readonly label: string
  readonly summary: string
  readonly renderSchema: ParamSchema
  readonly lookSchema: ParamSchema
  /** Whole looks, by name. */
  readonly readyLooks: Readonly<Record<string, ReadyLook>>
  readonly channels: (lights: readonly RenderedLight[], params: ParamValues) => readonly ChannelSpec[]
  /** Whether anything of it is sampled: a pass of lines alone has no channels, and every quality gives the same. */
  readonly isSampled: boolean
  /** Lines of its own; null where all is in the channels. */
  readonly lines: LinePart | null
  readonly usesLights: (params: ParamValues) => boolean
  readonly adaptive: boolean
  readonly isData: boolean
  readonly reads: readonly MaterialAspect[]
  readonly efforts: Readonly<Record<EffortName, Effort>>
  readonly denoised: (lights: readonly RenderedLight[], params: ParamValues) => readonly string[]
  readonly canDenoise: boolean
  readonly facts: FactRules | null
  readonly layer: PassKind<string, ParamSchema, ParamSchema>['layer']
  readonly view: (scene: SceneGeometry, params: ParamValues) => Uint8Array | null
  readonly createRenderer: (context: PassContext, params: ParamValues) => TileRenderer
  readonly keeps: (context: PassContext, params: ParamValues, lightsStay: boolean) => readonly KeptAnswer[]
  readonly idleRender: (params: ParamValues, scene: SceneTraits) => IdleParams
  readonly idleLook: (look: ParamValues, ground: LookGround) => IdleParams
  readonly look: (input: LookInput, params: ParamValues, out: Float32Array) => void
}

function register<K extends PassKindName, R extends ParamSchema, L extends ParamSchema>(
  pass: PassKind<K, R, L>,
): RegisteredPass {
  // Refuses an incomplete descriptor: a field without a control, no channel, a channel named twice.
  paramControls(pass.renderSchema)
  paramControls(pass.lookSchema)
  const { channels, denoised = [] } = pass
  const rendered = (params: ParamValues) => parseParams(pass.renderSchema, params, pass.kind) as z.infer<R>
  const looked = (params: ParamValues) => parseParams(pass.lookSchema, params, pass.kind) as z.infer<L>
  const channelsOf = (lights: readonly RenderedLight[], params: ParamValues): readonly ChannelSpec[] =>
    typeof channels === 'function' ? channels(lights, rendered(params)) : channels
  const names = channelsOf([], {}).map((c) => c.name)
  const { lines, usesLights = false, createRenderer, look } = pass
  if (names.length === 0 && !lines) throw new Error(`pass ${pass.kind} has neither channels nor lines`)
  if (new Set(names).size !== names.length) throw new Error(`pass ${pass.kind} lists a channel twice`)
  if (names.length > 0 && !(createRenderer && look))
    throw new Error(`pass ${pass.kind} has channels that nothing renders or shows`)
  return {
    ...pass,
    channels: channelsOf,
    isSampled: names.length > 0,
    readyLooks: Object.fromEntries(
      Object.entries(pass.readyLooks ?? {}).map(([name, { label, look: own }]) => [
        name,
        { label, look: looked(own) as ParamValues },
      ]),
    ),
    lines: lines
      ? {
          setting: (params) => lines.setting(rendered(params)),
          style: (params) => lines.style(looked(params)),
          hasFill: (params) => lines.hasFill?.(looked(params)) ?? false,
        }
      : null,
    usesLights: (params) => (typeof usesLights === 'function' ? usesLights(rendered(params)) : usesLights),
    adaptive: pass.adaptive ?? true,
    isData: pass.isData ?? false,
    reads: pass.reads ?? [],
    denoised: (lights) => (typeof denoised === 'function' ? denoised(lights) : denoised),
    canDenoise: pass.denoised !== undefined,
    facts: pass.facts ?? null,
    idleRender: (params, scene) => pass.idleRender?.(rendered(params), scene) ?? {},
    idleLook: (own, ground) => pass.idleLook?.(looked(own), ground) ?? {},
    view: (scene, params) => pass.view?.(scene, rendered(params)) ?? null,
    keeps: (context, params, lightsStay) => pass.keeps?.(context, rendered(params), lightsStay) ?? [],
    createRenderer: (context, params) => createRenderer?.(context, rendered(params)) ?? (() => []),
    look: (input, params, out) => look?.(input, looked(params), out),
  }
}

const passes: Readonly<Record<PassKindName, RegisteredPass>> = {
  clay: register(clay),
  lit: register(lit),
  occlusion: register(occlusion),
  cavity: register(cavity),
  contour: register(contour),
  wireframe: register(wireframe),
  id: register(id),
  flat: register(flat),
  stepped: register(stepped),
  shadow: register(shadow),
  reflection: register(reflection),
  light: register(light),
  depth: register(depth),
  normal: register(normal),
  facing: register(facing),
  thickness: register(thickness),
  surroundings: register(surroundings),
}

export const passKind = (kind: PassKindName): RegisteredPass => passes[kind]
export const isPassKind = (kind: string): kind is PassKindName =>
  (PASS_KINDS as readonly string[]).includes(kind)
