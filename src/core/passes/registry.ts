import type { z } from 'zod'
import type { ChannelSpec } from '../picture/channel'
import type { RenderedLight } from '../scene/rendered-light'
import type { ParamSchema, ParamValues } from '../params'
import { paramControls, parseParams } from '../params'
import { cavity } from './cavity'
import { clay } from './clay'
import { contour } from './contour'
import { id } from './id'
import { occlusion } from './occlusion'
import type { Effort, LookInput, PassContext, PassKind, TileRenderer } from './pass-kind'
import { wireframe } from './wireframe'

/** Every pass, in the order it is offered. Adding one is its file and its line here. */
export const PASS_KINDS = ['clay', 'occlusion', 'cavity', 'contour', 'wireframe', 'id'] as const
export type PassKindName = (typeof PASS_KINDS)[number]

/** A pass with its parameter types closed over: values go in loose and are validated by its own schemas. */
export interface RegisteredPass {
  readonly kind: PassKindName
  readonly label: string
  readonly summary: string
  readonly renderSchema: ParamSchema
  readonly lookSchema: ParamSchema
  readonly channels: (lights: readonly RenderedLight[]) => readonly ChannelSpec[]
  readonly usesLights: boolean
  readonly efforts: Readonly<Record<'draft' | 'final', Effort>>
  readonly layer: PassKind<string, ParamSchema, ParamSchema>['layer']
  readonly createRenderer: (context: PassContext, params: ParamValues) => TileRenderer
  readonly look: (input: LookInput, params: ParamValues, out: Float32Array) => void
}

function register<K extends PassKindName, R extends ParamSchema, L extends ParamSchema>(
  pass: PassKind<K, R, L>,
): RegisteredPass {
  // Refuses an incomplete descriptor: a field without a control, no channel, a channel named twice.
  paramControls(pass.renderSchema)
  paramControls(pass.lookSchema)
  const { channels } = pass
  const channelsOf = typeof channels === 'function' ? channels : () => channels
  const names = channelsOf([]).map((c) => c.name)
  if (names.length === 0 || new Set(names).size !== names.length) {
    throw new Error(`pass ${pass.kind} must list its channels, each once`)
  }
  return {
    ...pass,
    channels: channelsOf,
    usesLights: pass.usesLights ?? false,
    createRenderer: (context, params) =>
      pass.createRenderer(context, parseParams(pass.renderSchema, params, pass.kind) as z.infer<R>),
    look: (input, params, out) =>
      pass.look(input, parseParams(pass.lookSchema, params, pass.kind) as z.infer<L>, out),
  }
}

const passes: Readonly<Record<PassKindName, RegisteredPass>> = {
  clay: register(clay),
  occlusion: register(occlusion),
  cavity: register(cavity),
  contour: register(contour),
  wireframe: register(wireframe),
  id: register(id),
}

export const passKind = (kind: PassKindName): RegisteredPass => passes[kind]
export const isPassKind = (kind: string): kind is PassKindName =>
  (PASS_KINDS as readonly string[]).includes(kind)
