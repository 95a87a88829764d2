import { KernelArrays } from './kernel-arrays'
import type { PolygonMesh } from './polygon-mesh'

/** Corners whose angles are worked out together. */
const ROOM = 3072

/**
 * Corner normals for a mesh that has none: at each corner the angle-weighted mean of the faces around the vertex
 * that meet this face within `creaseDeg` (Thürmer & Wüthrich 1998 weights). Neighbours are found by position, so
 * split vertices still shade smoothly. Sums and angles are made in the kernel.
 * @param vertexOfCorner Uint32Array, C: welded vertex of each corner.
 * @param faceGroups Uint32Array, F: where given, groups decide instead of the angle; a face of group 0 is flat.
 * @returns Float32Array, 3·C.
 */
export function smoothCornerNormals(
  { positions, faceStarts, cornerVertices }: Pick<PolygonMesh, 'positions' | 'faceStarts' | 'cornerVertices'>,
  vertexOfCorner: Uint32Array,
  weldedCount: number,
  creaseDeg = 35,
  faceGroups: Uint32Array | null = null,
): Float32Array {
  const faces = faceStarts.length - 1
  const corners = cornerVertices.length

  // 1. The normal of every face, the angle of every corner, and the sum over the whole fan of each vertex.
  const arrays = new KernelArrays()
  const places = arrays.floats(positions.length)
  const most = mostSides(faceStarts)
  const starts = most === 3 && corners === 3 * faces ? null : arrays.words(faces + 1)
  const vertices = arrays.words(corners)
  const joined = vertexOfCorner === cornerVertices ? vertices : arrays.words(corners)
  const normalOf = arrays.floats(3 * faces)
  const sums = arrays.doubles(3 * weldedCount)
  const means = arrays.floats(3 * weldedCount)
  const bent = arrays.bytes(weldedCount)
  const room = Math.max(ROOM, most)
  const desk = arrays.bytes(256 + 20 * (room + 4))
  // Touched, and so paid for, only where there are bent corners.
  const angleOf = arrays.floats(corners + 4)
  const { kernel, view } = arrays.open()
  view(places).set(positions)
  if (starts) view(starts).set(faceStarts)
  view(vertices).set(cornerVertices)
  if (joined !== vertices) view(joined).set(vertexOfCorner)
  const at = [starts?.at ?? 0, faces, vertices.at, joined.at, normalOf.at] as const
  kernel.sumNormals(places.at, ...at, sums.at, desk.at, room)

  // 2. Faces that are each within half the crease of their mean are within the crease of each other: where all faces of a
  // vertex are, as nearly everywhere, the one sum does for all of its corners.
  if (faceGroups) view(bent).fill(1)
  const halfCosine = Math.cos((creaseDeg * Math.PI) / 360) + 1e-6
  const bentCorners =
    kernel.meanNormals(
      starts?.at ?? 0,
      faces,
      joined.at,
      normalOf.at,
      sums.at,
      weldedCount,
      halfCosine,
      bent.at,
      means.at,
    ) >>> 0
  const normals = new Float32Array(3 * corners)
  const mean = view(means)
  for (let c = 0; c < corners; c++) {
    const v = 3 * vertexOfCorner[c]
    normals[3 * c] = mean[v]
    normals[3 * c + 1] = mean[v + 1]
    normals[3 * c + 2] = mean[v + 2]
  }
  const minCosine = Math.cos((creaseDeg * Math.PI) / 180)
  if (bentCorners > 0) {
    kernel.anglesAt(places.at, ...at, bent.at, angleOf.at, desk.at, room)
    bentNormals(
      { faceStarts },
      vertexOfCorner,
      view(bent),
      bentCorners,
      view(angleOf),
      view(normalOf),
      minCosine,
      faceGroups,
      normals,
    )
  }
  return normals
}

function mostSides(faceStarts: Uint32Array): number {
  let most = 3
  for (let f = 0; f + 1 < faceStarts.length; f++) {
    const sides = faceStarts[f + 1] - faceStarts[f]
    if (sides > most) most = sides
  }
  return most
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
