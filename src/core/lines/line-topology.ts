import { SEEN_BY_CAMERA } from '../scene/part-role'
import type { SceneGeometry } from '../scene/scene-geometry'
import { EMPTY_SLOT } from '../trace/ray-tree'

/** No triangle beside a side, or no edge. */
export const NONE = -1

/** Normals that differ by no more than this go on smoothly over an edge. */
const SMOOTH_COSINE = Math.cos((2 * Math.PI) / 180)

/**
 * A scene as lines are found on it: the seen triangles over welded vertices, with their sides paired. A *wedge* is a
 * vertex as one smooth patch about it sees it: triangles that meet there over smooth edges share it and its normal.
 */
export interface LineTopology {
  /** Float32Array, 3·V, world. */
  readonly positions: Float32Array
  readonly triangleCount: number
  /** Uint32Array, T: the scene's number of each triangle. */
  readonly sceneTriangles: Uint32Array
  /** Uint32Array, 3·T: vertices. */
  readonly vertices: Uint32Array
  /** Uint32Array, T: scene part. */
  readonly parts: Uint32Array
  /** Float32Array, 3·T: unit normals by the winding; 0 for triangles without area. */
  readonly faceNormals: Float32Array
  /** Uint32Array, 3·T: wedges of the corners. */
  readonly wedges: Uint32Array
  /** Float32Array, 3·W: unit normals. */
  readonly wedgeNormals: Float32Array
  /** Uint32Array, W: the vertex each lies at. */
  readonly wedgeVertices: Uint32Array
  /** Uint32Array, 3·T: edge of the side from corner k to the next. */
  readonly sideEdges: Uint32Array
  readonly edgeCount: number
  /** Uint32Array, 2·E: vertices. */
  readonly edgeVertices: Uint32Array
  /** Int32Array, 2·E: triangles beside it; {@link NONE} for the second of a border. */
  readonly edgeTriangles: Int32Array
  /** Uint32Array, T: the smooth patch of each triangle: what is reached from it over smooth edges alone. */
  readonly patches: Uint32Array
  /** Uint8Array, E: 1 where the surface goes on smoothly over it. */
  readonly edgeSmooth: Uint8Array
  /** Uint8Array, E: 1 where its two triangles turn opposite sides up. */
  readonly edgeTurned: Uint8Array
}

/** Most triangles of a scene whose topology is kept for the next lines: beyond that it would fill the memory. */
const MOST_KEPT = 300_000
const kept = new WeakMap<SceneGeometry, { readonly shown: string; readonly topology: LineTopology }>()

/**
 * The topology of the seen triangles of a scene. That of the last call is kept, as another view asks for the same.
 * @param shown one byte per scene part, 0 leaves it out; null: all seen parts.
 */
export function lineTopology(scene: SceneGeometry, shown: Uint8Array | null = null): LineTopology {
  const key = shown?.join() ?? 'all'
  const known = kept.get(scene)
  if (known?.shown === key) return known.topology
  const topology = makeTopology(scene, shown)
  if (scene.triangleCount <= MOST_KEPT) kept.set(scene, { shown: key, topology })
  return topology
}

function makeTopology(scene: SceneGeometry, shown: Uint8Array | null): LineTopology {
  const { tree } = scene
  const { normals: triangleNormals } = tree

  // 1. The seen triangles in the scene's own order, so that nothing depends on how the tree lies.
  const slotOf = new Int32Array(scene.triangleCount).fill(-1)
  let count = 0
  for (let slot = 0; slot < tree.slotCount; slot++) {
    const id = tree.ids[slot]
    if (id === EMPTY_SLOT) continue
    const tag = tree.tags[slot]
    if (((tag >>> 24) & SEEN_BY_CAMERA) === 0 || shown?.[tag & 0xffffff] === 0) continue
    slotOf[id] = slot
    count++
  }
  const sceneTriangles = new Uint32Array(count)
  const parts = new Uint32Array(count)
  const faceNormals = new Float32Array(3 * count)
  const vertices = new Uint32Array(3 * count)
  const welder = new Welder(3 * count)
  let t = 0
  for (let id = 0; id < slotOf.length; id++) {
    const slot = slotOf[id]
    if (slot < 0) continue
    const c = tree.cornerBase(slot)
    const f = tree.floats
    sceneTriangles[t] = id
    parts[t] = tree.tags[slot] & 0xffffff
    for (let k = 0; k < 3; k++)
      vertices[3 * t + k] = welder.vertex(f[c + 12 * k], f[c + 12 * k + 4], f[c + 12 * k + 8])
    const ax = f[c + 12] - f[c]
    const ay = f[c + 16] - f[c + 4]
    const az = f[c + 20] - f[c + 8]
    const bx = f[c + 24] - f[c]
    const by = f[c + 28] - f[c + 4]
    const bz = f[c + 32] - f[c + 8]
    const nx = ay * bz - az * by
    const ny = az * bx - ax * bz
    const nz = ax * by - ay * bx
    const length = Math.sqrt(nx * nx + ny * ny + nz * nz)
    if (length > 0) {
      faceNormals[3 * t] = nx / length
      faceNormals[3 * t + 1] = ny / length
      faceNormals[3 * t + 2] = nz / length
    }
    t++
  }
  const edges = pairSides(vertices, parts)

  // 2. Corner normals, turned to the winding's side.
  const normals = new Float32Array(9 * count)
  for (let i = 0; i < count; i++) {
    for (let k = 0; k < 3; k++) {
      const from = 9 * sceneTriangles[i] + 3 * k
      const x = triangleNormals[from]
      const y = triangleNormals[from + 1]
      const z = triangleNormals[from + 2]
      const along = x * faceNormals[3 * i] + y * faceNormals[3 * i + 1] + z * faceNormals[3 * i + 2]
      const sign = along < 0 ? -1 : 1
      normals[9 * i + 3 * k] = sign * x
      normals[9 * i + 3 * k + 1] = sign * y
      normals[9 * i + 3 * k + 2] = sign * z
    }
  }

  // 3. Smooth edges, and wedges as what they join.
  const { edgeCount, edgeVertices, edgeTriangles, edgeTurned, sideEdges } = edges
  const edgeSmooth = new Uint8Array(edgeCount)
  const leader = Int32Array.from({ length: 3 * count }, (_, c) => c)
  const find = (corner: number): number => {
    let at = corner
    while (leader[at] !== at) {
      leader[at] = leader[leader[at]]
      at = leader[at]
    }
    return at
  }
  const cornerAt = (triangle: number, vertex: number): number => {
    const c = 3 * triangle
    return vertices[c] === vertex ? c : vertices[c + 1] === vertex ? c + 1 : c + 2
  }
  for (let e = 0; e < edgeCount; e++) {
    const a = edgeTriangles[2 * e]
    const b = edgeTriangles[2 * e + 1]
    if (b === NONE || edgeTurned[e]) continue
    let isSmooth = true
    for (let end = 0; end < 2 && isSmooth; end++) {
      const i = 3 * cornerAt(a, edgeVertices[2 * e + end])
      const j = 3 * cornerAt(b, edgeVertices[2 * e + end])
      const dot = normals[i] * normals[j] + normals[i + 1] * normals[j + 1] + normals[i + 2] * normals[j + 2]
      isSmooth = dot > SMOOTH_COSINE
    }
    if (!isSmooth) continue
    edgeSmooth[e] = 1
    for (let end = 0; end < 2; end++) {
      const i = find(cornerAt(a, edgeVertices[2 * e + end]))
      const j = find(cornerAt(b, edgeVertices[2 * e + end]))
      if (i !== j) leader[Math.max(i, j)] = Math.min(i, j)
    }
  }
  const wedges = new Uint32Array(3 * count)
  const wedgeOf = new Int32Array(3 * count).fill(-1)
  let wedgeCount = 0
  for (let c = 0; c < 3 * count; c++) {
    const root = find(c)
    if (wedgeOf[root] < 0) wedgeOf[root] = wedgeCount++
    wedges[c] = wedgeOf[root]
  }
  const wedgeNormals = new Float32Array(3 * wedgeCount)
  const wedgeVertices = new Uint32Array(wedgeCount)
  for (let c = 0; c < 3 * count; c++) {
    wedgeVertices[wedges[c]] = vertices[c]
    for (let axis = 0; axis < 3; axis++) wedgeNormals[3 * wedges[c] + axis] += normals[3 * c + axis]
  }
  for (let w = 0; w < wedgeCount; w++) {
    const length = Math.hypot(wedgeNormals[3 * w], wedgeNormals[3 * w + 1], wedgeNormals[3 * w + 2]) || 1
    for (let axis = 0; axis < 3; axis++) wedgeNormals[3 * w + axis] /= length
  }
  return {
    positions: welder.positions(),
    triangleCount: count,
    sceneTriangles,
    vertices,
    parts,
    faceNormals,
    wedges,
    wedgeNormals,
    wedgeVertices,
    sideEdges,
    edgeCount,
    edgeVertices,
    edgeTriangles,
    edgeSmooth,
    edgeTurned,
    patches: smoothPatches(count, edgeTriangles, edgeSmooth),
  }
}

/** Triangles joined over smooth edges; each patch is called by its first triangle. */
function smoothPatches(count: number, edgeTriangles: ArrayLike<number>, edgeSmooth: Uint8Array): Uint32Array {
  const leader = Uint32Array.from({ length: count }, (_, t) => t)
  const find = (triangle: number): number => {
    let at = triangle
    while (leader[at] !== at) {
      leader[at] = leader[leader[at]]
      at = leader[at]
    }
    return at
  }
  for (let e = 0; e < edgeSmooth.length; e++) {
    if (!edgeSmooth[e]) continue
    const a = find(edgeTriangles[2 * e])
    const b = find(edgeTriangles[2 * e + 1])
    if (a !== b) leader[Math.max(a, b)] = Math.min(a, b)
  }
  for (let t = 0; t < count; t++) leader[t] = find(t)
  return leader
}

/** The wedge by which a triangle holds one of its vertices. */
export function wedgeAt(
  { vertices, wedges }: Pick<LineTopology, 'vertices' | 'wedges'>,
  triangle: number,
  vertex: number,
): number {
  const c = 3 * triangle
  return wedges[vertices[c] === vertex ? c : vertices[c + 1] === vertex ? c + 1 : c + 2]
}

/** Gives equal positions one number. */
class Welder {
  private readonly slots: Int32Array
  private store: Float32Array
  private count = 0
  private readonly bits = new Uint32Array(3)
  private readonly value = new Float32Array(this.bits.buffer)

  constructor(most: number) {
    let capacity = 16
    while (capacity < 2 * most) capacity *= 2
    this.slots = new Int32Array(capacity).fill(-1)
    this.store = new Float32Array(3 * most)
  }

  vertex(x: number, y: number, z: number): number {
    const { bits, value, slots, store } = this
    // + 0 makes −0 the same as 0.
    value[0] = x + 0
    value[1] = y + 0
    value[2] = z + 0
    let h = Math.imul(bits[0], 0x9e3779b1) ^ Math.imul(bits[1], 0x85ebca6b) ^ Math.imul(bits[2], 0xc2b2ae35)
    h = Math.imul(h ^ (h >>> 15), 0x2c1b3c6d)
    h ^= h >>> 13
    const mask = slots.length - 1
    let slot = h & mask
    for (let v = slots[slot]; v >= 0; v = slots[slot]) {
      if (store[3 * v] === value[0] && store[3 * v + 1] === value[1] && store[3 * v + 2] === value[2])
        return v
      slot = (slot + 1) & mask
    }
    slots[slot] = this.count
    store.set(value, 3 * this.count)
    return this.count++
  }

  positions(): Float32Array {
    return this.store.slice(0, 3 * this.count)
  }
}

/**
 * Pairs the sides of triangles into edges. Several parts may have sides in the same place: a side is paired first within
 * its own part, going the other way; then with a turned one of its part; then with what another part left over.
 */
function pairSides(vertices: Uint32Array, parts: Uint32Array) {
  const sides = vertices.length
  let capacity = 16
  while (capacity < 2 * sides) capacity *= 2
  const mask = capacity - 1
  const slots = new Int32Array(capacity).fill(-1)
  const next = new Int32Array(sides).fill(-1)
  const edgeVertices = new Uint32Array(2 * sides)
  const edgeTriangles = new Int32Array(2 * sides).fill(NONE)
  const edgeTurned = new Uint8Array(sides)
  const sideEdges = new Uint32Array(sides)
  let count = 0
  const slotFor = (low: number, high: number): number => {
    let h = Math.imul(low, 0x9e3779b1) ^ Math.imul(high, 0x85ebca6b)
    h = Math.imul(h ^ (h >>> 15), 0x2c1b3c6d)
    let slot = (h ^ (h >>> 13)) & mask
    for (let e = slots[slot]; e >= 0; e = slots[slot]) {
      const a = edgeVertices[2 * e]
      const b = edgeVertices[2 * e + 1]
      if ((a === low && b === high) || (a === high && b === low)) break
      slot = (slot + 1) & mask
    }
    return slot
  }
  for (let s = 0; s < sides; s++) {
    const t = Math.floor(s / 3)
    const from = vertices[s]
    const to = vertices[s % 3 === 2 ? s - 2 : s + 1]
    const slot = slotFor(Math.min(from, to), Math.max(from, to))
    let found = -1
    for (let e = slots[slot]; e >= 0; e = next[e]) {
      if (edgeTriangles[2 * e + 1] !== NONE || parts[edgeTriangles[2 * e]] !== parts[t]) continue
      if (edgeTriangles[2 * e] === t) continue
      if (edgeVertices[2 * e] === to) {
        found = e
        break
      }
    }
    if (found < 0) {
      found = count++
      edgeVertices[2 * found] = from
      edgeVertices[2 * found + 1] = to
      edgeTriangles[2 * found] = t
      next[found] = slots[slot]
      slots[slot] = found
    } else edgeTriangles[2 * found + 1] = t
    sideEdges[s] = found
  }

  // What is left over: turned neighbours of the same part, then neighbours of other parts.
  const into = Int32Array.from({ length: count }, (_, e) => e)
  for (const isSamePart of [true, false]) {
    for (let slot = 0; slot < capacity; slot++) {
      for (let e = slots[slot]; e >= 0; e = next[e]) {
        if (edgeTriangles[2 * e + 1] !== NONE || into[e] !== e) continue
        for (let other = next[e]; other >= 0; other = next[other]) {
          if (edgeTriangles[2 * other + 1] !== NONE || into[other] !== other) continue
          if ((parts[edgeTriangles[2 * e]] === parts[edgeTriangles[2 * other]]) !== isSamePart) continue
          edgeTriangles[2 * e + 1] = edgeTriangles[2 * other]
          edgeTurned[e] = edgeVertices[2 * e] === edgeVertices[2 * other] ? 1 : 0
          into[other] = e
          break
        }
      }
    }
  }
  // Numbers without gaps.
  const number = new Int32Array(count).fill(-1)
  let kept = 0
  for (let e = 0; e < count; e++) {
    if (into[e] !== e) continue
    edgeVertices.copyWithin(2 * kept, 2 * e, 2 * e + 2)
    edgeTriangles.copyWithin(2 * kept, 2 * e, 2 * e + 2)
    edgeTurned[kept] = edgeTurned[e]
    number[e] = kept++
  }
  for (let s = 0; s < sides; s++) sideEdges[s] = number[into[sideEdges[s]]]
  return {
    edgeCount: kept,
    edgeVertices: edgeVertices.slice(0, 2 * kept),
    edgeTriangles: edgeTriangles.slice(0, 2 * kept),
    edgeTurned: edgeTurned.slice(0, kept),
    sideEdges,
  }
}
