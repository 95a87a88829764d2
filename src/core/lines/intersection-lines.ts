import type { SceneGeometry } from '../scene/scene-geometry'
import { boxesMeet, BoxTree, type Boxes } from './box-tree'
import type { CutAway } from './cutout-lines'
import type { LineTopology } from './line-topology'
import { ID_NUMBERS, type SegmentList } from './segment-list'
import { unit } from './surface-lines'
import { SwollenParts } from './swollen-parts'

/** Shorter segments, in figure diagonals, are one point: an edge of the one runs through an edge of the other. */
const POINT = 1e-9
/** This near an edge, in figure diagonals, a segment runs along it. */
const TOUCH = 1e-6
/** Lists of triangles whose product is below this are compared as they are. */
const FEW_PAIRS = 2048

/**
 * Where parts run through each other. Two triangles meet in a segment whose ends are points where an edge of the one
 * pierces the other. Whether an edge does is decided by exact signs, the same for all triangles that share it: so the ends of
 * neighbouring segments are the same node, and where closed forms meet the lines are whole rings, also where vertices lie on
 * each other, edges meet edges, faces touch or coincide ({@link SwollenParts}).
 *
 * Before, edges were sent as rays against the other parts; rays that met an edge exactly hit both of its triangles or none,
 * and balls mirrored at their common plane lost half of their ring.
 * @param cutAway what textures cut away of the triangles; null where they cut nothing.
 * @param firstNode nodes from this number on are free.
 * @returns the next free node.
 */
export function intersectionLines(
  topology: LineTopology,
  scene: SceneGeometry,
  cutAway: CutAway | null,
  firstNode: number,
  out: SegmentList,
): number {
  const { positions, vertices, parts, faceNormals, sceneTriangles } = topology
  const { found, points, leaders } = meetingsOf(topology, scene)
  if (found.length === 0) return firstNode
  const touch = TOUCH * scene.figureDiagonal
  const vertexCount = positions.length / 3
  const a = new Float64Array(3)
  const b = new Float64Array(3)
  const middle = new Float64Array(3)
  const normal = new Float64Array(3)
  const isThere = (t: number): boolean => {
    if (cutAway === null) return true
    const [v, w] = barycentric(topology, t, middle)
    return cutAway.isThere(sceneTriangles[t], v, w)
  }
  const drawn = drawnEdges(topology, out)
  /** Whether a line that is there already runs where the segment does: faces that touch meet along their own edges. */
  const runsAlong = (t: number, from: Float64Array, to: Float64Array): boolean => {
    for (let k = 0; k < 3; k++) {
      const [v, w] = orderedEnds(vertices, t, k)
      if (!drawn.has(v * vertexCount + w)) continue
      if (distanceToEdge(topology, v, w, from) <= touch && distanceToEdge(topology, v, w, to) <= touch)
        return true
    }
    return false
  }
  for (let i = 0; i < found.length; i += 4) {
    const t = found[i]
    const u = found[i + 1]
    const first = leaders[found[i + 2]]
    const second = leaders[found[i + 3]]
    if (first === second) continue
    for (let axis = 0; axis < 3; axis++) {
      a[axis] = points[3 * first + axis]
      b[axis] = points[3 * second + axis]
      middle[axis] = (a[axis] + b[axis]) / 2
      normal[axis] = faceNormals[3 * t + axis] + faceNormals[3 * u + axis]
    }
    if (!isThere(t) || !isThere(u) || runsAlong(t, a, b) || runsAlong(u, a, b)) continue
    unit(normal)
    const [low, high] = [Math.min(parts[t], parts[u]), Math.max(parts[t], parts[u])]
    out.add('intersection', a, b, firstNode + first, firstNode + second, low, high, normal)
  }
  return firstNode + leaders.length
}

/** Where triangles of different parts meet, whoever looks. */
interface Meetings {
  /** Four numbers a segment: its two triangles, the nodes of its ends. */
  readonly found: Uint32Array
  /** Three numbers a node. */
  readonly points: Float64Array
  /** The node that stands for each: those that lie on each other are one, so that chains go on through them. */
  readonly leaders: Uint32Array
}

const kept = new WeakMap<LineTopology, Meetings>()

/** The {@link Meetings} of a topology, found once. */
function meetingsOf(topology: LineTopology, scene: SceneGeometry): Meetings {
  const known = kept.get(topology)
  if (known) return known
  const made = findMeetings(topology, scene)
  kept.set(topology, made)
  return made
}

function findMeetings(topology: LineTopology, scene: SceneGeometry): Meetings {
  const { positions, vertices, parts, sideEdges, edgeTriangles, triangleCount } = topology
  const partCount = scene.parts.length
  const pairs = nearPairs(topology, partCount)
  const near = new Uint8Array(topology.triangleCount)
  for (const t of pairs) near[t] = 1
  const swollen = new SwollenParts(topology, partCount, near)

  /** Points by the edge that pierces, its part, and the triangle it pierces. */
  const nodes = new Map<number, number>()
  const points: number[] = []
  const leader: number[] = []
  const find = (node: number): number => {
    let at = node
    while (leader[at] !== at) at = leader[at] = leader[leader[at]]
    return at
  }
  /** Node of the place where side k of triangle t pierces triangle u. @param from, to distances of its ends from u. */
  const piercing = (t: number, k: number, u: number): number => {
    const e = sideEdges[3 * t + k]
    // Where two parts share a border each has its own.
    const own = parts[t] === parts[edgeTriangles[2 * e]] ? 0 : 1
    const key = (2 * e + own) * triangleCount + u
    const known = nodes.get(key)
    if (known !== undefined) return known
    const [a, b] = orderedEnds(vertices, t, k)
    const share = shareOfEdge(topology, a, b, u)
    for (let axis = 0; axis < 3; axis++) {
      const from = positions[3 * a + axis]
      points.push(from + share * (positions[3 * b + axis] - from))
    }
    const node = leader.length
    leader.push(node)
    nodes.set(key, node)
    return node
  }

  // 1. The two ends of every segment.
  const found: number[] = []
  const ends: number[] = []
  for (let i = 0; i < pairs.length; i += 2) {
    const [t, u] = [pairs[i], pairs[i + 1]]
    ends.length = 0
    if (!piercedSides(topology, swollen, t, u, (side, of, through) => ends.push(piercing(of, side, through))))
      continue
    // Any two closed curves of signs cross twice; one that an open border cuts short has no second end.
    if (ends.length === 2) found.push(t, u, ends[0], ends[1])
  }

  // 2. Ends that lie on each other are one, so that chains go on through them.
  const least = POINT * scene.figureDiagonal
  const gap = (m: number, n: number) =>
    Math.hypot(
      points[3 * m] - points[3 * n],
      points[3 * m + 1] - points[3 * n + 1],
      points[3 * m + 2] - points[3 * n + 2],
    )
  for (let i = 0; i < found.length; i += 4) {
    if (gap(found[i + 2], found[i + 3]) > least) continue
    const [m, n] = [find(found[i + 2]), find(found[i + 3])]
    leader[Math.max(m, n)] = Math.min(m, n)
  }
  return {
    found: Uint32Array.from(found),
    points: Float64Array.from(points),
    leaders: Uint32Array.from(leader, (_, node) => find(node)),
  }
}

/** The ends of side k of a triangle, the lower vertex first: the same from both triangles beside it. */
function orderedEnds(vertices: Uint32Array, t: number, k: number): readonly [number, number] {
  const a = vertices[3 * t + k]
  const b = vertices[3 * t + ((k + 1) % 3)]
  return a < b ? [a, b] : [b, a]
}

/** How far along the edge from a to b it pierces the plane of a triangle, 0…1. */
function shareOfEdge(
  { positions, vertices, faceNormals }: LineTopology,
  a: number,
  b: number,
  u: number,
): number {
  const o = 3 * vertices[3 * u]
  const height = (v: number): number =>
    (positions[3 * v] - positions[o]) * faceNormals[3 * u] +
    (positions[3 * v + 1] - positions[o + 1]) * faceNormals[3 * u + 1] +
    (positions[3 * v + 2] - positions[o + 2]) * faceNormals[3 * u + 2]
  const [from, to] = [height(a), height(b)]
  if (from === to) return 0.5
  return Math.min(1, Math.max(0, from / (from - to)))
}

/** Signs of a pair of triangles: corners of the first over the second, of the second over the first, sides past sides. */
const signs = new Int8Array(15)

/**
 * Tells which sides of two triangles of different parts pierce the other one.
 * @param tell the side, the triangle it belongs to, the triangle it pierces.
 * @returns false where the triangles do not meet.
 */
function piercedSides(
  { vertices, parts }: LineTopology,
  swollen: SwollenParts,
  t: number,
  u: number,
  tell: (side: number, of: number, through: number) => void,
): boolean {
  const [p, q] = [parts[t], parts[u]]
  const [t0, t1, t2] = [vertices[3 * t], vertices[3 * t + 1], vertices[3 * t + 2]]
  const [u0, u1, u2] = [vertices[3 * u], vertices[3 * u + 1], vertices[3 * u + 2]]
  for (let k = 0; k < 3; k++) signs[k] = swollen.side(u0, q, u1, q, u2, q, vertices[3 * t + k], p)
  if (signs[0] === signs[1] && signs[1] === signs[2]) return false
  for (let k = 0; k < 3; k++) signs[3 + k] = swollen.side(t0, p, t1, p, t2, p, vertices[3 * u + k], q)
  if (signs[3] === signs[4] && signs[4] === signs[5]) return false
  for (let i = 0; i < 3; i++) {
    const a = vertices[3 * t + i]
    const b = i === 2 ? t0 : vertices[3 * t + i + 1]
    signs[6 + 3 * i] = swollen.side(a, p, b, p, u0, q, u1, q)
    signs[7 + 3 * i] = swollen.side(a, p, b, p, u1, q, u2, q)
    signs[8 + 3 * i] = swollen.side(a, p, b, p, u2, q, u0, q)
  }
  let met = false
  for (let k = 0; k < 3; k++) {
    const next = k === 2 ? 0 : k + 1
    const row = 6 + 3 * k
    if (signs[k] !== signs[next] && signs[row] === signs[row + 1] && signs[row + 1] === signs[row + 2]) {
      tell(k, t, u)
      met = true
    }
    const column = 6 + k
    if (
      signs[3 + k] !== signs[3 + next] &&
      signs[column] === signs[column + 3] &&
      signs[column + 3] === signs[column + 6]
    ) {
      tell(k, u, t)
      met = true
    }
  }
  return met
}

/** Edges that are drawn whole, by their vertices: lower · V + higher. */
function drawnEdges({ positions }: LineTopology, { ids, count }: SegmentList): Set<number> {
  const vertexCount = positions.length / 3
  const drawn = new Set<number>()
  for (let s = 0; s < count; s++) {
    const [a, b] = [ids[ID_NUMBERS * s], ids[ID_NUMBERS * s + 1]]
    if (a < vertexCount && b < vertexCount) drawn.add(Math.min(a, b) * vertexCount + Math.max(a, b))
  }
  return drawn
}

function distanceToEdge({ positions }: LineTopology, v: number, w: number, point: Float64Array): number {
  let [along, length] = [0, 0]
  for (let axis = 0; axis < 3; axis++) {
    const leg = positions[3 * w + axis] - positions[3 * v + axis]
    along += leg * (point[axis] - positions[3 * v + axis])
    length += leg * leg
  }
  const share = Math.min(1, Math.max(0, along / (length || 1)))
  const off = [0, 1, 2].map(
    (axis) =>
      point[axis] - positions[3 * v + axis] - share * (positions[3 * w + axis] - positions[3 * v + axis]),
  )
  return Math.hypot(...off)
}

/** Weights of a triangle's second and third corner at a point in its plane. */
function barycentric(
  { positions, vertices }: LineTopology,
  t: number,
  point: Float64Array,
): readonly [number, number] {
  const [i, j, k] = [0, 1, 2].map((c) => 3 * vertices[3 * t + c])
  let [aa, ab, bb, ap, bp] = [0, 0, 0, 0, 0]
  for (let axis = 0; axis < 3; axis++) {
    const a = positions[j + axis] - positions[i + axis]
    const b = positions[k + axis] - positions[i + axis]
    const p = point[axis] - positions[i + axis]
    aa += a * a
    ab += a * b
    bb += b * b
    ap += a * p
    bp += b * p
  }
  const area = aa * bb - ab * ab || 1
  return [(bb * ap - ab * bp) / area, (aa * bp - ab * ap) / area]
}

/** Pairs of triangles of different parts whose boxes meet, one after the other; the lower part first. */
function nearPairs(topology: LineTopology, partCount: number): number[] {
  const { parts, triangleCount, faceNormals } = topology
  const boxes = triangleBoxes(topology)
  const partBoxes = new Float32Array(6 * partCount)
  for (let p = 0; p < partCount; p++) {
    partBoxes.fill(Infinity, 6 * p, 6 * p + 3)
    partBoxes.fill(-Infinity, 6 * p + 3, 6 * p + 6)
  }
  const own = Array.from({ length: partCount }, () => [] as number[])
  for (let t = 0; t < triangleCount; t++) {
    // What has no area meets nothing.
    if (faceNormals[3 * t] === 0 && faceNormals[3 * t + 1] === 0 && faceNormals[3 * t + 2] === 0) continue
    const at = 6 * parts[t]
    own[parts[t]].push(t)
    for (let axis = 0; axis < 3; axis++) {
      partBoxes[at + axis] = Math.min(partBoxes[at + axis], boxes[6 * t + axis])
      partBoxes[at + 3 + axis] = Math.max(partBoxes[at + 3 + axis], boxes[6 * t + 3 + axis])
    }
  }
  const pairs: number[] = []
  const shared = new Float32Array(6)
  for (let p = 0; p < partCount; p++) {
    for (let q = p + 1; q < partCount; q++) {
      if (!boxesMeet(partBoxes, p, partBoxes, q)) continue
      for (let axis = 0; axis < 3; axis++) {
        shared[axis] = Math.max(partBoxes[6 * p + axis], partBoxes[6 * q + axis])
        shared[3 + axis] = Math.min(partBoxes[6 * p + 3 + axis], partBoxes[6 * q + 3 + axis])
      }
      const near = (part: number) => Uint32Array.from(own[part].filter((t) => boxesMeet(boxes, t, shared, 0)))
      comparePairs(boxes, near(p), near(q), pairs)
    }
  }
  return pairs
}

function comparePairs(boxes: Boxes, first: Uint32Array, second: Uint32Array, pairs: number[]): void {
  if (first.length * second.length <= FEW_PAIRS) {
    for (const t of first) for (const u of second) if (boxesMeet(boxes, t, boxes, u)) pairs.push(t, u)
    return
  }
  const tree = new BoxTree(boxes, second)
  for (const t of first) tree.query(boxes, t, (u) => pairs.push(t, u))
}

function triangleBoxes({ positions, vertices, triangleCount }: LineTopology): Boxes {
  const boxes = new Float32Array(6 * triangleCount)
  for (let t = 0; t < triangleCount; t++) {
    for (let axis = 0; axis < 3; axis++) {
      const a = positions[3 * vertices[3 * t] + axis]
      const b = positions[3 * vertices[3 * t + 1] + axis]
      const c = positions[3 * vertices[3 * t + 2] + axis]
      boxes[6 * t + axis] = Math.min(a, b, c)
      boxes[6 * t + 3 + axis] = Math.max(a, b, c)
    }
  }
  return boxes
}
