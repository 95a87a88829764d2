import { z } from 'zod'
import { readModel } from '@/core/formats/model-readers'
import type { DisplayTriangles } from '@/core/geometry/display-triangles'
import { displayTriangles } from '@/core/geometry/display-triangles'
import type { MeshSummary } from '@/core/geometry/mesh-summary'
import { summarizeMesh } from '@/core/geometry/mesh-summary'
import type { OutlinePoints } from '@/core/geometry/outline-points'
import { outlinePoints } from '@/core/geometry/outline-points'
import type { Model, PolygonMesh } from '@/core/geometry/polygon-mesh'
import { shareArray } from '@/core/trace/shared-arrays'

const requestSchema = z.strictObject({
  entry: z.string(),
  files: z.map(
    z.string(),
    z.custom<Uint8Array>((v) => v instanceof Uint8Array),
  ),
})

/** A model as the application keeps it while it is open: as read, and ready to be drawn. */
export interface LoadedModel extends Model {
  readonly display: DisplayTriangles
  readonly outline: OutlinePoints
  readonly summary: MeshSummary
}

export type ImportReply = { readonly model: LoadedModel } | { readonly problem: string }

/** Meshes go on to the render workers: in shared memory that costs the main thread nothing. */
const shareMesh = (mesh: PolygonMesh): PolygonMesh => ({
  positions: shareArray(mesh.positions),
  faceStarts: shareArray(mesh.faceStarts),
  cornerVertices: shareArray(mesh.cornerVertices),
  cornerNormals: shareArray(mesh.cornerNormals),
  cornerUvs: mesh.cornerUvs && shareArray(mesh.cornerUvs),
  faceParts: shareArray(mesh.faceParts),
  faceMaterials: shareArray(mesh.faceMaterials),
})

self.onmessage = async (event: MessageEvent<unknown>) => {
  let reply: ImportReply
  try {
    const { entry, files } = requestSchema.parse(event.data)
    const model = await readModel(files, entry)
    const display = displayTriangles(model.mesh, model.parts.length)
    const outline = outlinePoints(model.mesh, model.parts.length)
    const summary = summarizeMesh(model.mesh, model.parts.length)
    reply = { model: { ...model, mesh: shareMesh(model.mesh), display, outline, summary } }
  } catch (error) {
    reply = { problem: error instanceof Error ? error.message : String(error) }
  }
  const bulk = 'model' in reply ? [reply.model.mesh, reply.model.display, reply.model.outline] : []
  const buffers = bulk.flatMap((b) =>
    Object.values(b)
      .filter((v) => ArrayBuffer.isView(v))
      .map((v) => v.buffer),
  )
  self.postMessage(reply, { transfer: buffers.filter((b) => b instanceof ArrayBuffer) })
}
