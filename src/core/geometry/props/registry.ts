import type { z } from 'zod'
import type { ParamSchema, ParamValues } from '../../params'
import { paramControls, parseParams } from '../../params'
import type { Model } from '../polygon-mesh'
import { backdrop } from './backdrop'
import { groundPlane } from './ground-plane'
import { pedestal } from './pedestal'
import type { PropKind } from './prop-kind'

/** Every form the application makes itself, in the order it is offered. */
export const PROP_KINDS = ['ground-plane', 'backdrop', 'pedestal'] as const
export type PropKindName = (typeof PROP_KINDS)[number]

export interface RegisteredProp {
  readonly kind: PropKindName
  readonly label: string
  readonly summary: string
  readonly schema: ParamSchema
  readonly make: (params: ParamValues) => Model
}

function register<K extends PropKindName, S extends ParamSchema>(prop: PropKind<K, S>): RegisteredProp {
  paramControls(prop.schema)
  return { ...prop, make: (params) => prop.make(parseParams(prop.schema, params, prop.kind) as z.infer<S>) }
}

const props: Readonly<Record<PropKindName, RegisteredProp>> = {
  'ground-plane': register(groundPlane),
  backdrop: register(backdrop),
  pedestal: register(pedestal),
}
export const propKind = (kind: PropKindName): RegisteredProp => props[kind]
