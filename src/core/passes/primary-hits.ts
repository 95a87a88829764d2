import { concentricDisc, hash32, hashPair, pixelPattern } from '../math/sampling'
import type { CameraBasis, Frame, LensFocus } from '../scene/camera'
import type { SceneGeometry } from '../scene/scene-geometry'
import type { RayTree } from '../trace/ray-tree'
import { BATCH_RAYS, HIT_NUMBERS, RAY_NUMBERS, TraceKernel } from '../trace/trace-kernel'
import { type RayFilter } from '../trace/ray-filter'
import type { Tile } from './tile'

/** Direction and origin of one camera ray; reused. */
export class CameraRay {
  ox = 0
  oy = 0
  oz = 0
  dx = 0
  dy = 0
  dz = 0

  constructor(
    private readonly camera: CameraBasis,
    private readonly frame: Frame,
  ) {}

  /** Aims through a point of the picture, in pixels from the top left. The direction has unit length. */
  aim(pixelX: number, pixelY: number): void {
    const { camera, frame } = this
    const sx = ((2 * pixelX) / frame.width - 1) * camera.halfWidth + camera.centreX
    const sy = (1 - (2 * pixelY) / frame.height) * camera.halfHeight + camera.centreY
    const { right, up, back, eye } = camera
    if (camera.parallel) {
      this.ox = eye[0] + sx * right[0] + sy * up[0]
      this.oy = eye[1] + sx * right[1] + sy * up[1]
      this.oz = eye[2] + sx * right[2] + sy * up[2]
      this.dx = -back[0]
      this.dy = -back[1]
      this.dz = -back[2]
      return
    }
    const x = sx * right[0] + sy * up[0] - back[0]
    const y = sx * right[1] + sy * up[1] - back[1]
    const z = sx * right[2] + sy * up[2] - back[2]
    const inverse = 1 / Math.sqrt(x * x + y * y + z * z)
    this.ox = eye[0]
    this.oy = eye[1]
    this.oz = eye[2]
    this.dx = x * inverse
    this.dy = y * inverse
    this.dz = z * inverse
    if (camera.focus) this.throughLens(camera.focus, x, y, z, pixelX, pixelY)
  }

  /**
   * Begins the ray anywhere on a thin lens (Cook, Porter & Carpenter 1984) and bends it to where all rays of its place
   * meet. The place on the lens follows from the place in the picture, so that the same ray can be aimed twice.
   * @param x, y, z direction whose length along the view axis is 1.
   */
  private throughLens(
    { distance, blur }: LensFocus,
    x: number,
    y: number,
    z: number,
    pixelX: number,
    pixelY: number,
  ): void {
    const { right, up, halfHeight } = this.camera
    const key = hashPair(Math.round(pixelX * 1024), Math.round(pixelY * 1024))
    concentricDisc(key / 2 ** 32, hash32(key) / 2 ** 32, lensPoint)
    // A far point spreads over 2·radius where it is sharp, and the picture is 2·halfHeight·distance high there.
    const radius = blur * halfHeight * distance
    const a = lensPoint[0] * radius
    const b = lensPoint[1] * radius
    const lx = a * right[0] + b * up[0]
    const ly = a * right[1] + b * up[1]
    const lz = a * right[2] + b * up[2]
    const dx = x * distance - lx
    const dy = y * distance - ly
    const dz = z * distance - lz
    const inverse = 1 / Math.sqrt(dx * dx + dy * dy + dz * dz)
    this.ox += lx
    this.oy += ly
    this.oz += lz
    this.dx = dx * inverse
    this.dy = dy * inverse
    this.dz = dz * inverse
  }
}

const lensPoint = new Float64Array(2)

/** What the samples of each pixel of a tile see. Samples of pixel p: starts[p] … starts[p + 1] − 1. */
export interface PrimaryHits {
  /** The most samples a pixel has. */
  readonly samples: number
  /** Uint32Array, pixels + 1. */
  readonly starts: Uint32Array
  /** Float32Array, 2·samples: positions inside the pixel, in the order in which a pixel takes them. */
  readonly pattern: Float32Array
  /** Int32Array: slot of the tree, −1 for nothing. */
  readonly slots: Int32Array
  /** Float64Array: distance along the ray. */
  readonly distances: Float64Array
  /** Float64Array, two per sample: weights of corners 1 and 2. */
  readonly weights: Float64Array
}

/** Farthest a ray looks. */
export const FAR = 1e30

/** Samples that every pixel takes before it is known whether more would tell anything. */
const SCOUTS = 4
/** Two samples see the same smooth surface when their normals are nearer than this … */
const SAME_NORMAL = Math.cos((14 * Math.PI) / 180)
/** … and the line between them lies this near to it, as a sine. */
const SAME_PLANE = 0.45

export interface PrimarySetting {
  readonly scene: SceneGeometry
  readonly camera: CameraBasis
  readonly frame: Frame
  /** The most samples a pixel takes. */
  readonly samples: number
  /**
   * Take all samples only where more than one smooth, untextured surface is seen in a pixel or its neighbours. Which
   * pixels those are does not depend on how the picture is cut into tiles.
   */
  readonly adaptive: boolean
  readonly filter: RayFilter
}

/** Traces rays of a tile in batches and writes what they meet, worked out again in double precision. */
class PrimaryTracer {
  private readonly ray: CameraRay
  private readonly kernel: TraceKernel
  private count = 0
  private readonly places = new Uint32Array(BATCH_RAYS)

  constructor(
    private readonly setting: PrimarySetting,
    private readonly slots: Int32Array,
    /** Null where slots alone are wanted. */
    private readonly exact: { readonly distances: Float64Array; readonly weights: Float64Array } | null,
  ) {
    this.kernel = TraceKernel.over(setting.scene.tree)
    this.ray = new CameraRay(setting.camera, setting.frame)
  }

  aim(pixelX: number, pixelY: number, place: number): void {
    if (this.count === BATCH_RAYS) this.flush()
    const { ray } = this
    ray.aim(pixelX, pixelY)
    this.kernel.put(this.count, ray.ox, ray.oy, ray.oz, ray.dx, ray.dy, ray.dz, 0, FAR)
    this.places[this.count++] = place
  }

  flush(): void {
    const { kernel, slots, exact } = this
    const { filter, scene } = this.setting
    kernel.traceClosest(this.count, filter.mask, filter.parts)
    const { rays, hits, hitSlots } = kernel
    for (let r = 0; r < this.count; r++) {
      const place = this.places[r]
      const slot = hitSlots[HIT_NUMBERS * r]
      slots[place] = slot
      if (slot < 0 || !exact) continue
      const { distances, weights } = exact
      distances[place] = hits[HIT_NUMBERS * r + 1]
      weights[2 * place] = hits[HIT_NUMBERS * r + 2]
      weights[2 * place + 1] = hits[HIT_NUMBERS * r + 3]
      refine(scene.tree, slot, rays, RAY_NUMBERS * r, place, distances, weights)
    }
    this.count = 0
  }
}

/**
 * A hit's distance and weights in double precision (Möller & Trumbore 1997); left as they are where the triangle is seen
 * so flat that this tells nothing.
 */
function refine(
  tree: RayTree,
  slot: number,
  rays: Float32Array,
  at: number,
  place: number,
  distances: Float64Array,
  weights: Float64Array,
): void {
  const f = tree.floats
  const c = tree.cornerBase(slot)
  const x = f[c]
  const y = f[c + 4]
  const z = f[c + 8]
  const ax = f[c + 12] - x
  const ay = f[c + 16] - y
  const az = f[c + 20] - z
  const bx = f[c + 24] - x
  const by = f[c + 28] - y
  const bz = f[c + 32] - z
  const dx = rays[at + 4]
  const dy = rays[at + 5]
  const dz = rays[at + 6]
  const px = dy * bz - dz * by
  const py = dz * bx - dx * bz
  const pz = dx * by - dy * bx
  const det = ax * px + ay * py + az * pz
  if (det === 0) return
  const sx = rays[at] - x
  const sy = rays[at + 1] - y
  const sz = rays[at + 2] - z
  const u = (sx * px + sy * py + sz * pz) / det
  const qx = sy * az - sz * ay
  const qy = sz * ax - sx * az
  const qz = sx * ay - sy * ax
  const v = (dx * qx + dy * qy + dz * qz) / det
  const t = (bx * qx + by * qy + bz * qz) / det
  // On the border rounding may have let it in: keep it on the triangle.
  if (!(u > -0.01 && v > -0.01 && u + v < 1.01 && t > 0)) return
  const u1 = Math.max(0, u)
  const v1 = Math.max(0, v)
  const over = Math.max(1, u1 + v1)
  distances[place] = t
  weights[2 * place] = u1 / over
  weights[2 * place + 1] = v1 / over
}

/** Whether every pixel takes all its samples. */
export const takesAll = ({
  adaptive,
  samples,
  camera,
}: Pick<PrimarySetting, 'adaptive' | 'samples' | 'camera'>): boolean =>
  !adaptive || samples <= SCOUTS || camera.focus !== undefined

/** Traces the camera rays of a tile. */
export function tracePrimaryHits(setting: PrimarySetting, tile: Tile): PrimaryHits {
  const { samples, scene } = setting
  const pattern = pixelPattern(samples)
  const pixels = tile.width * tile.height
  const starts = new Uint32Array(pixels + 1)
  const aimAll = (tracer: PrimaryTracer, p: number, from: number, to: number, place: number) => {
    const x = tile.x + (p % tile.width)
    const y = tile.y + Math.floor(p / tile.width)
    for (let s = from; s < to; s++) tracer.aim(x + pattern[2 * s], y + pattern[2 * s + 1], place + s - from)
  }

  // 1. All samples everywhere, where there are few or where it is asked.
  if (takesAll(setting)) {
    const slots = new Int32Array(pixels * samples)
    const distances = new Float64Array(slots.length)
    const weights = new Float64Array(2 * slots.length)
    const tracer = new PrimaryTracer(setting, slots, { distances, weights })
    for (let p = 0; p < pixels; p++) {
      aimAll(tracer, p, 0, samples, p * samples)
      starts[p + 1] = (p + 1) * samples
    }
    tracer.flush()
    return { samples, starts, pattern, slots, distances, weights }
  }

  // 2. A few samples, with a border of one pixel so that tiles agree about their seams.
  const wideWidth = tile.width + 2
  const wideHeight = tile.height + 2
  const wide = wideWidth * wideHeight
  const slots0 = new Int32Array(wide * SCOUTS)
  const distances0 = new Float64Array(slots0.length)
  const weights0 = new Float64Array(2 * slots0.length)
  const scouts = new PrimaryTracer(setting, slots0, { distances: distances0, weights: weights0 })
  for (let w = 0; w < wide; w++) {
    const x = tile.x - 1 + (w % wideWidth)
    const y = tile.y - 1 + Math.floor(w / wideWidth)
    for (let s = 0; s < SCOUTS; s++) scouts.aim(x + pattern[2 * s], y + pattern[2 * s + 1], w * SCOUTS + s)
  }
  scouts.flush()
  const busy = busyPixels(scene, slots0, weights0, wideWidth, wideHeight)

  // 3. The rest where it tells something.
  for (let p = 0; p < pixels; p++) {
    const w = (Math.floor(p / tile.width) + 1) * wideWidth + (p % tile.width) + 1
    starts[p + 1] = starts[p] + (busy[w] ? samples : SCOUTS)
  }
  const total = starts[pixels]
  const slots = new Int32Array(total)
  const distances = new Float64Array(total)
  const weights = new Float64Array(2 * total)
  const tracer = new PrimaryTracer(setting, slots, { distances, weights })
  for (let p = 0; p < pixels; p++) {
    const w = (Math.floor(p / tile.width) + 1) * wideWidth + (p % tile.width) + 1
    for (let s = 0; s < SCOUTS; s++) {
      const from = w * SCOUTS + s
      const to = starts[p] + s
      slots[to] = slots0[from]
      distances[to] = distances0[from]
      weights[2 * to] = weights0[2 * from]
      weights[2 * to + 1] = weights0[2 * from + 1]
    }
    if (starts[p + 1] - starts[p] > SCOUTS) aimAll(tracer, p, SCOUTS, samples, starts[p] + SCOUTS)
  }
  tracer.flush()
  return { samples, starts, pattern, slots, distances, weights }
}

/**
 * Slots that given pixels see, `samples` each.
 * @param xs, ys pixels of the picture.
 */
export function traceSlots(
  setting: Omit<PrimarySetting, 'adaptive'>,
  xs: ArrayLike<number>,
  ys: ArrayLike<number>,
): Int32Array {
  const { samples } = setting
  const pattern = pixelPattern(samples)
  const slots = new Int32Array(xs.length * samples)
  const tracer = new PrimaryTracer({ ...setting, adaptive: false }, slots, null)
  for (let p = 0; p < xs.length; p++)
    for (let s = 0; s < samples; s++)
      tracer.aim(xs[p] + pattern[2 * s], ys[p] + pattern[2 * s + 1], p * samples + s)
  tracer.flush()
  return slots
}

/** Numbers kept of a scouting sample: place and normal. */
const LOOK_NUMBERS = 6

/** Marks pixels that see, or whose neighbours see, more than one smooth surface, or a texture. Uint8Array, one a pixel. */
function busyPixels(
  scene: SceneGeometry,
  slots: Int32Array,
  weights: Float64Array,
  width: number,
  height: number,
): Uint8Array {
  const { tree, triangleMaterials, materials } = scene
  const { normals: triangleNormals } = tree
  const looks = new Float64Array(LOOK_NUMBERS * slots.length)
  /** Surface of each sample: part and material; −1 nothing, −2 a texture. */
  const surfaces = new Float64Array(slots.length)
  for (let i = 0; i < slots.length; i++) {
    const slot = slots[i]
    if (slot < 0) {
      surfaces[i] = -1
      continue
    }
    const triangle = tree.ids[slot]
    const material = triangleMaterials[triangle]
    surfaces[i] =
      (materials[material].texture ?? null) !== null
        ? -2
        : (tree.tags[slot] & 0xffffff) * materials.length + material
    const u = weights[2 * i]
    const v = weights[2 * i + 1]
    const w = 1 - u - v
    const c = tree.cornerBase(slot)
    const n = 9 * triangle
    let length = 0
    for (let axis = 0; axis < 3; axis++) {
      const at = c + 4 * axis
      looks[LOOK_NUMBERS * i + axis] =
        w * tree.floats[at] + u * tree.floats[at + 12] + v * tree.floats[at + 24]
      const normal =
        w * triangleNormals[n + axis] + u * triangleNormals[n + 3 + axis] + v * triangleNormals[n + 6 + axis]
      looks[LOOK_NUMBERS * i + 3 + axis] = normal
      length += normal * normal
    }
    length = Math.sqrt(length) || 1
    for (let axis = 3; axis < 6; axis++) looks[LOOK_NUMBERS * i + axis] /= length
  }
  const isSame = (i: number, j: number): boolean => {
    if (surfaces[i] !== surfaces[j] || surfaces[i] === -2) return false
    if (surfaces[i] === -1) return true
    const a = LOOK_NUMBERS * i
    const b = LOOK_NUMBERS * j
    if (looks[a + 3] * looks[b + 3] + looks[a + 4] * looks[b + 4] + looks[a + 5] * looks[b + 5] < SAME_NORMAL)
      return false
    const x = looks[b] - looks[a]
    const y = looks[b + 1] - looks[a + 1]
    const z = looks[b + 2] - looks[a + 2]
    const limit = SAME_PLANE * Math.sqrt(x * x + y * y + z * z)
    return (
      Math.abs(x * looks[a + 3] + y * looks[a + 4] + z * looks[a + 5]) <= limit &&
      Math.abs(x * looks[b + 3] + y * looks[b + 4] + z * looks[b + 5]) <= limit
    )
  }
  const busy = new Uint8Array(width * height)
  for (let p = 0; p < width * height; p++) {
    const first = p * SCOUTS
    for (let s = 1; s < SCOUTS; s++) if (!isSame(first, first + s)) busy[p] = 1
    const column = p % width
    const visit = (other: number) => {
      if (isSame(first, other * SCOUTS)) return
      busy[p] = 1
      busy[other] = 1
    }
    const hasRight = column + 1 < width
    const hasBelow = p + width < busy.length
    if (hasRight) visit(p + 1)
    if (hasBelow) visit(p + width)
    if (hasRight && hasBelow) visit(p + width + 1)
    if (column > 0 && hasBelow) visit(p + width - 1)
  }
  return busy
}
