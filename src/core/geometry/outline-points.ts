import type { PolygonMesh } from './polygon-mesh'
import { faceCount } from './polygon-mesh'

/** For each part, few points that stand for all when it comes to what a view must take in. */
export interface OutlinePoints {
  /** Float32Array, 3·N, world units of the file. */
  readonly positions: Float32Array
  /** Uint32Array, P + 1: points of part p are partStarts[p] … partStarts[p + 1] − 1. */
  readonly partStarts: Uint32Array
}

/** Directions in which the farthest vertex of a part is kept; a part with fewer vertices keeps them all. */
const DIRECTIONS = 512

/** The six axes, so that boxes are exact, and a Fibonacci lattice over the sphere (Gonzalez 2010). */
function directions(): Float64Array {
  const out = new Float64Array(3 * DIRECTIONS)
  out.set([1, 0, 0, -1, 0, 0, 0, 1, 0, 0, -1, 0, 0, 0, 1, 0, 0, -1])
  const turn = Math.PI * (3 - Math.sqrt(5))
  const free = DIRECTIONS - 6
  for (let i = 0; i < free; i++) {
    const y = 1 - (2 * i + 1) / free
    const radius = Math.sqrt(1 - y * y)
    out.set([radius * Math.cos(i * turn), y, radius * Math.sin(i * turn)], 3 * (i + 6))
  }
  return out
}

/**
 * The vertices of each part that lie farthest in some direction. A view that takes them in takes in the part, to within
 * about one percent of its size; their box is the part's box exactly.
 */
export function outlinePoints(mesh: PolygonMesh, partCount: number): OutlinePoints {
  const { positions, faceStarts, cornerVertices, faceParts } = mesh

  // 1. The vertices of each part, once each.
  const used: number[][] = Array.from({ length: partCount }, () => [])
  const lastPart = new Int32Array(positions.length / 3).fill(-1)
  for (let f = 0; f < faceCount(mesh); f++) {
    const part = faceParts[f]
    for (let k = faceStarts[f]; k < faceStarts[f + 1]; k++) {
      const v = cornerVertices[k]
      // A vertex that parts share may be listed twice in one of them: that costs nothing but its place.
      if (lastPart[v] === part) continue
      lastPart[v] = part
      used[part].push(v)
    }
  }

  // 2. The farthest in each direction.
  const lattice = directions()
  const kept = used.map((vertices): readonly number[] => {
    if (vertices.length <= DIRECTIONS) return vertices
    const farthest = new Set<number>()
    for (let d = 0; d < lattice.length; d += 3) {
      const [dx, dy, dz] = [lattice[d], lattice[d + 1], lattice[d + 2]]
      let best = -Infinity
      let bestVertex = vertices[0]
      for (let i = 0; i < vertices.length; i++) {
        const at = 3 * vertices[i]
        const reach = positions[at] * dx + positions[at + 1] * dy + positions[at + 2] * dz
        if (reach > best) {
          best = reach
          bestVertex = vertices[i]
        }
      }
      farthest.add(bestVertex)
    }
    return [...farthest]
  })

  // 3. Pack.
  const partStarts = new Uint32Array(partCount + 1)
  kept.forEach((vertices, p) => (partStarts[p + 1] = partStarts[p] + vertices.length))
  const out = new Float32Array(3 * partStarts[partCount])
  kept.forEach((vertices, p) =>
    vertices.forEach((v, i) => out.set(positions.subarray(3 * v, 3 * v + 3), 3 * (partStarts[p] + i))),
  )
  return { positions: out, partStarts }
}
