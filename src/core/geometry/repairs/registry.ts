import { z } from 'zod'
import type { ParamSchema, ParamValues } from '../../params'
import { paramControls, paramValuesSchema, parseParams } from '../../params'
import type { PolygonMesh } from '../polygon-mesh'
import { validateMesh } from '../polygon-mesh'
import { clean } from './clean'
import { flip } from './flip'
import { loose } from './loose'
import { normals } from './normals'
import { orient } from './orient'
import { quads } from './quads'
import type { Repaired, RepairKind } from './repair-kind'
import { rescale } from './rescale'
import { upAxis } from './up-axis'
import { weld } from './weld'

/** Every repair, in the order it is offered. Adding one is its file and its line here. */
export const REPAIR_KINDS = [
  'normals',
  'orient',
  'flip',
  'weld',
  'clean',
  'loose',
  'quads',
  'up-axis',
  'rescale',
] as const
export type RepairKindName = (typeof REPAIR_KINDS)[number]

/** One step of a model's repairs, as it is kept. */
export const repairSchema = z.object({
  kind: z.enum(REPAIR_KINDS),
  params: paramValuesSchema,
  /** Numbers of the parts it may change; null is all. */
  parts: z.array(z.number().int().min(0)).nullable(),
})
export type Repair = z.infer<typeof repairSchema>

export interface RegisteredRepair {
  readonly kind: RepairKindName
  readonly label: string
  readonly summary: string
  readonly schema: ParamSchema
  readonly apply: (mesh: PolygonMesh, params: ParamValues, faces: Uint8Array) => Repaired
}

function register<K extends RepairKindName, S extends ParamSchema>(
  repair: RepairKind<K, S>,
): RegisteredRepair {
  paramControls(repair.schema)
  return {
    ...repair,
    apply: (mesh, params, faces) =>
      repair.apply(mesh, parseParams(repair.schema, params, repair.kind) as z.infer<S>, faces),
  }
}

const repairs: Readonly<Record<RepairKindName, RegisteredRepair>> = {
  normals: register(normals),
  orient: register(orient),
  flip: register(flip),
  weld: register(weld),
  clean: register(clean),
  loose: register(loose),
  quads: register(quads),
  'up-axis': register(upAxis),
  rescale: register(rescale),
}
export const repairKind = (kind: RepairKindName): RegisteredRepair => repairs[kind]

/**
 * Applies repairs one after the other. Parts and materials keep their numbers, so names and roles stay.
 * @returns the mesh and one note per repair.
 */
export function repairMesh(
  mesh: PolygonMesh,
  list: readonly Repair[],
): { mesh: PolygonMesh; notes: readonly string[] } {
  let current = mesh
  const notes: string[] = []
  for (const repair of list) {
    const wanted = repair.parts && new Set(repair.parts)
    const faces = Uint8Array.from(current.faceParts, (part) => (!wanted || wanted.has(part) ? 1 : 0))
    const done = repairKind(repair.kind).apply(current, repair.params, faces)
    validateMesh(done.mesh)
    current = done.mesh
    notes.push(done.note)
  }
  return { mesh: current, notes }
}
