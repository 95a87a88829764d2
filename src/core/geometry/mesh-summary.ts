import { hashBytes, hashJson } from '../math/stable-hash'
import type { PolygonMesh } from './polygon-mesh'
import { faceCount, polygonsBySides } from './polygon-mesh'

/** How many polygons have three, four and more sides. */
export interface BySides {
  3: number
  4: number
  more: number
}

/** What is told of a mesh without keeping it at hand. */
export interface MeshSummary {
  /** Changes when anything that is rendered changes. */
  readonly geometryHash: string
  readonly polygonsBySides: BySides
  /** For each part: its polygons, those by their sides, and the materials they use in ascending order. */
  readonly parts: readonly {
    readonly polygons: number
    readonly sides: BySides
    readonly materials: readonly number[]
  }[]
}

/** @param partCount parts of the model, with or without faces. */
export function summarizeMesh(mesh: PolygonMesh, partCount: number): MeshSummary {
  const sides = Array.from({ length: partCount }, (): BySides => ({ 3: 0, 4: 0, more: 0 }))
  const materials = Array.from({ length: partCount }, () => new Set<number>())
  for (let f = 0; f < faceCount(mesh); f++) {
    const count = mesh.faceStarts[f + 1] - mesh.faceStarts[f]
    sides[mesh.faceParts[f]][count === 3 || count === 4 ? count : 'more']++
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
      polygons: sides[p][3] + sides[p][4] + sides[p].more,
      sides: sides[p],
      materials: [...used].sort((a, b) => a - b),
    })),
  }
}
