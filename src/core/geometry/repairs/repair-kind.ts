import type { z } from 'zod'
import type { ParamSchema } from '../../params'
import type { PolygonMesh } from '../polygon-mesh'

export interface Repaired {
  readonly mesh: PolygonMesh
  /** What was done, in words with numbers: "welded 12 vertices". */
  readonly note: string
}

/** A repair of a mesh. Adding one is one file with one of these and one line in the registry. */
export interface RepairKind<K extends string, S extends ParamSchema> {
  readonly kind: K
  /** What the button says. */
  readonly label: string
  /** One sentence: what it changes and what it leaves. */
  readonly summary: string
  readonly schema: S
  /** @param faces 1 for each face it may change. */
  readonly apply: (mesh: PolygonMesh, params: z.infer<S>, faces: Uint8Array) => Repaired
}

export const defineRepair = <K extends string, S extends ParamSchema>(
  repair: RepairKind<K, S>,
): RepairKind<K, S> => repair
