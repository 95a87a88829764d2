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

  // 1. The angle of every corner, and the sum over the whole fan of each vertex: from the last corner to the first.
  const angles = new Float32Array(corners)
  const sums = new Float64Array(3 * weldedCount)
  for (let f = faces - 1; f >= 0; f--) {
    const start = faceStarts[f]
    const end = faceStarts[f + 1]
    const fx = perFace[3 * f]
    const fy = perFace[3 * f + 1]
    const fz = perFace[3 * f + 2]
    for (let c = end - 1; c >= start; c--) {
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
      const angle = angles[c]
      const at = 3 * vertexOfCorner[c]
      sums[at] += fx * angle
      sums[at + 1] += fy * angle
      sums[at + 2] += fz * angle
    }
  }

  // 2. Faces that are each within half the crease of their mean are within the crease of each other: where all faces of a
  // vertex are, as nearly everywhere, the one sum does for all of its corners.
  const halfCosine = Math.cos((creaseDeg * Math.PI) / 360) + 1e-6
  const lengths = new Float64Array(weldedCount)
  /** 1 where the corners of a vertex differ. */
  const isBent = new Uint8Array(weldedCount)
  if (faceGroups) isBent.fill(1)
  for (let v = 0; v < weldedCount; v++) {
    const x = sums[3 * v]
    const y = sums[3 * v + 1]
    const z = sums[3 * v + 2]
    lengths[v] = Math.sqrt(x * x + y * y + z * z)
    if (!(lengths[v] > 0)) isBent[v] = 1
  }
  let bentCorners = 0
  for (let f = 0; f < faces; f++) {
    const end = faceStarts[f + 1]
    const fx = perFace[3 * f]
    const fy = perFace[3 * f + 1]
    const fz = perFace[3 * f + 2]
    for (let c = faceStarts[f]; c < end; c++) {
      const v = vertexOfCorner[c]
      const along = fx * sums[3 * v] + fy * sums[3 * v + 1] + fz * sums[3 * v + 2]
      if (!(along >= halfCosine * lengths[v])) isBent[v] = 1
    }
  }
  const normals = new Float32Array(3 * corners)
  for (let c = 0; c < corners; c++) {
    const v = vertexOfCorner[c]
    if (isBent[v]) {
      bentCorners++
      continue
    }
    normals[3 * c] = sums[3 * v] / lengths[v]
    normals[3 * c + 1] = sums[3 * v + 1] / lengths[v]
    normals[3 * c + 2] = sums[3 * v + 2] / lengths[v]
  }
  if (bentCorners > 0)
    bentNormals(mesh, vertexOfCorner, isBent, bentCorners, angles, perFace, minCosine, faceGroups, normals)
  return normals
}

/** Normals of the corners whose fans bend, each the sum over those faces of its fan that go with its own. */
function bentNormals(
  { faceStarts }: Pick<PolygonMesh, 'faceStarts'>,
  vertexOfCorner: Uint32Array,
  isBent: Uint8Array,
  bentCorners: number,
  angles: Float32Array,
  perFace: Float32Array,
  minCosine: number,
  faceGroups: Uint32Array | null,
  normals: Float32Array,
): void {
  // Bent corners alone, numbered anew: which corner and face each is, and lists of those round each vertex.
  const cornerOf = new Uint32Array(bentCorners)
  const faceOf = new Uint32Array(bentCorners)
  const next = new Int32Array(bentCorners).fill(-1)
  const first = new Int32Array(isBent.length).fill(-1)
  for (let f = 0, k = 0; f + 1 < faceStarts.length; f++)
    for (let c = faceStarts[f]; c < faceStarts[f + 1]; c++) {
      const v = vertexOfCorner[c]
      if (!isBent[v]) continue
      cornerOf[k] = c
      faceOf[k] = f
      next[k] = first[v]
      first[v] = k++
    }
  for (let k = 0; k < bentCorners; k++) {
    const f = 3 * faceOf[k]
    const nx = perFace[f]
    const ny = perFace[f + 1]
    const nz = perFace[f + 2]
    let x = 0
    let y = 0
    let z = 0
    for (let other = first[vertexOfCorner[cornerOf[k]]]; other >= 0; other = next[other]) {
      const g = 3 * faceOf[other]
      if (faceGroups) {
        const group = faceGroups[faceOf[other]]
        if (other !== k && (group === 0 || group !== faceGroups[faceOf[k]])) continue
      } else if (perFace[g] * nx + perFace[g + 1] * ny + perFace[g + 2] * nz < minCosine) continue
      const angle = angles[cornerOf[other]]
      x += perFace[g] * angle
      y += perFace[g + 1] * angle
      z += perFace[g + 2] * angle
    }
    let length = Math.sqrt(x * x + y * y + z * z)
    if (!(length > 0)) {
      x = nx
      y = ny
      z = nz
      length = Math.sqrt(x * x + y * y + z * z)
    }
    const at = 3 * cornerOf[k]
    normals[at] = length > 0 ? x / length : 0
    normals[at + 1] = length > 0 ? y / length : 1
    normals[at + 2] = length > 0 ? z / length : 0
  }
}
