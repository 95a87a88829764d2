import { hashBytes, hashJson } from '../math/stable-hash'
import type { PolygonMesh } from './polygon-mesh'
import { faceCount, polygonsBySides } from './polygon-mesh'

/** What is told of a mesh without keeping it at hand. */
export interface MeshSummary {
  /** Changes when anything that is rendered changes. */
  readonly geometryHash: string
  readonly polygonsBySides: { 3: number; 4: number; more: number }
  /** For each part: its polygons, and the materials they use in ascending order. */
  readonly parts: readonly { readonly polygons: number; readonly materials: readonly number[] }[]
}

/** @param partCount parts of the model, with or without faces. */
export function summarizeMesh(mesh: PolygonMesh, partCount: number): MeshSummary {
  const polygons = new Uint32Array(partCount)
  const materials = Array.from({ length: partCount }, () => new Set<number>())
  for (let f = 0; f < faceCount(mesh); f++) {
    polygons[mesh.faceParts[f]]++
    materials[mesh.faceParts[f]].add(mesh.faceMaterials[f])
  }
  return {
    geometryHash: hashJson([
      hashBytes(mesh.positions),
      hashBytes(mesh.cornerVertices),
      hashBytes(mesh.faceStarts),
      hashBytes(mesh.cornerNormals),
    ]),
    polygonsBySides: polygonsBySides(mesh),
    parts: materials.map((used, p) => ({
      polygons: polygons[p],
      materials: [...used].sort((a, b) => a - b),
    })),
  }
}
