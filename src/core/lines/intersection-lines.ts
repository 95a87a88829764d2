import { SEEN_BY_CAMERA } from '../scene/part-role'
import type { SceneGeometry } from '../scene/scene-geometry'
import { BATCH_RAYS, HIT_NUMBERS, TraceKernel } from '../trace/trace-kernel'
import { NONE, type LineTopology } from './line-topology'
import type { SegmentList } from './segment-list'
import { unit } from './surface-lines'

/** Surfaces one edge may run through; more is a tangle that no line helps. */
const MOST_PIERCINGS = 8
/** An edge that lies in a face rather than crosses it: sine of the angle between them. */
const IN_PLANE = 1e-4
/** This near its ends, as a share of its length, an edge touches a surface and does not run through it. */
const TOUCH = 1e-4

/**
 * Where parts run through each other. Two triangles meet in a segment whose ends are points where an edge of the one
 * pierces the other; so every edge of a part is sent as a ray against all other parts, and points that the same two
 * triangles share are joined.
 * @param firstNode nodes from this number on are free.
 * @returns the next free node.
 */
export function intersectionLines(
  topology: LineTopology,
  scene: SceneGeometry,
  shown: Uint8Array | null,
  firstNode: number,
  out: SegmentList,
): number {
  const { positions, edgeCount, edgeVertices, edgeTriangles, parts, faceNormals, sceneTriangles } = topology
  const kernel = TraceKernel.over(scene.tree)
  const own = new Map<number, number>()
  sceneTriangles.forEach((id, t) => own.set(id, t))

  // 1. Edges by part, and only those that come near another part.
  const partCount = scene.parts.length
  const boxes = partBoxes(topology, partCount)
  const touching = Array.from({ length: partCount }, (_, p) => {
    const near: number[] = []
    for (let q = 0; q < partCount; q++) if (q !== p && meet(boxes, p, q)) near.push(q)
    return near
  })
  const edgesOf = Array.from({ length: partCount }, () => [] as number[])
  for (let e = 0; e < edgeCount; e++) {
    const p = parts[edgeTriangles[2 * e]]
    if (touching[p].some((q) => edgeMeets(boxes, q, positions, edgeVertices[2 * e], edgeVertices[2 * e + 1])))
      edgesOf[p].push(e)
  }

  // 2. Piercings: a batch of edges at a time, each sent on from its last hit until there is none.
  const points: number[] = []
  /** Points by the two triangles that share them. */
  const pairs = new Map<string, number[]>()
  const share = (a: number, b: number, point: number) => {
    const key = a < b ? `${a} ${b}` : `${b} ${a}`
    const list = pairs.get(key)
    if (list) list.push(point)
    else pairs.set(key, [point])
  }
  for (let p = 0; p < partCount; p++) {
    if (edgesOf[p].length === 0) continue
    const flags = Uint8Array.from(scene.parts, (_, q) => (q === p || shown?.[q] === 0 ? 0 : 1))
    let waiting = edgesOf[p].map((e) => ({ e, from: 0, hits: 0 }))
    while (waiting.length > 0) {
      const next: typeof waiting = []
      for (let start = 0; start < waiting.length; start += BATCH_RAYS) {
        const batch = waiting.slice(start, start + BATCH_RAYS)
        batch.forEach(({ e, from }, r) => {
          const a = 3 * edgeVertices[2 * e]
          const b = 3 * edgeVertices[2 * e + 1]
          kernel.put(
            r,
            positions[a],
            positions[a + 1],
            positions[a + 2],
            positions[b] - positions[a],
            positions[b + 1] - positions[a + 1],
            positions[b + 2] - positions[a + 2],
            from,
            1,
          )
        })
        kernel.traceClosest(batch.length, SEEN_BY_CAMERA, flags)
        batch.forEach(({ e, hits }, r) => {
          const slot = kernel.hitSlots[HIT_NUMBERS * r]
          if (slot < 0) return
          const t = kernel.hits[HIT_NUMBERS * r + 1]
          if (hits + 1 < MOST_PIERCINGS && t < 1)
            next.push({ e, from: t * (1 + 1e-6) + 1e-9, hits: hits + 1 })
          const other = own.get(scene.tree.ids[slot])
          // An edge that only ends on a surface touches it: its own lines are there already.
          if (other === undefined || t < TOUCH || t > 1 - TOUCH) return
          const a = 3 * edgeVertices[2 * e]
          const b = 3 * edgeVertices[2 * e + 1]
          const dx = positions[b] - positions[a]
          const dy = positions[b + 1] - positions[a + 1]
          const dz = positions[b + 2] - positions[a + 2]
          const along =
            dx * faceNormals[3 * other] + dy * faceNormals[3 * other + 1] + dz * faceNormals[3 * other + 2]
          if (Math.abs(along) < IN_PLANE * Math.sqrt(dx * dx + dy * dy + dz * dz)) return
          const point = points.length / 3
          points.push(positions[a] + dx * t, positions[a + 1] + dy * t, positions[a + 2] + dz * t)
          for (let side = 0; side < 2; side++) {
            const mine = edgeTriangles[2 * e + side]
            if (mine !== NONE) share(mine, other, point)
          }
        })
      }
      waiting = next
    }
  }

  // 3. Segments.
  const a = new Float64Array(3)
  const b = new Float64Array(3)
  const normal = new Float64Array(3)
  for (const [key, list] of pairs) {
    if (list.length < 2) continue
    // Through a corner both edges give the same point; the two farthest apart are the ends.
    let [first, second] = [list[0], list[1]]
    let widest = -1
    for (let i = 0; i < list.length; i++) {
      for (let j = i + 1; j < list.length; j++) {
        const gap = Math.hypot(...[0, 1, 2].map((k) => points[3 * list[i] + k] - points[3 * list[j] + k]))
        if (gap > widest) {
          widest = gap
          first = list[i]
          second = list[j]
        }
      }
    }
    if (widest <= 0) continue
    const [t, u] = key.split(' ').map(Number)
    for (let axis = 0; axis < 3; axis++) {
      a[axis] = points[3 * first + axis]
      b[axis] = points[3 * second + axis]
      normal[axis] = faceNormals[3 * t + axis] + faceNormals[3 * u + axis]
    }
    unit(normal)
    const [low, high] = [Math.min(parts[t], parts[u]), Math.max(parts[t], parts[u])]
    out.add('intersection', a, b, firstNode + first, firstNode + second, low, high, normal)
  }
  return firstNode + points.length / 3
}

/** Boxes of the parts: min x y z, max x y z. */
function partBoxes({ positions, vertices, parts, triangleCount }: LineTopology, count: number): Float32Array {
  const boxes = new Float32Array(6 * count)
  for (let p = 0; p < count; p++)
    boxes.set([Infinity, Infinity, Infinity, -Infinity, -Infinity, -Infinity], 6 * p)
  for (let c = 0; c < 3 * triangleCount; c++) {
    const at = 6 * parts[Math.floor(c / 3)]
    for (let axis = 0; axis < 3; axis++) {
      const value = positions[3 * vertices[c] + axis]
      if (value < boxes[at + axis]) boxes[at + axis] = value
      if (value > boxes[at + 3 + axis]) boxes[at + 3 + axis] = value
    }
  }
  return boxes
}

function meet(boxes: Float32Array, p: number, q: number): boolean {
  for (let axis = 0; axis < 3; axis++)
    if (boxes[6 * p + axis] > boxes[6 * q + 3 + axis] || boxes[6 * q + axis] > boxes[6 * p + 3 + axis])
      return false
  return true
}

function edgeMeets(boxes: Float32Array, q: number, positions: Float32Array, i: number, j: number): boolean {
  for (let axis = 0; axis < 3; axis++) {
    const a = positions[3 * i + axis]
    const b = positions[3 * j + axis]
    if (Math.max(a, b) < boxes[6 * q + axis] || Math.min(a, b) > boxes[6 * q + 3 + axis]) return false
  }
  return true
}
