import { srgbToLinear } from '../math/colour'
import type { PolygonMesh } from './polygon-mesh'
import { triangulate } from './triangulate'

/** Triangles of one material in one part, one after the other in a piece. */
export interface DisplayRun {
  readonly part: number
  readonly material: number
  /** First triangle of the piece, and how many there are. */
  readonly first: number
  readonly count: number
}

/** A part of a mesh as an interactive view draws it: small enough to be handed to the graphics card between two frames. */
export interface DisplayPiece {
  /** Float32Array, 3·V, world units of the file. */
  readonly positions: Float32Array
  /** Int16Array, 4·V: 32767 times the unit normal, and 0. */
  readonly normals: Int16Array
  /** Float32Array, 2·V, or null where the mesh has none. */
  readonly uvs: Float32Array | null
  /** Uint16Array, 4·V: 65535 times linear red, green, blue, and 1; null where the mesh has no colours. */
  readonly colours: Uint16Array | null
  /** Uint16Array, 3·T. */
  readonly indices: Uint16Array
  readonly runs: readonly DisplayRun[]
  /** A ball round it. */
  readonly centre: readonly [number, number, number]
  readonly radius: number
}

/** Vertices that 16 bits can number, and the most triangles of a piece: it goes up within a few milliseconds. */
const MOST_VERTICES = 65_535
const MOST_TRIANGLES = 32_768

/** Display values 0…255 as linear light, times 65535. */
const LINEAR = Uint16Array.from({ length: 256 }, (_, v) => Math.round(srgbToLinear(v / 255) * 65535))

/**
 * A mesh in pieces, its triangles in the order of their parts, then of their materials. Corners that look the same are one
 * vertex.
 * @param partCount P: parts of the model, with or without faces.
 */
export function displayPieces(mesh: PolygonMesh, partCount: number): DisplayPiece[] {
  const { corners, faces } = triangulate(mesh)
  const order = sortedTriangles(mesh, faces, partCount)
  const writer = new PieceWriter(mesh)
  for (let i = 0; i < order.length; i++) {
    const t = order[i]
    writer.add(mesh.faceParts[faces[t]], mesh.faceMaterials[faces[t]], corners, 3 * t)
  }
  return writer.finish()
}

/** Triangles by part, and within it by material, so that a material is one run. */
function sortedTriangles(mesh: PolygonMesh, faces: Uint32Array, partCount: number): Uint32Array {
  let materials = 0
  for (let f = 0; f < mesh.faceMaterials.length; f++)
    if (mesh.faceMaterials[f] >= materials) materials = mesh.faceMaterials[f] + 1
  const order = new Uint32Array(faces.length)
  for (let t = 0; t < order.length; t++) order[t] = t
  if (materials > 1) countingSort(order, faces, mesh.faceMaterials, materials)
  if (partCount > 1) countingSort(order, faces, mesh.faceParts, partCount)
  return order
}

/** Sorts triangles by a small key of their faces, equal keys in their order. */
function countingSort(order: Uint32Array, faces: Uint32Array, keyOfFace: Uint32Array, keys: number): void {
  const starts = new Uint32Array(keys + 1)
  for (let i = 0; i < order.length; i++) starts[keyOfFace[faces[order[i]]] + 1]++
  for (let k = 0; k < keys; k++) starts[k + 1] += starts[k]
  const before = order.slice()
  for (let i = 0; i < before.length; i++) order[starts[keyOfFace[faces[before[i]]]]++] = before[i]
}

/** Fills one piece after the other. */
class PieceWriter {
  private readonly pieces: DisplayPiece[] = []
  private vertices = 0
  private triangles = 0
  private readonly positions = new Float32Array(3 * MOST_VERTICES)
  private readonly normals = new Int16Array(4 * MOST_VERTICES)
  private readonly uvs: Float32Array | null
  private readonly colours: Uint16Array | null
  private readonly indices = new Uint16Array(3 * MOST_TRIANGLES)
  private runs: { part: number; material: number; first: number; count: number }[] = []
  /** Of each of the mesh's vertices, the last of its looks in the piece that `stamps` names; and before each, another. */
  private readonly last: Uint16Array
  private readonly stamps: Uint32Array
  private readonly others = new Int32Array(MOST_VERTICES)

  constructor(private readonly mesh: PolygonMesh) {
    const count = mesh.positions.length / 3
    this.last = new Uint16Array(count)
    this.stamps = new Uint32Array(count)
    this.uvs = mesh.cornerUvs && new Float32Array(2 * MOST_VERTICES)
    this.colours = mesh.cornerColours && new Uint16Array(4 * MOST_VERTICES)
  }

  /** @param at of the triangle's three corners in `corners`. */
  add(part: number, material: number, corners: Uint32Array, at: number): void {
    if (this.vertices + 3 > MOST_VERTICES || this.triangles === MOST_TRIANGLES) this.close()
    const run = this.runs.at(-1)
    if (run?.part === part && run.material === material) run.count++
    else this.runs.push({ part, material, first: this.triangles, count: 1 })
    const to = 3 * this.triangles++
    for (let k = 0; k < 3; k++) this.indices[to + k] = this.vertexOf(corners[at + k])
  }

  finish(): DisplayPiece[] {
    if (this.triangles > 0) this.close()
    return this.pieces
  }

  private vertexOf(corner: number): number {
    const { mesh, normals, uvs, colours, others, last, stamps } = this
    const vertex = mesh.cornerVertices[corner]
    const stamp = this.pieces.length + 1
    const nx = Math.round(32767 * mesh.cornerNormals[3 * corner])
    const ny = Math.round(32767 * mesh.cornerNormals[3 * corner + 1])
    const nz = Math.round(32767 * mesh.cornerNormals[3 * corner + 2])
    const before = stamps[vertex] === stamp ? last[vertex] : -1
    for (let v = before; v >= 0; v = others[v])
      if (
        normals[4 * v] === nx &&
        normals[4 * v + 1] === ny &&
        normals[4 * v + 2] === nz &&
        this.hasLooks(v, corner)
      )
        return v
    const v = this.vertices++
    others[v] = before
    last[vertex] = v
    stamps[vertex] = stamp
    for (let axis = 0; axis < 3; axis++) this.positions[3 * v + axis] = mesh.positions[3 * vertex + axis]
    normals[4 * v] = nx
    normals[4 * v + 1] = ny
    normals[4 * v + 2] = nz
    if (uvs && mesh.cornerUvs) {
      uvs[2 * v] = mesh.cornerUvs[2 * corner]
      uvs[2 * v + 1] = mesh.cornerUvs[2 * corner + 1]
    }
    if (colours && mesh.cornerColours) {
      for (let c = 0; c < 3; c++) colours[4 * v + c] = LINEAR[mesh.cornerColours[3 * corner + c]]
      colours[4 * v + 3] = 65535
    }
    return v
  }

  /** Whether a vertex has a corner's place in a picture and its colour. */
  private hasLooks(v: number, corner: number): boolean {
    const { uvs, colours } = this
    const { cornerUvs, cornerColours } = this.mesh
    if (uvs && cornerUvs)
      for (let k = 0; k < 2; k++) if (uvs[2 * v + k] !== cornerUvs[2 * corner + k]) return false
    if (colours && cornerColours)
      for (let c = 0; c < 3; c++)
        if (colours[4 * v + c] !== LINEAR[cornerColours[3 * corner + c]]) return false
    return true
  }

  private close(): void {
    const { vertices, triangles } = this
    const positions = this.positions.slice(0, 3 * vertices)
    this.pieces.push({
      positions,
      normals: this.normals.slice(0, 4 * vertices),
      uvs: this.uvs?.slice(0, 2 * vertices) ?? null,
      colours: this.colours?.slice(0, 4 * vertices) ?? null,
      indices: this.indices.slice(0, 3 * triangles),
      runs: this.runs,
      ...ballRound(positions),
    })
    this.vertices = 0
    this.triangles = 0
    this.runs = []
  }
}

/** A ball round points: about the middle of their box. */
function ballRound(positions: Float32Array): Pick<DisplayPiece, 'centre' | 'radius'> {
  const min = [Infinity, Infinity, Infinity]
  const max = [-Infinity, -Infinity, -Infinity]
  for (let i = 0; i < positions.length; i++) {
    const axis = i % 3
    if (positions[i] < min[axis]) min[axis] = positions[i]
    if (positions[i] > max[axis]) max[axis] = positions[i]
  }
  const centre: [number, number, number] = [
    (min[0] + max[0]) / 2,
    (min[1] + max[1]) / 2,
    (min[2] + max[2]) / 2,
  ]
  let squared = 0
  for (let i = 0; i < positions.length; i += 3) {
    const x = positions[i] - centre[0]
    const y = positions[i + 1] - centre[1]
    const z = positions[i + 2] - centre[2]
    squared = Math.max(squared, x * x + y * y + z * z)
  }
  return { centre, radius: Math.sqrt(squared) }
}
