import { hash32 } from '../math/sampling'
import { EDGE_BORDER, EDGE_NON_MANIFOLD, EDGE_TURNED, meshEdges } from './edges'
import { faceNormals } from './face-normals'
import type { PolygonMesh } from './polygon-mesh'
import type { Bounds } from './bounds'
import { faceCount, meshBounds, vertexCount } from './polygon-mesh'
import { facesToTurn, shellsOf } from './shells'
import { weldPositions } from './weld'

/** What is known of a mesh after a good look at it. All counts are of vertices, edges, faces or corners. */
export interface MeshReport {
  readonly vertices: number
  /** Used by no polygon. */
  readonly looseVertices: number
  /** In a place where another one is. */
  readonly duplicateVertices: number
  readonly borderEdges: number
  readonly nonManifoldEdges: number
  /** Edges whose two faces look to opposite sides. */
  readonly turnedEdges: number
  /** Faces to be turned over so that all agree and closed forms face outwards. */
  readonly facesToTurn: number
  readonly facesWithoutArea: number
  readonly duplicateFaces: number
  /** Corners whose normal points to the other side of their face. */
  readonly normalsAgainst: number
  /** Triangles that would join to quads. */
  readonly triangles: number
  readonly shells: number
  readonly openShells: number
  readonly oneSidedShells: number
  readonly bounds: Bounds | null
  /** The axis that seems to point up: where the form has its flat foot. */
  readonly up: 'y' | 'z' | 'unsure'
}

/** How much more of the foot must lie flat on the other axis's floor. */
const FOOT_RATIO = 4
/** A foot is what lies this close to the lowest place, as a share of the height. */
const FOOT_SHARE = 0.004

/** Area of the faces that lie flat on the lowest place along an axis and look down along it. */
function footArea(mesh: PolygonMesh, normals: Float32Array, axis: number, bounds: Bounds): number {
  const low = bounds.min[axis]
  const limit = low + FOOT_SHARE * (bounds.max[axis] - low)
  const { positions: p, faceStarts, cornerVertices } = mesh
  let area = 0
  for (let f = 0; f < faceCount(mesh); f++) {
    // Which side a face looks to is not relied on: files that lie on their side are often turned over, too.
    if (Math.abs(normals[3 * f + axis]) < 0.95) continue
    let isFoot = true
    for (let c = faceStarts[f]; c < faceStarts[f + 1] && isFoot; c++)
      isFoot = p[3 * cornerVertices[c] + axis] <= limit
    if (!isFoot) continue
    const a = 3 * cornerVertices[faceStarts[f]]
    for (let c = faceStarts[f] + 1; c + 1 < faceStarts[f + 1]; c++) {
      const [b, d] = [3 * cornerVertices[c], 3 * cornerVertices[c + 1]]
      const [i, j] = [(axis + 1) % 3, (axis + 2) % 3]
      area +=
        Math.abs(
          (p[b + i] - p[a + i]) * (p[d + j] - p[a + j]) - (p[b + j] - p[a + j]) * (p[d + i] - p[a + i]),
        ) / 2
    }
  }
  return area
}

function upAxis(mesh: PolygonMesh, normals: Float32Array, bounds: Bounds): MeshReport['up'] {
  const onY = footArea(mesh, normals, 1, bounds)
  const onZ = footArea(mesh, normals, 2, bounds)
  if (onZ > FOOT_RATIO * onY && onZ > 0) return 'z'
  return onY > FOOT_RATIO * onZ && onY > 0 ? 'y' : 'unsure'
}

/**
 * Faces over the same places as an earlier one, whichever way round and wherever they begin.
 * @param welded of `weldPositions`, where it is known.
 */
export function duplicateFaces(
  { positions, faceStarts, cornerVertices }: PolygonMesh,
  welded: Uint32Array = weldPositions(positions).welded,
): Uint8Array {
  const faces = faceStarts.length - 1
  const flags = new Uint8Array(faces)
  let capacity = 16
  while (capacity < faces * 2) capacity *= 2
  const slots = new Int32Array(capacity).fill(-1)
  const hashes = new Uint32Array(faces)
  const sorted = (f: number) =>
    Array.from(cornerVertices.subarray(faceStarts[f], faceStarts[f + 1]), (v) => welded[v]).sort(
      (a, b) => a - b,
    )
  for (let f = 0; f < faces; f++) {
    // A sum of scattered numbers is the same whichever way round; equal sums are then compared.
    let hash = faceStarts[f + 1] - faceStarts[f]
    for (let c = faceStarts[f]; c < faceStarts[f + 1]; c++)
      hash = (hash + hash32(welded[cornerVertices[c]] + 1)) >>> 0
    hashes[f] = hash
    for (let slot = hash & (capacity - 1); ; slot = (slot + 1) & (capacity - 1)) {
      const other = slots[slot]
      if (other < 0) {
        slots[slot] = f
        break
      }
      if (hashes[other] === hash && sorted(other).join() === sorted(f).join()) {
        flags[f] = 1
        break
      }
    }
  }
  return flags
}

const countOnes = (flags: Uint8Array): number => flags.reduce((sum, flag) => sum + flag, 0)

export function inspectMesh(mesh: PolygonMesh): MeshReport {
  const normals = faceNormals(mesh)
  const faces = faceCount(mesh)

  // 1. Vertices.
  const used = new Uint8Array(vertexCount(mesh))
  for (const v of mesh.cornerVertices) used[v] = 1
  const { welded, count: places } = weldPositions(mesh.positions)

  // 2. Faces and corners.
  let facesWithoutArea = 0
  let normalsAgainst = 0
  let triangles = 0
  for (let f = 0; f < faces; f++) {
    const [x, y, z] = [normals[3 * f], normals[3 * f + 1], normals[3 * f + 2]]
    if (x === 0 && y === 0 && z === 0) facesWithoutArea++
    if (mesh.faceStarts[f + 1] - mesh.faceStarts[f] === 3) triangles++
    for (let c = mesh.faceStarts[f]; c < mesh.faceStarts[f + 1]; c++) {
      const n = 3 * c
      if (mesh.cornerNormals[n] * x + mesh.cornerNormals[n + 1] * y + mesh.cornerNormals[n + 2] * z < -0.05)
        normalsAgainst++
    }
  }

  // 3. Edges and shells.
  const edges = meshEdges(mesh, { welded, normals })
  let borderEdges = 0
  let nonManifoldEdges = 0
  let turnedEdges = 0
  for (let e = 0; e < edges.count; e++) {
    if (edges.flags[e] & EDGE_BORDER) borderEdges++
    if (edges.flags[e] & EDGE_NON_MANIFOLD) nonManifoldEdges++
    else if (edges.flags[e] & EDGE_TURNED) turnedEdges++
  }
  const shells = shellsOf(mesh, edges)
  const bounds = meshBounds(mesh)
  return {
    vertices: vertexCount(mesh),
    looseVertices: used.length - countOnes(used),
    duplicateVertices: used.length - places,
    borderEdges,
    nonManifoldEdges,
    turnedEdges,
    facesToTurn: countOnes(facesToTurn(shells)),
    facesWithoutArea,
    duplicateFaces: countOnes(duplicateFaces(mesh, welded)),
    normalsAgainst,
    triangles,
    shells: shells.count,
    openShells: shells.closed.length - countOnes(shells.closed),
    oneSidedShells: countOnes(shells.oneSided),
    bounds,
    up: bounds ? upAxis(mesh, normals, bounds) : 'unsure',
  }
}
