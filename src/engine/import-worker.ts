import { z } from 'zod'
import { isModelFile, readModel } from '@/core/formats/model-readers'
import { fileSource, MODEL_ZIP, ZipFile } from '@/core/formats/zip-file'
import type { DisplayTriangles } from '@/core/geometry/display-triangles'
import { displayTriangles } from '@/core/geometry/display-triangles'
import type { MeshReport } from '@/core/geometry/mesh-report'
import { inspectMesh } from '@/core/geometry/mesh-report'
import type { MeshSummary } from '@/core/geometry/mesh-summary'
import { summarizeMesh } from '@/core/geometry/mesh-summary'
import type { OutlinePoints } from '@/core/geometry/outline-points'
import { outlinePoints } from '@/core/geometry/outline-points'
import type { Model, PolygonMesh } from '@/core/geometry/polygon-mesh'
import { PROP_KINDS, propKind } from '@/core/geometry/props/registry'
import { repairMesh, repairSchema } from '@/core/geometry/repairs/registry'
import { paramValuesSchema } from '@/core/params'
import { shareArray } from '@/core/trace/shared-arrays'

export const importRequestSchema = z.discriminatedUnion('type', [
  z.strictObject({
    type: z.literal('file'),
    entry: z.string(),
    files: z.map(
      z.string(),
      z.custom<Uint8Array>((v) => v instanceof Uint8Array),
    ),
    repairs: z.array(repairSchema),
  }),
  z.strictObject({
    type: z.literal('prop'),
    prop: z.enum(PROP_KINDS),
    params: paramValuesSchema,
    repairs: z.array(repairSchema),
  }),
])
/** Asks for the models, and what belongs to them, of a zip. */
export const unzipRequestSchema = z.strictObject({
  type: z.literal('zip'),
  name: z.string(),
  file: z.instanceof(Blob),
})
export type ImportRequest = z.infer<typeof importRequestSchema>

/** A model as the application keeps it while it is open: as read and repaired, and ready to be drawn. */
export interface LoadedModel extends Model {
  /** Paths of the files it came from, its own first. */
  readonly files: readonly string[]
  readonly display: DisplayTriangles
  readonly outline: OutlinePoints
  readonly summary: MeshSummary
  readonly report: MeshReport
  /** What each repair did, in words. */
  readonly notes: readonly string[]
}

export const IMPORT_STAGES = ['reading', 'repairing', 'looking over'] as const
export type ImportStage = (typeof IMPORT_STAGES)[number]
export type ImportReply =
  | { readonly model: LoadedModel }
  | { readonly files: ReadonlyMap<string, Uint8Array> }
  | { readonly problem: string }
  | { readonly stage: ImportStage }

/** Meshes go on to the render workers: in shared memory that costs the main thread nothing. */
const shareMesh = (mesh: PolygonMesh): PolygonMesh => ({
  positions: shareArray(mesh.positions),
  faceStarts: shareArray(mesh.faceStarts),
  cornerVertices: shareArray(mesh.cornerVertices),
  cornerNormals: shareArray(mesh.cornerNormals),
  cornerUvs: mesh.cornerUvs && shareArray(mesh.cornerUvs),
  cornerColours: mesh.cornerColours,
  faceParts: shareArray(mesh.faceParts),
  faceMaterials: shareArray(mesh.faceMaterials),
})

const tell = (stage: ImportStage) => self.postMessage({ stage } satisfies ImportReply)

async function load(request: ImportRequest): Promise<LoadedModel> {
  tell('reading')
  const read =
    request.type === 'file'
      ? await readModel(request.files, request.entry)
      : { ...propKind(request.prop).make(request.params), files: [] }
  if (request.repairs.length > 0) tell('repairing')
  const { mesh, notes } = repairMesh(read.mesh, request.repairs)
  tell('looking over')
  const parts = read.parts.length
  return {
    ...read,
    mesh: shareMesh(mesh),
    notes,
    display: displayTriangles(mesh, parts),
    outline: outlinePoints(mesh, parts),
    summary: summarizeMesh(mesh, parts),
    report: inspectMesh(mesh),
  }
}

async function unzip(name: string, file: Blob): Promise<ReadonlyMap<string, Uint8Array>> {
  const zip = await ZipFile.open(fileSource(file), name, MODEL_ZIP)
  return zip.readAll(isModelFile)
}

const workerRequestSchema = z.union([importRequestSchema, unzipRequestSchema])

self.onmessage = async (event: MessageEvent<unknown>) => {
  let reply: ImportReply
  try {
    const request = workerRequestSchema.parse(event.data)
    reply =
      request.type === 'zip'
        ? { files: await unzip(request.name, request.file) }
        : { model: await load(request) }
  } catch (error) {
    reply = { problem: error instanceof Error ? error.message : String(error) }
  }
  const bulk = 'model' in reply ? [reply.model.mesh, reply.model.display, reply.model.outline] : []
  const views: unknown[] = bulk.flatMap((b) => Object.values(b))
  if ('files' in reply) views.push(...reply.files.values())
  const buffers = views.filter((v) => ArrayBuffer.isView(v)).map((v) => v.buffer)
  self.postMessage(reply, { transfer: [...new Set(buffers.filter((b) => b instanceof ArrayBuffer))] })
}
