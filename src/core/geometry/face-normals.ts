import type { PolygonMesh } from './polygon-mesh'

/**
 * Unit normals of all faces by Newell's method (Sutherland, Sproull & Schumacker 1974): right for concave and
 * slightly bent polygons. A face without area gets (0, 0, 0).
 * @returns Float32Array, 3·F.
 */
export function faceNormals(
  mesh: Pick<PolygonMesh, 'positions' | 'faceStarts' | 'cornerVertices'>,
): Float32Array {
  const { positions, faceStarts, cornerVertices } = mesh
  const faces = faceStarts.length - 1
  const normals = new Float32Array(3 * faces)
  for (let f = 0; f < faces; f++) {
    let x = 0
    let y = 0
    let z = 0
    const end = faceStarts[f + 1]
    for (let c = faceStarts[f], previous = end - 1; c < end; previous = c++) {
      const a = 3 * cornerVertices[previous]
      const b = 3 * cornerVertices[c]
      x += (positions[a + 1] - positions[b + 1]) * (positions[a + 2] + positions[b + 2])
      y += (positions[a + 2] - positions[b + 2]) * (positions[a] + positions[b])
      z += (positions[a] - positions[b]) * (positions[a + 1] + positions[b + 1])
    }
    const len = Math.sqrt(x * x + y * y + z * z)
    if (len > 0) {
      normals[3 * f] = x / len
      normals[3 * f + 1] = y / len
      normals[3 * f + 2] = z / len
    }
  }
  return normals
}

/**
 * Corner normals for a mesh that has none: at each corner the angle-weighted mean of the faces around the vertex
 * that meet this face within `creaseDeg` (Thürmer & Wüthrich 1998 weights). Neighbours are found by position, so
 * split vertices still shade smoothly.
 * @param vertexOfCorner Uint32Array, C: welded vertex of each corner.
 * @param faceGroups Uint32Array, F: where given, groups decide instead of the angle; a face of group 0 is flat.
 * @returns Float32Array, 3·C.
 */
export function smoothCornerNormals(
  mesh: Pick<PolygonMesh, 'positions' | 'faceStarts' | 'cornerVertices'>,
  vertexOfCorner: Uint32Array,
  weldedCount: number,
  creaseDeg = 35,
  faceGroups: Uint32Array | null = null,
): Float32Array {
  const { positions, faceStarts, cornerVertices } = mesh
  const faces = faceStarts.length - 1
  const corners = cornerVertices.length
  const perFace = faceNormals(mesh)
  const minCosine = Math.cos((creaseDeg * Math.PI) / 180)

  // 1. Angle and face of every corner, and the corners around each welded vertex as a linked list.
  const angles = new Float32Array(corners)
  const faceOfCorner = new Uint32Array(corners)
  const nextCorner = new Int32Array(corners).fill(-1)
  const firstCorner = new Int32Array(weldedCount).fill(-1)
  for (let f = 0; f < faces; f++) {
    const start = faceStarts[f]
    const end = faceStarts[f + 1]
    for (let c = start; c < end; c++) {
      faceOfCorner[c] = f
      const here = 3 * cornerVertices[c]
      const before = 3 * cornerVertices[c === start ? end - 1 : c - 1]
      const after = 3 * cornerVertices[c === end - 1 ? start : c + 1]
      const ux = positions[before] - positions[here]
      const uy = positions[before + 1] - positions[here + 1]
      const uz = positions[before + 2] - positions[here + 2]
      const vx = positions[after] - positions[here]
      const vy = positions[after + 1] - positions[here + 1]
      const vz = positions[after + 2] - positions[here + 2]
      const along = ux * vx + uy * vy + uz * vz
      const crossX = uy * vz - uz * vy
      const crossY = uz * vx - ux * vz
      const crossZ = ux * vy - uy * vx
      angles[c] = Math.atan2(Math.sqrt(crossX * crossX + crossY * crossY + crossZ * crossZ), along)
      const vertex = vertexOfCorner[c]
      nextCorner[c] = firstCorner[vertex]
      firstCorner[vertex] = c
    }
  }

  // 2. Sum over the fan, corner by corner.
  const normals = new Float32Array(3 * corners)
  for (let c = 0; c < corners; c++) {
    const f = 3 * faceOfCorner[c]
    const nx = perFace[f]
    const ny = perFace[f + 1]
    const nz = perFace[f + 2]
    let x = 0
    let y = 0
    let z = 0
    for (let other = firstCorner[vertexOfCorner[c]]; other >= 0; other = nextCorner[other]) {
      const g = 3 * faceOfCorner[other]
      if (faceGroups) {
        const group = faceGroups[faceOfCorner[other]]
        if (other !== c && (group === 0 || group !== faceGroups[faceOfCorner[c]])) continue
      } else if (perFace[g] * nx + perFace[g + 1] * ny + perFace[g + 2] * nz < minCosine) continue
      x += perFace[g] * angles[other]
      y += perFace[g + 1] * angles[other]
      z += perFace[g + 2] * angles[other]
    }
    let len = Math.sqrt(x * x + y * y + z * z)
    if (!(len > 0)) {
      x = nx
      y = ny
      z = nz
      len = Math.sqrt(x * x + y * y + z * z)
    }
    if (!(len > 0)) {
      y = 1
      len = 1
    }
    normals[3 * c] = x / len
    normals[3 * c + 1] = y / len
    normals[3 * c + 2] = z / len
  }
  return normals
}
