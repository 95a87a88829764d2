import type { PolygonMesh } from './polygon-mesh'
import { triangulate } from './triangulate'

/** A mesh as an interactive view draws it: loose triangles, those of one part together. */
export interface DisplayTriangles {
  /** Float32Array, 9·T: three corners per triangle, world units of the file. */
  readonly positions: Float32Array
  /** Float32Array, 9·T. */
  readonly normals: Float32Array
  /** Float32Array, 6·T, or null where the mesh has none. */
  readonly uvs: Float32Array | null
  /** Uint8Array, 9·T, display values 0…255, or null where the mesh has none. */
  readonly colours: Uint8Array | null
  /** Uint32Array, T: index into the model's materials. */
  readonly materials: Uint32Array
  /** Uint32Array, P + 1: triangles of part p are partStarts[p] … partStarts[p + 1] − 1. */
  readonly partStarts: Uint32Array
}

/** @param partCount P: parts of the model, with or without faces. */
export function displayTriangles(mesh: PolygonMesh, partCount: number): DisplayTriangles {
  const { corners, faces } = triangulate(mesh)
  const total = faces.length

  // 1. Where each part's triangles begin: count, then sum.
  const partStarts = new Uint32Array(partCount + 1)
  for (let t = 0; t < total; t++) partStarts[mesh.faceParts[faces[t]] + 1]++
  for (let p = 0; p < partCount; p++) partStarts[p + 1] += partStarts[p]

  // 2. Each triangle to its place: by part, and within it by material, so that a material is one run.
  const order = Uint32Array.from({ length: total }, (_, t) => t)
  const materialTotal = mesh.faceMaterials.reduce((most, m) => Math.max(most, m), 0) + 1
  if (materialTotal > 1) countingSort(order, (t) => mesh.faceMaterials[faces[t]], materialTotal)
  const next = partStarts.slice()
  const positions = new Float32Array(9 * total)
  const normals = new Float32Array(9 * total)
  const { cornerUvs, cornerColours } = mesh
  const uvs = cornerUvs && new Float32Array(6 * total)
  const colours = cornerColours && new Uint8Array(9 * total)
  const materials = new Uint32Array(total)
  for (const t of order) {
    const at = next[mesh.faceParts[faces[t]]]++
    materials[at] = mesh.faceMaterials[faces[t]]
    for (let k = 0; k < 3; k++) {
      const corner = corners[3 * t + k]
      const vertex = mesh.cornerVertices[corner]
      for (let axis = 0; axis < 3; axis++) {
        positions[9 * at + 3 * k + axis] = mesh.positions[3 * vertex + axis]
        normals[9 * at + 3 * k + axis] = mesh.cornerNormals[3 * corner + axis]
        if (colours && cornerColours) colours[9 * at + 3 * k + axis] = cornerColours[3 * corner + axis]
      }
      if (uvs && cornerUvs) {
        uvs[6 * at + 2 * k] = cornerUvs[2 * corner]
        uvs[6 * at + 2 * k + 1] = cornerUvs[2 * corner + 1]
      }
    }
  }
  return { positions, normals, uvs, colours, materials, partStarts }
}

/** Sorts numbers by a small key, equal keys in their order. */
function countingSort(list: Uint32Array, keyOf: (item: number) => number, keys: number): void {
  const starts = new Uint32Array(keys + 1)
  for (const item of list) starts[keyOf(item) + 1]++
  for (let k = 0; k < keys; k++) starts[k + 1] += starts[k]
  for (const item of list.slice()) list[starts[keyOf(item)]++] = item
}
