import type { Bounds } from '../geometry/bounds'
import { sharedFloat32, sharedUint8 } from './shared-arrays'

/**
 * A binary bounding volume hierarchy over triangles, binned surface area heuristic (Wald 2007).
 *
 * Node layout: 8 floats at 8·n — min x y z, max x y z, then (read as Uint32) `first` and `count`.
 * count > 0: a leaf over triangles first … first + count − 1. count = 0: children are `first` and `first + 1`.
 */
export interface PlainBvh {
  readonly nodes: Float32Array
  /** The same memory as `nodes`, read as integers. */
  readonly nodeInts: Uint32Array
  readonly nodeCount: number
  /** Float32Array, 9·T in leaf order: corner 0, edge 0→1, edge 0→2. */
  readonly triangles: Float32Array
  /** Uint8Array, T in leaf order: mask bits a ray must share to hit. */
  readonly triangleMasks: Uint8Array
  /** Uint32Array, T: the caller's number of the triangle at each place of the leaf order. */
  readonly triangleOrder: Uint32Array
  readonly bounds: Bounds
}

/** Bins by how many triangles a node holds: small nodes do not repay many. */
const MOST_BINS = 16
const binsFor = (count: number): number => (count > 512 ? MOST_BINS : count > 48 ? 8 : 6)
const MAX_LEAF = 4

/**
 * @param vertices Float32Array, 9·T: three corners per triangle.
 * @param masks Uint8Array, T.
 */
export function buildPlainBvh(vertices: Float32Array, masks: Uint8Array): PlainBvh {
  const total = masks.length
  const boxes = new Float32Array(6 * total)
  const centres = new Float32Array(3 * total)
  for (let t = 0; t < total; t++) {
    for (let axis = 0; axis < 3; axis++) {
      const a = vertices[9 * t + axis]
      const b = vertices[9 * t + 3 + axis]
      const c = vertices[9 * t + 6 + axis]
      const low = Math.min(a, b, c)
      const high = Math.max(a, b, c)
      boxes[6 * t + axis] = low
      boxes[6 * t + 3 + axis] = high
      centres[3 * t + axis] = (low + high) * 0.5
    }
  }
  const order = new Uint32Array(total)
  for (let t = 0; t < total; t++) order[t] = t
  const store = new Float32Array(8 * Math.max(1, 2 * total))
  const storeInts = new Uint32Array(store.buffer)

  // Scratch of one split: per bin, its box and count; and the areas swept from the right.
  const binBoxes = new Float32Array(6 * MOST_BINS)
  const binCounts = new Uint32Array(MOST_BINS)
  const rightCosts = new Float64Array(MOST_BINS)
  const sweep = new Float64Array(6)
  const nodeBox = new Float64Array(6)
  const centreBox = new Float64Array(6)

  const resetBox = (box: Float32Array | Float64Array, at: number) => {
    for (let axis = 0; axis < 3; axis++) {
      box[at + axis] = Infinity
      box[at + 3 + axis] = -Infinity
    }
  }
  const halfArea = (box: Float64Array): number => {
    const x = box[3] - box[0]
    const y = box[4] - box[1]
    const z = box[5] - box[2]
    return x >= 0 ? x * y + y * z + z * x : 0
  }

  let nodeCount = 1
  const stack: number[] = [0, 0, total]
  while (stack.length > 0) {
    const end = stack.pop() as number
    const start = stack.pop() as number
    const node = stack.pop() as number

    // 1. Bounds of the triangles and of their centres.
    resetBox(nodeBox, 0)
    resetBox(centreBox, 0)
    for (let i = start; i < end; i++) {
      const t = order[i]
      for (let axis = 0; axis < 3; axis++) {
        const low = boxes[6 * t + axis]
        const high = boxes[6 * t + 3 + axis]
        const centre = centres[3 * t + axis]
        if (low < nodeBox[axis]) nodeBox[axis] = low
        if (high > nodeBox[3 + axis]) nodeBox[3 + axis] = high
        if (centre < centreBox[axis]) centreBox[axis] = centre
        if (centre > centreBox[3 + axis]) centreBox[3 + axis] = centre
      }
    }
    for (let k = 0; k < 6; k++) store[8 * node + k] = nodeBox[k]
    const count = end - start
    if (count <= MAX_LEAF) {
      storeInts[8 * node + 6] = start
      storeInts[8 * node + 7] = count
      continue
    }

    // 2. The best bin border on each axis.
    const bins = binsFor(count)
    let bestCost = Infinity
    let bestAxis = -1
    let bestBin = 0
    for (let axis = 0; axis < 3; axis++) {
      const low = centreBox[axis]
      const extent = centreBox[3 + axis] - low
      if (!(extent > 0)) continue
      const toBin = (bins * 0.9999999) / extent
      binCounts.fill(0)
      for (let b = 0; b < bins; b++) resetBox(binBoxes, 6 * b)
      for (let i = start; i < end; i++) {
        const t = order[i]
        const bin = Math.min(bins - 1, ((centres[3 * t + axis] - low) * toBin) | 0)
        binCounts[bin]++
        const at = 6 * bin
        for (let k = 0; k < 3; k++) {
          if (boxes[6 * t + k] < binBoxes[at + k]) binBoxes[at + k] = boxes[6 * t + k]
          if (boxes[6 * t + 3 + k] > binBoxes[at + 3 + k]) binBoxes[at + 3 + k] = boxes[6 * t + 3 + k]
        }
      }
      resetBox(sweep, 0)
      let swept = 0
      for (let b = bins - 1; b > 0; b--) {
        swept += binCounts[b]
        for (let k = 0; k < 3; k++) {
          sweep[k] = Math.min(sweep[k], binBoxes[6 * b + k])
          sweep[3 + k] = Math.max(sweep[3 + k], binBoxes[6 * b + 3 + k])
        }
        rightCosts[b] = swept * halfArea(sweep)
      }
      resetBox(sweep, 0)
      swept = 0
      for (let b = 0; b < bins - 1; b++) {
        swept += binCounts[b]
        for (let k = 0; k < 3; k++) {
          sweep[k] = Math.min(sweep[k], binBoxes[6 * b + k])
          sweep[3 + k] = Math.max(sweep[3 + k], binBoxes[6 * b + 3 + k])
        }
        const cost = swept * halfArea(sweep) + rightCosts[b + 1]
        if (swept > 0 && swept < count && cost < bestCost) {
          bestCost = cost
          bestAxis = axis
          bestBin = b
        }
      }
    }

    // 3. Partition in place. Centres that coincide are halved by number, so a leaf never grows past its limit.
    let middle = start
    if (bestAxis < 0) middle = (start + end) >>> 1
    else {
      const low = centreBox[bestAxis]
      const toBin = (bins * 0.9999999) / (centreBox[3 + bestAxis] - low)
      let right = end - 1
      while (middle <= right) {
        const t = order[middle]
        const bin = Math.min(bins - 1, ((centres[3 * t + bestAxis] - low) * toBin) | 0)
        if (bin <= bestBin) middle++
        else {
          order[middle] = order[right]
          order[right--] = t
        }
      }
    }
    const left = nodeCount
    nodeCount += 2
    storeInts[8 * node + 6] = left
    storeInts[8 * node + 7] = 0
    stack.push(left, start, middle, left + 1, middle, end)
  }

  // 4. Into the final, shareable arrays.
  const nodes = sharedFloat32(8 * nodeCount)
  const nodeInts = new Uint32Array(nodes.buffer)
  nodeInts.set(storeInts.subarray(0, 8 * nodeCount))
  const triangles = sharedFloat32(9 * total)
  const triangleMasks = sharedUint8(total)
  for (let i = 0; i < total; i++) {
    const t = order[i]
    for (let axis = 0; axis < 3; axis++) {
      const origin = vertices[9 * t + axis]
      triangles[9 * i + axis] = origin
      triangles[9 * i + 3 + axis] = vertices[9 * t + 3 + axis] - origin
      triangles[9 * i + 6 + axis] = vertices[9 * t + 6 + axis] - origin
    }
    triangleMasks[i] = masks[t]
  }
  return {
    nodes,
    nodeInts,
    nodeCount,
    triangles,
    triangleMasks,
    triangleOrder: order,
    bounds: { min: [nodes[0], nodes[1], nodes[2]], max: [nodes[3], nodes[4], nodes[5]] },
  }
}

/** Checks that every triangle is in exactly one leaf and inside every box above it. For tests. */
export function validatePlainBvh(bvh: PlainBvh): string[] {
  const problems: string[] = []
  const seen = new Uint8Array(bvh.triangleMasks.length)
  const visit = (node: number, depth: number): void => {
    if (depth > 4096) throw new Error('the hierarchy does not end')
    const first = bvh.nodeInts[8 * node + 6]
    const count = bvh.nodeInts[8 * node + 7]
    if (count === 0) {
      for (const child of [first, first + 1]) {
        for (let axis = 0; axis < 3; axis++) {
          if (bvh.nodes[8 * child + axis] < bvh.nodes[8 * node + axis])
            problems.push(`node ${child} leaves its parent`)
          if (bvh.nodes[8 * child + 3 + axis] > bvh.nodes[8 * node + 3 + axis])
            problems.push(`node ${child} leaves its parent`)
        }
        visit(child, depth + 1)
      }
      return
    }
    for (let t = first; t < first + count; t++) {
      if (seen[t]++) problems.push(`triangle ${t} is in two leaves`)
      for (let axis = 0; axis < 3; axis++) {
        const v0 = bvh.triangles[9 * t + axis]
        const slack = 1e-5 * (1 + Math.abs(v0))
        for (const v of [v0, v0 + bvh.triangles[9 * t + 3 + axis], v0 + bvh.triangles[9 * t + 6 + axis]]) {
          if (v < bvh.nodes[8 * node + axis] - slack || v > bvh.nodes[8 * node + 3 + axis] + slack) {
            problems.push(`triangle ${t} leaves node ${node}`)
          }
        }
      }
    }
  }
  visit(0, 0)
  seen.forEach((n, t) => {
    if (n === 0) problems.push(`triangle ${t} is in no leaf`)
  })
  return problems
}
