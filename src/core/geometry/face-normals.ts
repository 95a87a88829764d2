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

  const normals = new Float32Array(3 * corners)
  const put = (c: number, x: number, y: number, z: number, length: number) => {
    normals[3 * c] = x / length
    normals[3 * c + 1] = y / length
    normals[3 * c + 2] = z / length
  }
  // Faces each within half the crease of their mean are within the crease of each other.
  const halfCosine = Math.cos((creaseDeg * Math.PI) / 360) + 1e-6
  for (let v = 0; v < weldedCount; v++) {
    const first = firstCorner[v]
    if (first < 0) continue

    // 2. Most fans bend nowhere by more than the crease: one sum does for all of their corners.
    if (!faceGroups) {
      let x = 0
      let y = 0
      let z = 0
      for (let c = first; c >= 0; c = nextCorner[c]) {
        const g = 3 * faceOfCorner[c]
        x += perFace[g] * angles[c]
        y += perFace[g + 1] * angles[c]
        z += perFace[g + 2] * angles[c]
      }
      const length = Math.sqrt(x * x + y * y + z * z)
      let isClose = length > 0
      for (let c = first; c >= 0 && isClose; c = nextCorner[c]) {
        const g = 3 * faceOfCorner[c]
        isClose = perFace[g] * x + perFace[g + 1] * y + perFace[g + 2] * z >= halfCosine * length
      }
      if (isClose) {
        for (let c = first; c >= 0; c = nextCorner[c]) put(c, x, y, z, length)
        continue
      }
    }

    // 3. The others are summed corner by corner.
    for (let c = first; c >= 0; c = nextCorner[c]) {
      const f = 3 * faceOfCorner[c]
      const nx = perFace[f]
      const ny = perFace[f + 1]
      const nz = perFace[f + 2]
      let x = 0
      let y = 0
      let z = 0
      for (let other = first; other >= 0; other = nextCorner[other]) {
        const g = 3 * faceOfCorner[other]
        if (faceGroups) {
          const group = faceGroups[faceOfCorner[other]]
          if (other !== c && (group === 0 || group !== faceGroups[faceOfCorner[c]])) continue
        } else if (perFace[g] * nx + perFace[g + 1] * ny + perFace[g + 2] * nz < minCosine) continue
        x += perFace[g] * angles[other]
        y += perFace[g + 1] * angles[other]
        z += perFace[g + 2] * angles[other]
      }
      let length = Math.sqrt(x * x + y * y + z * z)
      if (!(length > 0)) {
        x = nx
        y = ny
        z = nz
        length = Math.sqrt(x * x + y * y + z * z)
      }
      if (length > 0) put(c, x, y, z, length)
      else put(c, 0, 1, 0, 1)
    }
  }
  return normals
}
