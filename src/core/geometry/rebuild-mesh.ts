import type { PolygonMesh } from './polygon-mesh'
import { faceCount } from './polygon-mesh'

/** New faces as lists of old corners, with the old face each takes its part and material from. */
export interface FacePlan {
  /** Uint32Array, F' + 1. */
  readonly faceStarts: Uint32Array
  /** Uint32Array, C': old corner of each new one. */
  readonly corners: Uint32Array
  /** Uint32Array, F': old face. */
  readonly faces: Uint32Array
}

function pick<T extends Float32Array | Uint8Array>(from: T, width: number, corners: Uint32Array, out: T): T {
  for (let c = 0; c < corners.length; c++)
    for (let k = 0; k < width; k++) out[width * c + k] = from[width * corners[c] + k]
  return out
}

/** A mesh of other faces over the same vertices; each new corner is as its old one was. */
export function rebuildMesh(mesh: PolygonMesh, plan: FacePlan): PolygonMesh {
  const { corners, faces, faceStarts } = plan
  const total = corners.length
  const { cornerUvs, cornerColours } = mesh
  return {
    positions: mesh.positions,
    faceStarts,
    cornerVertices: corners.map((c) => mesh.cornerVertices[c]),
    cornerNormals: pick(mesh.cornerNormals, 3, corners, new Float32Array(3 * total)),
    cornerUvs: cornerUvs && pick(cornerUvs, 2, corners, new Float32Array(2 * total)),
    cornerColours: cornerColours && pick(cornerColours, 3, corners, new Uint8Array(3 * total)),
    faceParts: faces.map((f) => mesh.faceParts[f]),
    faceMaterials: faces.map((f) => mesh.faceMaterials[f]),
  }
}

/** The faces flagged with 1, each with the corners flagged with 1; a face left with fewer than three goes. */
export function keepFaces(mesh: PolygonMesh, keep: Uint8Array, keepCorner?: Uint8Array): PolygonMesh {
  const starts = [0]
  const corners: number[] = []
  const faces: number[] = []
  for (let f = 0; f < faceCount(mesh); f++) {
    if (!keep[f]) continue
    const before = corners.length
    for (let c = mesh.faceStarts[f]; c < mesh.faceStarts[f + 1]; c++)
      if (!keepCorner || keepCorner[c]) corners.push(c)
    if (corners.length - before < 3) {
      corners.length = before
      continue
    }
    starts.push(corners.length)
    faces.push(f)
  }
  return rebuildMesh(mesh, {
    faceStarts: Uint32Array.from(starts),
    corners: Uint32Array.from(corners),
    faces: Uint32Array.from(faces),
  })
}

/** The flagged faces turned over: corners the other way round, normals to the other side. */
export function turnFaces(mesh: PolygonMesh, turn: Uint8Array): PolygonMesh {
  const corners = Uint32Array.from({ length: mesh.cornerVertices.length }, (_, c) => c)
  for (let f = 0; f < faceCount(mesh); f++)
    if (turn[f]) corners.subarray(mesh.faceStarts[f], mesh.faceStarts[f + 1]).reverse()
  const turned = rebuildMesh(mesh, {
    faceStarts: mesh.faceStarts,
    corners,
    faces: Uint32Array.from({ length: faceCount(mesh) }, (_, f) => f),
  })
  for (let f = 0; f < faceCount(mesh); f++) {
    if (!turn[f]) continue
    for (let i = 3 * mesh.faceStarts[f]; i < 3 * mesh.faceStarts[f + 1]; i++)
      turned.cornerNormals[i] = -turned.cornerNormals[i]
  }
  return turned
}

/** Only the vertices that faces use, in their old order. @returns the mesh and how many went. */
export function dropLooseVertices(mesh: PolygonMesh): { mesh: PolygonMesh; dropped: number } {
  const total = mesh.positions.length / 3
  const place = new Int32Array(total).fill(-1)
  for (const v of mesh.cornerVertices) place[v] = 0
  let count = 0
  for (let v = 0; v < total; v++) if (place[v] === 0) place[v] = count++
  if (count === total) return { mesh, dropped: 0 }
  const positions = new Float32Array(3 * count)
  for (let v = 0; v < total; v++)
    if (place[v] >= 0) positions.set(mesh.positions.subarray(3 * v, 3 * v + 3), 3 * place[v])
  return {
    mesh: { ...mesh, positions, cornerVertices: mesh.cornerVertices.map((v) => place[v]) },
    dropped: total - count,
  }
}
