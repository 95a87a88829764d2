import { assertNever } from '@/core/errors'
import { isModelFile, readModel } from '@/core/formats/model-readers'
import { fileSource, MODEL_ZIP, ZipFile } from '@/core/formats/zip-file'
import { coarseMesh } from '@/core/geometry/coarse-mesh'
import { displayPieces, type DisplayPiece } from '@/core/geometry/display-pieces'
import { inspectMesh } from '@/core/geometry/mesh-report'
import { summarizeMesh } from '@/core/geometry/mesh-summary'
import { outlinePoints } from '@/core/geometry/outline-points'
import { faceCount, type PolygonMesh } from '@/core/geometry/polygon-mesh'
import { propKind } from '@/core/geometry/props/registry'
import { repairMesh } from '@/core/geometry/repairs/registry'
import { shareArray } from '@/core/trace/shared-arrays'
import { answerRequests, movable, type Answer, type Tell } from '@/core/workers/answer-requests'

import {
  importRequestSchema,
  type ImportMessage,
  type ImportReply,
  type ImportStage,
  type ReadModel,
} from './import-messages'

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

/** Meshes of more triangles have a coarse form too, of about so many at the most. */
const MANY_TRIANGLES = 60_000
const COARSE_TRIANGLES = 30_000

const coarseOf = (mesh: PolygonMesh, parts: number): DisplayPiece[] =>
  mesh.cornerVertices.length - 2 * faceCount(mesh) > MANY_TRIANGLES
    ? displayPieces(coarseMesh(mesh, COARSE_TRIANGLES), parts)
    : []

/** The mesh that was read last: a report of it may be asked for once the model is shown. */
let lastMesh: PolygonMesh | null = null

async function load(
  request: Extract<ImportMessage, { type: 'file' | 'prop' }>,
  tell: (share01: number, stage: ImportStage) => void,
): Promise<ReadModel> {
  tell(0, 'reading')
  const read =
    request.type === 'file'
      ? await readModel(request.files, request.entry)
      : { ...propKind(request.prop).make(request.params), files: [] }
  if (request.repairs.length > 0) tell(0.6, 'repairing')
  const { mesh, notes } = repairMesh(read.mesh, request.repairs)
  tell(0.8, 'looking over')
  const parts = read.parts.length
  const shared = shareMesh(mesh)
  lastMesh = shared
  return {
    ...read,
    mesh: shared,
    notes,
    display: displayPieces(shared, parts),
    coarse: coarseOf(shared, parts),
    outline: outlinePoints(shared, parts),
    summary: summarizeMesh(shared, parts),
  }
}

async function unzip(name: string, file: Blob): Promise<ReadonlyMap<string, Uint8Array>> {
  const zip = await ZipFile.open(fileSource(file), name, MODEL_ZIP)
  return zip.readAll(isModelFile)
}

async function answer(message: ImportMessage, tell: Tell): Promise<Answer<ImportReply>> {
  const { request } = message
  switch (message.type) {
    case 'file':
    case 'prop': {
      const model = await load(message, tell)
      const bulk = [model.mesh, ...model.display, ...model.coarse, model.outline].flatMap((part) =>
        Object.values(part),
      )
      // What threads cannot share stays here for the report, and is copied.
      return {
        reply: { type: 'model', request, model },
        transfer: movable(bulk.filter((b) => !isOf(lastMesh, b))),
      }
    }
    case 'report':
      if (!lastMesh) throw new Error('no model was read')
      return { reply: { type: 'report', request, report: inspectMesh(lastMesh) } }
    case 'zip': {
      const files = await unzip(message.name, message.file)
      return { reply: { type: 'files', request, files }, transfer: movable(files.values()) }
    }
    default:
      return assertNever(message)
  }
}

const isOf = (mesh: PolygonMesh | null, value: unknown): boolean => Object.values(mesh ?? {}).includes(value)

const serve = answerRequests(
  (message) => importRequestSchema.parse(message),
  answer,
  (reply, transfer) => self.postMessage(reply, { transfer }),
)

self.onmessage = (event: MessageEvent<unknown>) => void serve(event.data)
