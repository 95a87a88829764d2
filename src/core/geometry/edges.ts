import { faceNormals } from './face-normals'
import type { PolygonMesh } from './polygon-mesh'
import { weldPositions } from './weld'

export const EDGE_BORDER = 1
export const EDGE_CREASE = 2
export const EDGE_BETWEEN_PARTS = 4
export const EDGE_BETWEEN_MATERIALS = 8
/** Three or more faces meet here. */
export const EDGE_NON_MANIFOLD = 16
/** Its two faces go along it the same way: one of them is turned over. */
export const EDGE_TURNED = 32

/** Every polygon side once, with the faces beside it. */
export interface MeshEdges {
  readonly count: number
  /** Uint32Array, 2·E: a mesh vertex at each end. */
  readonly vertices: Uint32Array
  /** Int32Array, 2·E: the first two faces; −1 on a border. */
  readonly faces: Int32Array
  /** Float32Array, E: angle between the two faces' normals in radians; π on a border. */
  readonly angleRad: Float32Array
  /** Uint8Array, E: EDGE_* bits. */
  readonly flags: Uint8Array
}

/**
 * Derives the edges of a mesh over vertices welded by position.
 * @param known what was made of the mesh already: `welded` of `weldPositions`, `normals` of `faceNormals`.
 * @param creaseDeg an edge whose faces turn by more is a crease.
 */
export function meshEdges(
  mesh: PolygonMesh,
  known: { readonly welded?: Uint32Array; readonly normals?: Float32Array } = {},
  creaseDeg = 35,
): MeshEdges {
  const { positions, faceStarts, cornerVertices, faceParts, faceMaterials } = mesh
  const welded = known.welded ?? weldPositions(positions).welded
  const corners = cornerVertices.length
  const normals = known.normals ?? faceNormals(mesh)
  let capacity = 16
  while (capacity < corners * 2) capacity *= 2
  const slots = new Int32Array(capacity).fill(-1)
  const vertices = new Uint32Array(2 * corners)
  const keys = new Uint32Array(2 * corners)
  const faces = new Int32Array(2 * corners).fill(-1)
  const flags = new Uint8Array(corners)
  let count = 0

  // 1. Collect.
  for (let f = 0; f < faceStarts.length - 1; f++) {
    const end = faceStarts[f + 1]
    for (let c = faceStarts[f], previous = end - 1; c < end; previous = c++) {
      const from = welded[cornerVertices[previous]]
      const to = welded[cornerVertices[c]]
      if (from === to) continue
      const low = from < to ? from : to
      const high = from < to ? to : from
      let h = Math.imul(low, 0x9e3779b1) ^ Math.imul(high, 0x85ebca6b)
      h ^= h >>> 15
      let slot = h & (capacity - 1)
      while (slots[slot] >= 0 && (keys[2 * slots[slot]] !== low || keys[2 * slots[slot] + 1] !== high)) {
        slot = (slot + 1) & (capacity - 1)
      }
      let e = slots[slot]
      if (e < 0) {
        e = slots[slot] = count++
        keys[2 * e] = low
        keys[2 * e + 1] = high
        vertices[2 * e] = cornerVertices[previous]
        vertices[2 * e + 1] = cornerVertices[c]
        faces[2 * e] = f
      } else if (faces[2 * e + 1] < 0) {
        faces[2 * e + 1] = f
        if (welded[vertices[2 * e]] === from) flags[e] |= EDGE_TURNED
      } else {
        flags[e] |= EDGE_NON_MANIFOLD
      }
    }
  }

  // 2. Classify.
  const angleRad = new Float32Array(count)
  const creaseRad = (creaseDeg * Math.PI) / 180
  for (let e = 0; e < count; e++) {
    const a = faces[2 * e]
    const b = faces[2 * e + 1]
    if (b < 0) {
      angleRad[e] = Math.PI
      flags[e] |= EDGE_BORDER
      continue
    }
    const cosine =
      normals[3 * a] * normals[3 * b] +
      normals[3 * a + 1] * normals[3 * b + 1] +
      normals[3 * a + 2] * normals[3 * b + 2]
    angleRad[e] = Math.acos(Math.min(1, Math.max(-1, cosine)))
    if (angleRad[e] > creaseRad) flags[e] |= EDGE_CREASE
    if (faceParts[a] !== faceParts[b]) flags[e] |= EDGE_BETWEEN_PARTS
    if (faceMaterials[a] !== faceMaterials[b]) flags[e] |= EDGE_BETWEEN_MATERIALS
  }
  return {
    count,
    vertices: vertices.slice(0, 2 * count),
    faces: faces.slice(0, 2 * count),
    angleRad,
    flags: flags.slice(0, count),
  }
}
