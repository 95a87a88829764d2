import type { PolygonMesh } from './polygon-mesh'
import { triangulate } from './triangulate'

/** Cells along the longest side of the mesh, to begin with, and the least there are. */
const CELLS = 96
const LEAST_CELLS = 12
/** Normals of one cell that go together less well than this keep to themselves: an edge, or the two sides of a wall. */
const ALIKE = 0.9

/**
 * A mesh of few triangles that looks like another from some way off: all vertices in a cell of a grid become one, and
 * triangles within fewer than three cells go (Rossignac & Borrel 1993). Parts and materials stay with their triangles.
 * @param mostTriangles the grid is made coarser until there are about that many at the most.
 */
export function coarseMesh(mesh: PolygonMesh, mostTriangles: number): PolygonMesh {
  const triangles = triangulate(mesh)
  for (let cells = CELLS; ; cells = Math.floor(cells * 0.7)) {
    const grid = gridOver(mesh, cells)
    const kept = spanningTriangles(mesh, triangles.corners, grid.cellOf)
    if (kept.length <= mostTriangles || cells <= LEAST_CELLS) return joined(mesh, triangles, kept, grid)
  }
}

interface Grid {
  /** Int32Array, V: number of the cell each vertex is in, of those that hold any. */
  readonly cellOf: Int32Array
  /** Float64Array, 4 a cell: sum of the places of its vertices, and how many there are. */
  readonly sums: Float64Array
}

function gridOver(mesh: PolygonMesh, cells: number): Grid {
  const { positions } = mesh
  const min = [Infinity, Infinity, Infinity]
  const max = [-Infinity, -Infinity, -Infinity]
  for (let i = 0, axis = 0; i < positions.length; i++) {
    if (positions[i] < min[axis]) min[axis] = positions[i]
    if (positions[i] > max[axis]) max[axis] = positions[i]
    axis = axis === 2 ? 0 : axis + 1
  }
  const side = Math.max(max[0] - min[0], max[1] - min[1], max[2] - min[2]) || 1
  const scale = (cells - 1e-6) / side
  const numbers = new Int32Array(cells ** 3)
  const vertices = positions.length / 3
  const cellOf = new Int32Array(vertices)
  const sums: number[] = []
  for (let v = 0; v < vertices; v++) {
    const x = positions[3 * v]
    const y = positions[3 * v + 1]
    const z = positions[3 * v + 2]
    const at =
      Math.floor((x - min[0]) * scale) +
      cells * (Math.floor((y - min[1]) * scale) + cells * Math.floor((z - min[2]) * scale))
    if (numbers[at] === 0) numbers[at] = sums.push(0, 0, 0, 0) / 4
    const cell = numbers[at] - 1
    cellOf[v] = cell
    sums[4 * cell] += x
    sums[4 * cell + 1] += y
    sums[4 * cell + 2] += z
    sums[4 * cell + 3]++
  }
  return { cellOf, sums: Float64Array.from(sums) }
}

/** Triangles with a corner in three cells each. */
function spanningTriangles(
  { cornerVertices }: PolygonMesh,
  corners: Uint32Array,
  cellOf: Int32Array,
): number[] {
  const kept: number[] = []
  for (let t = 0; 3 * t < corners.length; t++) {
    const a = cellOf[cornerVertices[corners[3 * t]]]
    const b = cellOf[cornerVertices[corners[3 * t + 1]]]
    const c = cellOf[cornerVertices[corners[3 * t + 2]]]
    if (a !== b && b !== c && c !== a) kept.push(t)
  }
  return kept
}

/** The mesh of those triangles over the middles of the cells. */
function joined(
  mesh: PolygonMesh,
  { corners, faces }: ReturnType<typeof triangulate>,
  kept: readonly number[],
  { cellOf, sums }: Grid,
): PolygonMesh {
  const { cornerVertices, cornerNormals, cornerUvs, cornerColours, faceParts, faceMaterials } = mesh
  const count = 3 * kept.length
  const from = Uint32Array.from({ length: count }, (_, i) => corners[3 * kept[Math.floor(i / 3)] + (i % 3)])
  const vertexOf = from.map((corner) => cellOf[cornerVertices[corner]])
  const positions = new Float32Array((3 * sums.length) / 4)
  for (let cell = 0; 4 * cell < sums.length; cell++)
    for (let axis = 0; axis < 3; axis++)
      positions[3 * cell + axis] = sums[4 * cell + axis] / sums[4 * cell + 3]

  const means = new Float64Array(positions.length)
  for (let i = 0; i < count; i++)
    for (let axis = 0; axis < 3; axis++) means[3 * vertexOf[i] + axis] += cornerNormals[3 * from[i] + axis]
  const normals = new Float32Array(3 * count)
  for (let i = 0; i < count; i++) {
    const own = cornerNormals.subarray(3 * from[i], 3 * from[i] + 3)
    const mean = means.subarray(3 * vertexOf[i], 3 * vertexOf[i] + 3)
    const length = Math.hypot(mean[0], mean[1], mean[2])
    const along = own[0] * mean[0] + own[1] * mean[1] + own[2] * mean[2]
    for (let axis = 0; axis < 3; axis++)
      normals[3 * i + axis] = along > ALIKE * length ? mean[axis] / length : own[axis]
  }
  const uvs = cornerUvs && new Float32Array(2 * count)
  const colours = cornerColours && new Uint8Array(3 * count)
  for (let i = 0; i < count; i++) {
    if (uvs && cornerUvs) for (let k = 0; k < 2; k++) uvs[2 * i + k] = cornerUvs[2 * from[i] + k]
    if (colours && cornerColours)
      for (let k = 0; k < 3; k++) colours[3 * i + k] = cornerColours[3 * from[i] + k]
  }
  return {
    positions,
    faceStarts: Uint32Array.from({ length: kept.length + 1 }, (_, f) => 3 * f),
    cornerVertices: vertexOf,
    cornerNormals: normals,
    cornerUvs: uvs,
    cornerColours: colours,
    faceParts: Uint32Array.from(kept, (t) => faceParts[faces[t]]),
    faceMaterials: Uint32Array.from(kept, (t) => faceMaterials[faces[t]]),
  }
}
