import { cameraBasis, projectPoint, type Camera, type Frame } from '../scene/camera'
import type { SceneGeometry } from '../scene/scene-geometry'
import { EMPTY_SLOT, type RayTree } from '../trace/ray-tree'
import { sharedFloat32, sharedUint32, sharedUint8 } from '../trace/shared-arrays'
import { hash32 } from '../math/sampling'

/** What a triangle has no texels for: what it shows is traced. */
export const NOT_KEPT = 0xffffffff
/** Most texels of a triangle and side; a larger one, as a sea that runs up to the lens, is traced. */
const MOST_TEXELS = 1 << 21
/** Most texels in all; where there would be more they lie farther apart. */
const MOST_ALL = 1 << 25
/** Poses by which it is told how near a triangle comes. */
const MOST_POSES = 24

/**
 * Where texels lie on the triangles of a scene, so dense that they are no farther apart than a spacing where a turntable shows
 * them nearest. A triangle is cut at the altitude of its longest edge; column k of N, from the end of that edge to the altitude,
 * holds ceil(M·k/N) + 1 texels, N and M being slant and altitude over the spacing. Triangles smaller than the spacing have the
 * texels of their corners, which they share with their neighbours.
 * All arrays are shared between threads.
 */
export interface SurfaceLayout {
  /** How many texels there are. */
  readonly count: number
  /** Per slot, both sides of it one after the other: its first texel, or {@link NOT_KEPT}. */
  readonly bases: Uint32Array
  /** Per slot: texels along the altitude, along the slants left and right of it; 0: those of its corners. */
  readonly rows: Uint32Array
  readonly lefts: Uint32Array
  readonly rights: Uint32Array
  /** Per slot: the corner at which its longest edge begins. */
  readonly firsts: Uint8Array
  /** Per slot: where the altitude meets the longest edge, 0…1. */
  readonly feet: Float32Array
  /** Per slot: unit normal by its winding. */
  readonly normals: Float32Array
  /** Per slot three: number of its corners among those that are shared. */
  readonly corners: Uint32Array
  /** Per shared corner: a slot that it is one of, times four, and which. */
  readonly cornerSlots: Uint32Array
}

/** Poses that lie evenly among all of a turntable. */
const some = (cameras: readonly Camera[]): Camera[] =>
  cameras.length <= MOST_POSES
    ? [...cameras]
    : Array.from({ length: MOST_POSES }, (_, i) => cameras[Math.floor((i * cameras.length) / MOST_POSES)])

const floatBits = new Float32Array(1)
const intBits = new Int32Array(floatBits.buffer)
function bitsOf(value: number): number {
  // Of two zeros one.
  floatBits[0] = value + 0
  return intBits[0]
}

/** Corners that lie at one place and point one way, found as such. */
class SharedCorners {
  private readonly table: Int32Array
  private readonly places: Float32Array
  readonly slots: number[] = []

  constructor(most: number) {
    this.table = new Int32Array(1 << Math.ceil(Math.log2(Math.max(2, 2 * most)))).fill(-1)
    this.places = new Float32Array(6 * most)
  }

  /** @returns the number of a corner. */
  find(x: number, y: number, z: number, nx: number, ny: number, nz: number, slotAndCorner: number): number {
    const { table, places } = this
    // Rounded, so that what was worked out in two triangles is one direction.
    const q = [Math.round(nx * 1024), Math.round(ny * 1024), Math.round(nz * 1024)]
    let h = hash32(bitsOf(x) ^ hash32(bitsOf(y) ^ hash32(bitsOf(z))))
    h = hash32(h ^ hash32(q[0] ^ hash32(q[1] ^ hash32(q[2])))) & (table.length - 1)
    for (;;) {
      const found = table[h]
      if (found < 0) {
        const own = this.slots.length
        table[h] = own
        places.set([x, y, z, ...q], 6 * own)
        this.slots.push(slotAndCorner)
        return own
      }
      const at = 6 * found
      if (
        places[at] === x &&
        places[at + 1] === y &&
        places[at + 2] === z &&
        places[at + 3] === q[0] &&
        places[at + 4] === q[1] &&
        places[at + 5] === q[2]
      )
        return found
      h = (h + 1) & (table.length - 1)
    }
  }
}

/** How large a triangle comes to be seen, in pixels, and from which sides. */
class Seen {
  /** Altitude, slants and longest edge where they are longest. */
  altitude = 0
  left = 0
  right = 0
  base = 0
  isFront = false
  isBack = false
  /** Reaches to the lens in some pose: its size there cannot be told. */
  isNear = false

  private readonly bases
  private readonly out = new Float64Array(3)
  private readonly at = new Float64Array(8)

  constructor(
    cameras: readonly Camera[],
    private readonly frame: Frame,
  ) {
    this.bases = cameras.map((camera) => cameraBasis(camera, frame))
  }

  /** @param p corners at the longest edge's beginning and end, the third, and the foot of its altitude: x y z each. @param n normal. */
  look(p: Float64Array, n: Float64Array): void {
    this.altitude = this.left = this.right = this.base = 0
    this.isFront = this.isBack = this.isNear = false
    const { out, at, frame } = this
    const { width, height } = frame
    for (const basis of this.bases) {
      let [behind, left, right, above, below] = [0, 0, 0, 0, 0]
      for (let k = 0; k < 4; k++) {
        projectPoint(basis, frame, p[3 * k], p[3 * k + 1], p[3 * k + 2], out)
        at[2 * k] = out[0]
        at[2 * k + 1] = out[1]
        if (k === 3) continue
        if (!basis.parallel && out[2] <= 0) {
          behind++
          continue
        }
        if (out[0] < 0) left++
        else if (out[0] > width) right++
        if (out[1] < 0) above++
        else if (out[1] > height) below++
      }
      if (behind === 3 || left === 3 || right === 3 || above === 3 || below === 3) continue
      const [ex, ey, ez] = basis.parallel
        ? basis.back
        : [basis.eye[0] - p[0], basis.eye[1] - p[1], basis.eye[2] - p[2]]
      if (ex * n[0] + ey * n[1] + ez * n[2] >= 0) this.isFront = true
      else this.isBack = true
      if (behind > 0) {
        this.isNear = true
        continue
      }
      const apart = (i: number, j: number): number =>
        Math.hypot(at[2 * i] - at[2 * j], at[2 * i + 1] - at[2 * j + 1])
      this.base = Math.max(this.base, apart(0, 1))
      this.left = Math.max(this.left, apart(0, 2))
      this.right = Math.max(this.right, apart(1, 2))
      this.altitude = Math.max(this.altitude, apart(3, 2))
    }
  }
}

/** Reads a triangle's corners, three numbers each. */
function cornersOf(tree: RayTree, slot: number, out: Float64Array): void {
  const c = tree.cornerBase(slot)
  for (let k = 0; k < 3; k++)
    for (let axis = 0; axis < 3; axis++) out[3 * k + axis] = tree.floats[c + 12 * k + 4 * axis]
}

/** Texels of one side of a triangle. */
const texelsOf = (rows: number, left: number, right: number): number => (rows + 1) * (left + right + 1)

/**
 * Lays texels on all triangles that some pose of a turntable may show.
 * @param cameras of its poses. @param frame of its pictures; pixels. @param spacingPx between texels, where they are seen nearest.
 */
export function layTexels(
  { tree }: SceneGeometry,
  cameras: readonly Camera[],
  frame: Frame,
  spacingPx: number,
): SurfaceLayout {
  const { slotCount, normals: triangleNormals } = tree
  const feet = sharedFloat32(slotCount)
  const firsts = sharedUint8(slotCount)
  const normals = sharedFloat32(3 * slotCount)
  const corners = sharedUint32(3 * slotCount)
  const shared = new SharedCorners(3 * slotCount)
  const seen = new Seen(some(cameras), frame)
  /** Altitude, left, right, longest edge in pixels; below 0 where a side is not seen. */
  const sizes = new Float32Array(4 * slotCount)
  const sides = new Uint8Array(slotCount)
  const own = new Float64Array(9)
  const p = new Float64Array(12)
  const n = new Float64Array(3)
  for (let slot = 0; slot < slotCount; slot++) {
    const triangle = tree.ids[slot]
    if (triangle === EMPTY_SLOT) continue
    cornersOf(tree, slot, own)
    // 1. Its normal, and its corners among those that are shared.
    const [ax, ay, az] = [own[3] - own[0], own[4] - own[1], own[5] - own[2]]
    const [bx, by, bz] = [own[6] - own[0], own[7] - own[1], own[8] - own[2]]
    n.set([ay * bz - az * by, az * bx - ax * bz, ax * by - ay * bx])
    const area = Math.hypot(n[0], n[1], n[2]) || 1
    for (let axis = 0; axis < 3; axis++) normals[3 * slot + axis] = n[axis] /= area
    for (let k = 0; k < 3; k++) {
      const at = 9 * triangle + 3 * k
      let [nx, ny, nz] = [triangleNormals[at], triangleNormals[at + 1], triangleNormals[at + 2]]
      if (nx * n[0] + ny * n[1] + nz * n[2] < 0) [nx, ny, nz] = [-nx, -ny, -nz]
      if (Math.hypot(nx, ny, nz) < 0.5) [nx, ny, nz] = n
      corners[3 * slot + k] = shared.find(
        own[3 * k],
        own[3 * k + 1],
        own[3 * k + 2],
        nx,
        ny,
        nz,
        4 * slot + k,
      )
    }
    // 2. Its longest edge, and where its altitude stands on that.
    const length = (k: number): number => {
      const m = 3 * ((k + 1) % 3)
      return Math.hypot(own[m] - own[3 * k], own[m + 1] - own[3 * k + 1], own[m + 2] - own[3 * k + 2])
    }
    const lengths = [length(0), length(1), length(2)]
    const first = lengths[0] >= lengths[1] && lengths[0] >= lengths[2] ? 0 : lengths[1] >= lengths[2] ? 1 : 2
    for (let k = 0; k < 3; k++) p.set(own.subarray(3 * ((first + k) % 3), 3 * ((first + k) % 3) + 3), 3 * k)
    const square = lengths[first] ** 2 || 1e-30
    let foot = 0
    for (let axis = 0; axis < 3; axis++) foot += ((p[6 + axis] - p[axis]) * (p[3 + axis] - p[axis])) / square
    foot = Math.min(1, Math.max(0, foot))
    for (let axis = 0; axis < 3; axis++) p[9 + axis] = p[axis] + foot * (p[3 + axis] - p[axis])
    feet[slot] = foot
    firsts[slot] = first
    // 3. How large it comes to be seen.
    seen.look(p, n)
    sides[slot] = seen.isNear ? 0 : (seen.isFront ? 1 : 0) | (seen.isBack ? 2 : 0)
    sizes.set([seen.altitude, seen.left, seen.right, seen.base], 4 * slot)
  }
  const rows = sharedUint32(slotCount)
  const lefts = sharedUint32(slotCount)
  const rights = sharedUint32(slotCount)
  const bases = sharedUint32(2 * slotCount)
  const cornerTexels = 2 * shared.slots.length
  let count = 0
  for (let spacing = spacingPx; ; spacing *= Math.SQRT2) {
    count = cornerTexels
    for (let slot = 0; slot < slotCount; slot++) {
      bases[2 * slot] = bases[2 * slot + 1] = NOT_KEPT
      rows[slot] = lefts[slot] = rights[slot] = 0
      if (sides[slot] === 0) continue
      const [altitude, left, right, base] = sizes.subarray(4 * slot, 4 * slot + 4)
      const isSmall = Math.max(left, right, base) <= spacing
      if (!isSmall) {
        const along = (px: number): number => Math.max(1, Math.ceil(px / spacing))
        if (texelsOf(along(altitude), along(left), along(right)) > MOST_TEXELS) continue
        rows[slot] = along(altitude)
        lefts[slot] = along(left)
        rights[slot] = along(right)
      }
      for (let side = 0; side < 2; side++) {
        if ((sides[slot] & (1 << side)) === 0) continue
        // Of a small one it is only told that it is kept.
        bases[2 * slot + side] = isSmall ? 0 : count
        if (!isSmall) count += texelsOf(rows[slot], lefts[slot], rights[slot])
      }
    }
    if (count <= Math.max(MOST_ALL, 2 * cornerTexels)) break
  }
  const cornerSlots = sharedUint32(shared.slots.length)
  cornerSlots.set(shared.slots)
  return { count, bases, rows, lefts, rights, firsts, feet, normals, corners, cornerSlots }
}
