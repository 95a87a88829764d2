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

/** More vertices than this are thinned first: each is looked at once, not once for each direction. */
const MOST_LOOKED_AT = 100_000
/** Columns per side that vertices are gathered in for it. */
const COLUMNS = 112

/**
 * Of the vertices in each column along each axis, the two outermost. What lies farthest in a direction is among them, or
 * is nearer by less than a column is wide.
 */
function outermost(positions: Float32Array, vertices: readonly number[]): number[] {
  const min = [Infinity, Infinity, Infinity]
  const max = [-Infinity, -Infinity, -Infinity]
  for (const v of vertices) {
    for (let axis = 0; axis < 3; axis++) {
      const value = positions[3 * v + axis]
      if (value < min[axis]) min[axis] = value
      if (value > max[axis]) max[axis] = value
    }
  }
  const perUnit = min.map((low, axis) => (max[axis] > low ? COLUMNS / (max[axis] - low) : 0))
  const kept = new Set<number>()
  for (let along = 0; along < 3; along++) {
    const [b, c] = [(along + 1) % 3, (along + 2) % 3]
    const lowest = new Int32Array(COLUMNS * COLUMNS).fill(-1)
    const highest = new Int32Array(COLUMNS * COLUMNS).fill(-1)
    for (const v of vertices) {
      const row = Math.min(COLUMNS - 1, Math.floor((positions[3 * v + b] - min[b]) * perUnit[b]))
      const column = Math.min(COLUMNS - 1, Math.floor((positions[3 * v + c] - min[c]) * perUnit[c]))
      const cell = row * COLUMNS + column
      const value = positions[3 * v + along]
      if (lowest[cell] < 0 || value < positions[3 * lowest[cell] + along]) lowest[cell] = v
      if (highest[cell] < 0 || value > positions[3 * highest[cell] + along]) highest[cell] = v
    }
    for (const list of [lowest, highest]) for (const v of list) if (v >= 0) kept.add(v)
  }
  return [...kept]
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
  const kept = used.map((all): readonly number[] => {
    if (all.length <= DIRECTIONS) return all
    const vertices = all.length > MOST_LOOKED_AT ? outermost(positions, all) : all
    const at = new Float64Array(3 * vertices.length)
    vertices.forEach((v, i) => {
      for (let axis = 0; axis < 3; axis++) at[3 * i + axis] = positions[3 * v + axis]
    })
    const farthest = new Set<number>()
    for (let d = 0; d < lattice.length; d += 3) {
      const [dx, dy, dz] = [lattice[d], lattice[d + 1], lattice[d + 2]]
      let best = -Infinity
      let bestAt = 0
      for (let i = 0; i < at.length; i += 3) {
        const reach = at[i] * dx + at[i + 1] * dy + at[i + 2] * dz
        if (reach > best) {
          best = reach
          bestAt = i
        }
      }
      farthest.add(vertices[bestAt / 3])
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
