import type { PlainBvh } from './plain-bvh'

const MAX_STACK = 256
/** Reciprocal of a direction component too small to divide by: keeps slabs finite. */
const TINY = 1e-12

/**
 * The plain ray kernel: closest hit and any hit over a {@link PlainBvh}. It is the reference against which faster kernels
 * are checked, so it favours being right: Möller & Trumbore 1997 in double precision, triangles two-sided, a small
 * tolerance on the sides so that a closed mesh has no pinholes.
 *
 * Box tests of the inner loops are written out: as calls, their numbers were boxed by the engine on the way.
 *
 * One kernel per thread: results are read from its fields until the next call.
 */
export class PlainKernel {
  /** Distance along the ray of the last closest hit, in units of the direction's length. */
  distance = 0
  /** Triangle (leaf order) of the last closest hit, or −1. */
  triangle = -1
  /** Barycentric weights of the second and third corner. */
  u = 0
  v = 0
  /** Rays asked for since the kernel was made. */
  rays = 0

  private readonly stack = new Uint32Array(MAX_STACK)
  private readonly stackNear = new Float64Array(MAX_STACK)

  constructor(readonly bvh: PlainBvh) {}

  /**
   * Closest hit with minDistance < t < maxDistance among triangles that share a bit with `mask`.
   * @returns true on a hit; then `distance`, `triangle`, `u`, `v` are set.
   */
  closest(
    ox: number,
    oy: number,
    oz: number,
    dx: number,
    dy: number,
    dz: number,
    minDistance: number,
    maxDistance: number,
    mask: number,
  ): boolean {
    this.rays++
    const { nodes, nodeInts, triangles, triangleMasks } = this.bvh
    const { stack, stackNear } = this
    const ix = 1 / (Math.abs(dx) > TINY ? dx : dx < 0 ? -TINY : TINY)
    const iy = 1 / (Math.abs(dy) > TINY ? dy : dy < 0 ? -TINY : TINY)
    const iz = 1 / (Math.abs(dz) > TINY ? dz : dz < 0 ? -TINY : TINY)
    let best = maxDistance
    let hit = -1
    let hitU = 0
    let hitV = 0
    let depth = 0
    let node = 0
    if (slabEntry(nodes, 0, ox, oy, oz, ix, iy, iz, minDistance, best) === Infinity) node = -1
    while (node >= 0) {
      const at = 8 * node
      const first = nodeInts[at + 6]
      const count = nodeInts[at + 7]
      if (count > 0) {
        for (let t = first; t < first + count; t++) {
          const i = 9 * t
          const ax = triangles[i + 3]
          const ay = triangles[i + 4]
          const az = triangles[i + 5]
          const bx = triangles[i + 6]
          const by = triangles[i + 7]
          const bz = triangles[i + 8]
          const px = dy * bz - dz * by
          const py = dz * bx - dx * bz
          const pz = dx * by - dy * bx
          const det = ax * px + ay * py + az * pz
          if (det === 0) continue
          const inverse = 1 / det
          const sx = ox - triangles[i]
          const sy = oy - triangles[i + 1]
          const sz = oz - triangles[i + 2]
          const u = (sx * px + sy * py + sz * pz) * inverse
          if (u < -SIDE_SLACK || u > 1 + SIDE_SLACK) continue
          const qx = sy * az - sz * ay
          const qy = sz * ax - sx * az
          const qz = sx * ay - sy * ax
          const v = (dx * qx + dy * qy + dz * qz) * inverse
          if (v < -SIDE_SLACK || u + v > 1 + SIDE_SLACK) continue
          const distance = (bx * qx + by * qy + bz * qz) * inverse
          if (distance > minDistance && distance < best && triangleMasks[t] & mask) {
            best = distance
            hit = t
            hitU = u
            hitV = v
          }
        }
        node = -1
      } else {
        const at0 = 8 * first
        const at1 = at0 + 8
        const leftX0 = (nodes[at0] - ox) * ix
        const leftX1 = (nodes[at0 + 3] - ox) * ix
        const leftY0 = (nodes[at0 + 1] - oy) * iy
        const leftY1 = (nodes[at0 + 4] - oy) * iy
        const leftZ0 = (nodes[at0 + 2] - oz) * iz
        const leftZ1 = (nodes[at0 + 5] - oz) * iz
        const left = Math.max(
          minDistance,
          Math.max(Math.min(leftX0, leftX1), Math.max(Math.min(leftY0, leftY1), Math.min(leftZ0, leftZ1))),
        )
        const leftFar = Math.min(
          Math.max(leftX0, leftX1),
          Math.min(Math.max(leftY0, leftY1), Math.max(leftZ0, leftZ1)),
        )
        const leftHit = left <= leftFar * FAR_SLACK && left < best
        const rightX0 = (nodes[at1] - ox) * ix
        const rightX1 = (nodes[at1 + 3] - ox) * ix
        const rightY0 = (nodes[at1 + 1] - oy) * iy
        const rightY1 = (nodes[at1 + 4] - oy) * iy
        const rightZ0 = (nodes[at1 + 2] - oz) * iz
        const rightZ1 = (nodes[at1 + 5] - oz) * iz
        const right = Math.max(
          minDistance,
          Math.max(
            Math.min(rightX0, rightX1),
            Math.max(Math.min(rightY0, rightY1), Math.min(rightZ0, rightZ1)),
          ),
        )
        const rightFar = Math.min(
          Math.max(rightX0, rightX1),
          Math.min(Math.max(rightY0, rightY1), Math.max(rightZ0, rightZ1)),
        )
        const rightHit = right <= rightFar * FAR_SLACK && right < best
        if (leftHit && rightHit) {
          const leftFirst = left <= right
          node = leftFirst ? first : first + 1
          stack[depth] = leftFirst ? first + 1 : first
          stackNear[depth++] = leftFirst ? right : left
        } else node = leftHit ? first : rightHit ? first + 1 : -1
      }
      while (node < 0 && depth > 0) {
        depth--
        if (stackNear[depth] < best) node = stack[depth]
      }
    }
    this.triangle = hit
    if (hit < 0) return false
    this.distance = best
    this.u = hitU
    this.v = hitV
    return true
  }

  /** Whether anything that shares a bit with `mask` lies at minDistance < t < maxDistance. */
  blocked(
    ox: number,
    oy: number,
    oz: number,
    dx: number,
    dy: number,
    dz: number,
    minDistance: number,
    maxDistance: number,
    mask: number,
  ): boolean {
    this.rays++
    const { nodes, nodeInts, triangles, triangleMasks } = this.bvh
    const { stack } = this
    const ix = 1 / (Math.abs(dx) > TINY ? dx : dx < 0 ? -TINY : TINY)
    const iy = 1 / (Math.abs(dy) > TINY ? dy : dy < 0 ? -TINY : TINY)
    const iz = 1 / (Math.abs(dz) > TINY ? dz : dz < 0 ? -TINY : TINY)
    let depth = 0
    let node = slabEntry(nodes, 0, ox, oy, oz, ix, iy, iz, minDistance, maxDistance) === Infinity ? -1 : 0
    while (node >= 0) {
      const first = nodeInts[8 * node + 6]
      const count = nodeInts[8 * node + 7]
      if (count === 0) {
        const at0 = 8 * first
        const at1 = at0 + 8
        const leftX0 = (nodes[at0] - ox) * ix
        const leftX1 = (nodes[at0 + 3] - ox) * ix
        const leftY0 = (nodes[at0 + 1] - oy) * iy
        const leftY1 = (nodes[at0 + 4] - oy) * iy
        const leftZ0 = (nodes[at0 + 2] - oz) * iz
        const leftZ1 = (nodes[at0 + 5] - oz) * iz
        const left = Math.max(
          minDistance,
          Math.max(Math.min(leftX0, leftX1), Math.max(Math.min(leftY0, leftY1), Math.min(leftZ0, leftZ1))),
        )
        const leftFar = Math.min(
          Math.max(leftX0, leftX1),
          Math.min(Math.max(leftY0, leftY1), Math.max(leftZ0, leftZ1)),
        )
        const leftHit = left <= leftFar * FAR_SLACK && left < maxDistance
        const rightX0 = (nodes[at1] - ox) * ix
        const rightX1 = (nodes[at1 + 3] - ox) * ix
        const rightY0 = (nodes[at1 + 1] - oy) * iy
        const rightY1 = (nodes[at1 + 4] - oy) * iy
        const rightZ0 = (nodes[at1 + 2] - oz) * iz
        const rightZ1 = (nodes[at1 + 5] - oz) * iz
        const right = Math.max(
          minDistance,
          Math.max(
            Math.min(rightX0, rightX1),
            Math.max(Math.min(rightY0, rightY1), Math.min(rightZ0, rightZ1)),
          ),
        )
        const rightFar = Math.min(
          Math.max(rightX0, rightX1),
          Math.min(Math.max(rightY0, rightY1), Math.max(rightZ0, rightZ1)),
        )
        const rightHit = right <= rightFar * FAR_SLACK && right < maxDistance
        if (leftHit && rightHit) {
          const leftFirst = left <= right
          node = leftFirst ? first : first + 1
          stack[depth++] = leftFirst ? first + 1 : first
        } else if (leftHit) node = first
        else if (rightHit) node = first + 1
        else node = depth > 0 ? stack[--depth] : -1
        continue
      }
      for (let t = first; t < first + count; t++) {
        const i = 9 * t
        const ax = triangles[i + 3]
        const ay = triangles[i + 4]
        const az = triangles[i + 5]
        const bx = triangles[i + 6]
        const by = triangles[i + 7]
        const bz = triangles[i + 8]
        const px = dy * bz - dz * by
        const py = dz * bx - dx * bz
        const pz = dx * by - dy * bx
        const det = ax * px + ay * py + az * pz
        if (det === 0) continue
        const inverse = 1 / det
        const sx = ox - triangles[i]
        const sy = oy - triangles[i + 1]
        const sz = oz - triangles[i + 2]
        const u = (sx * px + sy * py + sz * pz) * inverse
        if (u < -SIDE_SLACK || u > 1 + SIDE_SLACK) continue
        const qx = sy * az - sz * ay
        const qy = sz * ax - sx * az
        const qz = sx * ay - sy * ax
        const v = (dx * qx + dy * qy + dz * qz) * inverse
        if (v < -SIDE_SLACK || u + v > 1 + SIDE_SLACK) continue
        const distance = (bx * qx + by * qy + bz * qz) * inverse
        if (distance > minDistance && distance < maxDistance && triangleMasks[t] & mask) return true
      }
      node = depth > 0 ? stack[--depth] : -1
    }
    return false
  }
}

/** The far side of a slab is widened by the rounding of its arithmetic, so a flat box is not missed (Ize 2013). */
const FAR_SLACK = 1.0000003

/** How far outside its sides a triangle still counts, in barycentric units: closes the seam between neighbours. */
const SIDE_SLACK = 1e-9

/** Slab test (Kay & Kajiya 1986); the distance at which the ray enters the box, or Infinity where it misses. */
function slabEntry(
  nodes: Float32Array,
  at: number,
  ox: number,
  oy: number,
  oz: number,
  ix: number,
  iy: number,
  iz: number,
  minDistance: number,
  maxDistance: number,
): number {
  const x0 = (nodes[at] - ox) * ix
  const x1 = (nodes[at + 3] - ox) * ix
  const y0 = (nodes[at + 1] - oy) * iy
  const y1 = (nodes[at + 4] - oy) * iy
  const z0 = (nodes[at + 2] - oz) * iz
  const z1 = (nodes[at + 5] - oz) * iz
  let near = x0 < x1 ? x0 : x1
  let far = x0 < x1 ? x1 : x0
  const yNear = y0 < y1 ? y0 : y1
  const yFar = y0 < y1 ? y1 : y0
  if (yNear > near) near = yNear
  if (yFar < far) far = yFar
  const zNear = z0 < z1 ? z0 : z1
  const zFar = z0 < z1 ? z1 : z0
  if (zNear > near) near = zNear
  if (zFar < far) far = zFar
  if (minDistance > near) near = minDistance
  return near <= far * FAR_SLACK && near < maxDistance ? near : Infinity
}
