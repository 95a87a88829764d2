import type { z } from 'zod'
import type { ParamSchema } from '../../params'
import type { Model } from '../polygon-mesh'

/** A form the application makes itself, to stand things on or before. Adding one is its file and a registry line. */
export interface PropKind<K extends string, S extends ParamSchema> {
  readonly kind: K
  readonly label: string
  readonly summary: string
  /** Lengths are in world units; defaults are for a subject whose diagonal is 1. */
  readonly schema: S
  readonly make: (params: z.infer<S>) => Model
}

export const defineProp = <K extends string, S extends ParamSchema>(prop: PropKind<K, S>): PropKind<K, S> =>
  prop
