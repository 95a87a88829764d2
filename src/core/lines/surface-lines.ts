// One file: one march over the triangles, by which all lines of a surface are found.
import type { CameraBasis } from '../scene/camera'
import type { SceneGeometry } from '../scene/scene-geometry'
import { CellLists } from './cell-lists'
import { closeCreaseGaps, faceCosines } from './crease-gaps'
import type { CutAway } from './cutout-lines'
import type { LineKind } from './line-kinds'
import { NONE, wedgeAt, type LineTopology } from './line-topology'
import type { SegmentList } from './segment-list'

/** Which lines are looked for on edges. */
export interface EdgeLineSetting {
  readonly kinds: ReadonlySet<LineKind>
  /** Faces that turn by more than this at a hard edge make a crease. */
  readonly creaseRad: number
  /** Where textures cut faces away: there are no edges there. */
  readonly cutAway?: CutAway | null
}

/** Node of the point where something crosses an edge; hard edges have one for each side. */
export const edgeNode = (topology: LineTopology, e: number, side: 0 | 1): number =>
  topology.positions.length / 3 + 2 * e + (topology.edgeSmooth[e] ? 0 : side)

/** Numbers of nodes that vertices and edges take. */
export const nodeTotal = (topology: LineTopology): number =>
  topology.positions.length / 3 + 2 * topology.edgeCount

/**
 * Where a field over wedges is zero within triangles: one segment in every triangle whose corners differ in sign, its
 * ends on the two sides between them, so that segments of neighbours meet (the interpolated silhouette of Hertzmann &
 * Zorin 2000 where the field is the cosine towards the eye).
 * @param accept may turn a segment away by what its triangle tells; its return is the segment's strength.
 */
export function zeroSetLines(
  topology: LineTopology,
  camera: CameraBasis,
  field: Float32Array,
  kind: LineKind,
  out: SegmentList,
  accept: (triangle: number, weights: Float64Array) => number = () => 1,
): void {
  const {
    vertices,
    wedges,
    wedgeNormals,
    positions,
    sideEdges,
    edgeVertices,
    edgeTriangles,
    parts,
    patches,
  } = topology
  const ends = [new Float64Array(3), new Float64Array(3)]
  const nodes = [0, 0]
  const normal = new Float64Array(3)
  /** Weights of the three corners at the segment's middle. */
  const weights = new Float64Array(3)
  for (let t = 0; t < topology.triangleCount; t++) {
    const c = 3 * t
    const s0 = field[wedges[c]] > 0
    const s1 = field[wedges[c + 1]] > 0
    const s2 = field[wedges[c + 2]] > 0
    if (s0 === s1 && s1 === s2) continue
    let n = 0
    weights.fill(0)
    for (let k = 0; k < 3; k++) {
      const k2 = k === 2 ? 0 : k + 1
      const fa = field[wedges[c + k]]
      const fb = field[wedges[c + k2]]
      if (fa > 0 === fb > 0) continue
      const share = fa / (fa - fb)
      const a = 3 * vertices[c + k]
      const b = 3 * vertices[c + k2]
      const e = sideEdges[c + k]
      // Always from the edge's first end, so that both its triangles find the very same point.
      const isForward = edgeVertices[2 * e] === vertices[c + k]
      for (let axis = 0; axis < 3; axis++) {
        const from = isForward ? positions[a + axis] : positions[b + axis]
        const to = isForward ? positions[b + axis] : positions[a + axis]
        ends[n][axis] = from + (to - from) * (isForward ? share : 1 - share)
      }
      nodes[n] = edgeNode(topology, e, edgeTriangles[2 * e] === t ? 0 : 1)
      weights[k] += (1 - share) / 2
      weights[k2] += share / 2
      n++
    }
    const strength = accept(t, weights)
    if (strength <= 0) continue
    normal.fill(0)
    for (let k = 0; k < 3; k++)
      for (let axis = 0; axis < 3; axis++) normal[axis] += weights[k] * wedgeNormals[3 * wedges[c + k] + axis]
    unit(normal)
    const lift = bulge(topology, t)
    const reach = lift > 0 ? ownReach(topology, camera, t) : 0
    const [from, to] = ends
    out.add(kind, from, to, nodes[0], nodes[1], parts[t], parts[t], normal, lift, strength, reach, patches[t])
  }
}

/** Facets before a line that still stand for its own form, in depths of the one it lies in … */
const OWN_FACETS = 2
/** … and so many where they are finer than a line: the bumps of a scan. In shares of the picture's height. */
const FINE_FACETS = 8
const FINE = 0.05

/** How far towards the eye the patch of a line does not hide it, world units. */
function ownReach({ vertices, positions }: LineTopology, camera: CameraBasis, t: number): number {
  const { back, eye } = camera
  let low = Infinity
  let high = -Infinity
  for (let k = 0; k < 3; k++) {
    const v = 3 * vertices[3 * t + k]
    const depth =
      (eye[0] - positions[v]) * back[0] +
      (eye[1] - positions[v + 1]) * back[1] +
      (eye[2] - positions[v + 2]) * back[2]
    if (depth < low) low = depth
    if (depth > high) high = depth
  }
  const extent = high - low
  const heightThere = 2 * camera.halfHeight * (camera.parallel ? 1 : Math.max(0, high))
  return Math.max(OWN_FACETS * extent, Math.min(FINE_FACETS * extent, FINE * heightThere))
}

/** How far an arc through the corners with their normals stands over the flat triangle: κ·side² / 8, κ·side being the turn. */
export function bulge({ vertices, wedges, wedgeNormals, positions }: LineTopology, t: number): number {
  let most = 0
  for (let k = 0; k < 3; k++) {
    const k2 = k === 2 ? 0 : k + 1
    const a = 3 * vertices[3 * t + k]
    const b = 3 * vertices[3 * t + k2]
    const i = 3 * wedges[3 * t + k]
    const j = 3 * wedges[3 * t + k2]
    // Only what the normals turn along the side counts: a long side of a narrow bevel does not stand out.
    const turn =
      (positions[a] - positions[b]) * (wedgeNormals[i] - wedgeNormals[j]) +
      (positions[a + 1] - positions[b + 1]) * (wedgeNormals[i + 1] - wedgeNormals[j + 1]) +
      (positions[a + 2] - positions[b + 2]) * (wedgeNormals[i + 2] - wedgeNormals[j + 2])
    most = Math.max(most, Math.abs(turn) / 8)
  }
  return most
}

/** The creases that were found last on a topology: they are the same from wherever it is seen. */
const lastCreases = new WeakMap<LineTopology, { readonly creaseRad: number; readonly found: Uint8Array }>()

/** One byte an edge: hard ones at which faces turn by more than an angle, and what closes the gaps between them. */
function creases(topology: LineTopology, creaseRad: number): Uint8Array {
  const last = lastCreases.get(topology)
  if (last?.creaseRad === creaseRad) return last.found
  const cosines = faceCosines(topology)
  const least = Math.cos(creaseRad)
  const found = Uint8Array.from(cosines, (cosine, e) => (!topology.edgeSmooth[e] && cosine < least ? 1 : 0))
  closeCreaseGaps(topology, cosines, found, creaseRad)
  lastCreases.set(topology, { creaseRad, found })
  return found
}

/**
 * Lines that run along edges: silhouettes where one side looks to the eye and the other away, borders, creases, and
 * where part or material changes. An edge that is a silhouette on a share of its length is cut there.
 * @returns the next free node.
 */
export function edgeLines(
  topology: LineTopology,
  scene: SceneGeometry,
  camera: CameraBasis,
  field: Float32Array,
  { kinds, creaseRad, cutAway = null }: EdgeLineSetting,
  out: SegmentList,
): number {
  const { edgeVertices, edgeTriangles, edgeSmooth, edgeTurned, parts } = topology
  const { sceneTriangles, positions } = topology
  const isCrease = creases(topology, creaseRad)
  const normal = new Float64Array(3)
  const from = new Float64Array(3)
  const to = new Float64Array(3)
  let nodes = nodeTotal(topology)
  const cuts = new Float64Array(4)
  const cutNodes = new Float64Array(4)
  for (let e = 0; e < topology.edgeCount; e++) {
    const a = edgeTriangles[2 * e]
    const b = edgeTriangles[2 * e + 1]
    // 1. What the edge is all along.
    let base: LineKind | null = null
    if (b === NONE) base = 'border'
    else if (parts[a] !== parts[b]) base = 'part'
    else if (scene.triangleMaterials[sceneTriangles[a]] !== scene.triangleMaterials[sceneTriangles[b]])
      base = 'material'
    else if (isCrease[e]) base = 'crease'
    if (base !== null && !kinds.has(base)) base = null

    // 2. Where it is a silhouette: between the zeros of its two sides.
    const mayTurn = kinds.has('silhouette') && b !== NONE && !edgeSmooth[e]
    if (base === null && !mayTurn) continue
    let n = 0
    cuts[n] = 0
    cutNodes[n++] = edgeVertices[2 * e]
    let fa0 = 0
    let fa1 = 0
    let fb0 = 0
    let fb1 = 0
    if (mayTurn) {
      const sign = edgeTurned[e] ? -1 : 1
      fa0 = field[wedgeAt(topology, a, edgeVertices[2 * e])]
      fa1 = field[wedgeAt(topology, a, edgeVertices[2 * e + 1])]
      fb0 = sign * field[wedgeAt(topology, b, edgeVertices[2 * e])]
      fb1 = sign * field[wedgeAt(topology, b, edgeVertices[2 * e + 1])]
      const za = fa0 > 0 === fa1 > 0 ? -1 : fa0 / (fa0 - fa1)
      const zb = fb0 > 0 === fb1 > 0 ? -1 : fb0 / (fb0 - fb1)
      const aFirst = za <= zb
      for (const isA of [aFirst, !aFirst]) {
        const z = isA ? za : zb
        if (z < 0) continue
        cuts[n] = z
        cutNodes[n++] = edgeNode(topology, e, isA ? 0 : 1)
      }
    }
    cuts[n] = 1
    cutNodes[n] = edgeVertices[2 * e + 1]

    // 3. Its pieces.
    seenNormal(topology, camera, e, normal)
    const i = 3 * edgeVertices[2 * e]
    const j = 3 * edgeVertices[2 * e + 1]
    const other = b === NONE ? parts[a] : parts[b]
    for (let k = 0; k < n; k++) {
      const middle = (cuts[k] + cuts[k + 1]) / 2
      const isTurn = mayTurn && fa0 + (fa1 - fa0) * middle > 0 !== fb0 + (fb1 - fb0) * middle > 0
      const kind = isTurn ? 'silhouette' : base
      if (kind === null || cuts[k] === cuts[k + 1]) continue
      const lift = Math.max(bulge(topology, a), b === NONE ? 0 : bulge(topology, b))
      const [low, high] = [Math.min(parts[a], other), Math.max(parts[a], other)]
      const put = (start: number, end: number, nodeA: number, nodeB: number) => {
        for (let axis = 0; axis < 3; axis++) {
          const span = positions[j + axis] - positions[i + axis]
          from[axis] = positions[i + axis] + span * start
          to[axis] = positions[i + axis] + span * end
        }
        out.add(kind, from, to, nodeA, nodeB, low, high, normal, lift)
      }
      if (!cutAway || !isCut(topology, cutAway, e)) put(cuts[k], cuts[k + 1], cutNodes[k], cutNodes[k + 1])
      else {
        const span = cuts[k + 1] - cuts[k]
        for (const [start, end] of runsThere(topology, cutAway, e, cuts[k], span)) {
          const nodeA = start === 0 ? cutNodes[k] : nodes++
          const nodeB = end === 1 ? cutNodes[k + 1] : nodes++
          put(cuts[k] + span * start, cuts[k] + span * end, nodeA, nodeB)
        }
      }
    }
  }
  return nodes
}

/** How far from an edge it is asked whether it is there, as a share of the triangle. */
const INWARDS = 0.02
/** Pieces of an edge that textures are asked about one by one. */
const CUT_PIECES = 48

/** Whether textures cut a face beside an edge. */
const isCut = ({ sceneTriangles, edgeTriangles }: LineTopology, cutAway: CutAway, e: number): boolean =>
  [edgeTriangles[2 * e], edgeTriangles[2 * e + 1]].some(
    (t) => t !== NONE && cutAway.cutoutOf(sceneTriangles[t]) !== null,
  )

/** Runs of a stretch of an edge that are there, as shares of it. */
function runsThere(
  topology: LineTopology,
  cutAway: CutAway,
  e: number,
  from: number,
  span: number,
): [number, number][] {
  const runs: [number, number][] = []
  for (let k = 0; k < CUT_PIECES; k++) {
    if (!isThere(topology, cutAway, e, from + (span * (k + 0.5)) / CUT_PIECES)) continue
    const last = runs.at(-1)
    if (last && last[1] === k / CUT_PIECES) last[1] = (k + 1) / CUT_PIECES
    else runs.push([k / CUT_PIECES, (k + 1) / CUT_PIECES])
  }
  return runs
}

/** Whether a place of an edge is there on one of its sides, and not cut away by a texture. */
function isThere(
  { vertices, sceneTriangles, edgeVertices, edgeTriangles }: LineTopology,
  cutAway: CutAway,
  e: number,
  share: number,
): boolean {
  for (let side = 0; side < 2; side++) {
    const t = edgeTriangles[2 * e + side]
    if (t === NONE) continue
    // A little inwards: right on a rim, a texture that repeats has half of its other side.
    const weights = [INWARDS / 3, INWARDS / 3, INWARDS / 3]
    for (let k = 0; k < 3; k++) {
      if (vertices[3 * t + k] === edgeVertices[2 * e]) weights[k] += (1 - INWARDS) * (1 - share)
      if (vertices[3 * t + k] === edgeVertices[2 * e + 1]) weights[k] += (1 - INWARDS) * share
    }
    if (cutAway.isThere(sceneTriangles[t], weights[1], weights[2])) return true
  }
  return false
}

/**
 * The normal of what is seen of the faces beside an edge: of the one that looks to the eye, of both where both do; turned
 * over where neither does, as on a sheet seen from behind. Unit.
 */
function seenNormal(
  { positions, edgeVertices, edgeTriangles, edgeTurned, faceNormals }: LineTopology,
  { eye, back, parallel }: CameraBasis,
  e: number,
  out: Float64Array,
): void {
  const i = 3 * edgeVertices[2 * e]
  const j = 3 * edgeVertices[2 * e + 1]
  const x = parallel ? back[0] : eye[0] - (positions[i] + positions[j]) / 2
  const y = parallel ? back[1] : eye[1] - (positions[i + 1] + positions[j + 1]) / 2
  const z = parallel ? back[2] : eye[2] - (positions[i + 2] + positions[j + 2]) / 2
  out.fill(0)
  let isSeen = false
  for (let pass = 0; pass < 2 && !isSeen; pass++) {
    for (let side = 0; side < 2; side++) {
      const t = edgeTriangles[2 * e + side]
      if (t === NONE) continue
      const sign = (pass === 0 ? 1 : -1) * (side === 1 && edgeTurned[e] ? -1 : 1)
      const [nx, ny, nz] = [faceNormals[3 * t], faceNormals[3 * t + 1], faceNormals[3 * t + 2]]
      if (sign * (nx * x + ny * y + nz * z) <= 0) continue
      isSeen = true
      out[0] += sign * nx
      out[1] += sign * ny
      out[2] += sign * nz
    }
  }
  unit(out)
}

/** Polygon edges of seen parts as they were modelled: triangles' own diagonals are none. Nodes come after `firstNode`. */
export function wireLines(
  scene: SceneGeometry,
  camera: CameraBasis,
  shown: Uint8Array | null,
  firstNode: number,
  out: SegmentList,
): number {
  const { edgeEnds, edgeNormals, edgeParts } = scene
  // Ends at the same place are one node: found by the bits of their numbers.
  const bits = new Int32Array(edgeEnds.buffer, edgeEnds.byteOffset, edgeEnds.length)
  const bitsAt = (i: number): number => (edgeEnds[i] === 0 ? 0 : bits[i])
  const places = new CellLists()
  let count = 0
  const nodeOf = (at: number): number => {
    const [x, y, z] = [bitsAt(at), bitsAt(at + 1), bitsAt(at + 2)]
    let node = places.last(x, y, z)
    if (node < 0) {
      node = places.add(x, y, z)
      count++
    }
    return firstNode + node
  }
  const normal = new Float64Array(3)
  for (let e = 0; e < edgeParts.length; e++) {
    if (shown?.[edgeParts[e]] === 0) continue
    const i = 6 * e
    seenSide(edgeEnds, edgeNormals, i, camera, normal)
    const part = edgeParts[e]
    out.add(
      'wire',
      edgeEnds.subarray(i, i + 3),
      edgeEnds.subarray(i + 3, i + 6),
      nodeOf(i),
      nodeOf(i + 3),
      part,
      part,
      normal,
    )
  }
  return firstNode + count
}

/** {@link seenNormal} of a polygon edge: its two normals, of which those count that look to the eye. */
function seenSide(
  ends: Float32Array,
  normals: Float32Array,
  i: number,
  { eye, back, parallel }: CameraBasis,
  out: Float64Array,
): void {
  const x = parallel ? back[0] : eye[0] - (ends[i] + ends[i + 3]) / 2
  const y = parallel ? back[1] : eye[1] - (ends[i + 1] + ends[i + 4]) / 2
  const z = parallel ? back[2] : eye[2] - (ends[i + 2] + ends[i + 5]) / 2
  const facing = [i, i + 3].map((n) => normals[n] * x + normals[n + 1] * y + normals[n + 2] * z)
  const sign = facing[0] <= 0 && facing[1] <= 0 ? -1 : 1
  out.fill(0)
  for (let side = 0; side < 2; side++) {
    if (sign * facing[side] <= 0) continue
    for (let axis = 0; axis < 3; axis++) out[axis] += sign * normals[i + 3 * side + axis]
  }
  unit(out)
}

/** Scales to unit length; leaves nothing as nothing. */
export function unit(v: Float64Array): void {
  const length = Math.sqrt(v[0] * v[0] + v[1] * v[1] + v[2] * v[2])
  if (length === 0) return
  v[0] /= length
  v[1] /= length
  v[2] /= length
}
