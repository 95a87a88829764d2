import { isShared, PAGE_BYTES, pagesFor } from '../wasm/linear-memory'
import { kernelOver, type KernelExports } from './kernel-memory'
import { CameraKernel } from './camera-kernel'
import { POINT_KERNEL_BYTES, PointKernel } from './point-kernel'
import { KERNEL_SCRATCH, type RayTree } from './ray-tree'

/** Rays that fit one batch. */
export const BATCH_RAYS = 16384
/** Numbers of a ray: origin x y z, nearest distance, direction x y z, farthest distance. */
export const RAY_NUMBERS = 8
/** Numbers of a hit: slot (read as an integer), distance, weights of corners 1 and 2. */
export const HIT_NUMBERS = 4
/** Slot of a ray that met nothing. */
export const NO_SLOT = -1

/** Two stacks of 8192 bytes and the lanes at work; see kernel/trace.ts. */
const STACK_BYTES = 2 * 8192 + 256
/** Parts a list can speak of; further ones are in. */
const PART_BYTES = 131072
/** Before a list: the box of the parts that are in; see kernel/layout.ts. */
const BOX_BYTES = 32

/**
 * Traces rays against a tree, in batches: the caller writes rays into `rays`, calls, and reads `hits` or `blocked`.
 * One per thread and tree; what it holds is read before the next call. Distances are in units of a direction's length;
 * f32 throughout, so a caller that needs more works it out from the slot and the weights.
 */
export class TraceKernel {
  /** Float32Array, 8 · BATCH_RAYS, see {@link RAY_NUMBERS}. */
  rays!: Float32Array
  /** Float32Array, 4 · BATCH_RAYS, see {@link HIT_NUMBERS}. */
  hits!: Float32Array
  /** The same memory as `hits`: the slot is at 4·i, {@link NO_SLOT} for nothing. */
  hitSlots!: Int32Array
  /** Uint8Array, BATCH_RAYS: 1 where something is in the way. */
  blocked!: Uint8Array
  /** Asks about points of surfaces, with rays of its own. */
  readonly points: PointKernel
  /** Asks what cameras see. */
  readonly camera: CameraKernel

  /** What the last {@link closest} found. */
  slot = NO_SLOT
  distance = 0
  u = 0
  v = 0

  private readonly kernel: KernelExports
  private readonly raysAt: number
  private readonly hitsAt: number
  private readonly blockedAt: number
  private readonly partsAt: number
  private readonly stackAt: number
  private partTable!: Uint8Array
  private counted = 0
  private partList: Uint8Array | null = null

  private constructor(readonly tree: RayTree) {
    const { memory } = tree
    const need =
      BATCH_RAYS * (4 * RAY_NUMBERS + 4 * HIT_NUMBERS + 1) +
      BOX_BYTES +
      PART_BYTES +
      STACK_BYTES +
      POINT_KERNEL_BYTES +
      64
    const start = isShared(memory)
      ? memory.grow(pagesFor(need)) * PAGE_BYTES
      : memory.buffer.byteLength - KERNEL_SCRATCH
    this.raysAt = start
    this.hitsAt = this.raysAt + 4 * RAY_NUMBERS * BATCH_RAYS
    this.stackAt = this.hitsAt + 4 * HIT_NUMBERS * BATCH_RAYS
    this.blockedAt = this.stackAt + STACK_BYTES
    this.partsAt = this.blockedAt + BATCH_RAYS + BOX_BYTES
    this.kernel = kernelOver(memory)
    this.view()
    const renewAll = () => {
      tree.renew()
      this.view()
      this.points.renew()
    }
    this.points = new PointKernel(
      this.kernel,
      memory,
      this.partsAt + PART_BYTES,
      { rays: this.raysAt, hits: this.hitsAt, blocked: this.blockedAt, stack: this.stackAt },
      (parts) => this.useParts(parts),
      renewAll,
    )
    this.camera = new CameraKernel(
      this.kernel,
      memory,
      this.points.desk,
      (parts) => this.useParts(parts),
      renewAll,
    )
  }

  private view(): void {
    const { buffer } = this.tree.memory
    this.rays = new Float32Array(buffer, this.raysAt, RAY_NUMBERS * BATCH_RAYS)
    this.hits = new Float32Array(buffer, this.hitsAt, HIT_NUMBERS * BATCH_RAYS)
    this.hitSlots = new Int32Array(buffer, this.hitsAt, HIT_NUMBERS * BATCH_RAYS)
    this.blocked = new Uint8Array(buffer, this.blockedAt, BATCH_RAYS)
    this.partTable = new Uint8Array(buffer, this.partsAt, PART_BYTES)
  }

  /** Rays traced since the kernel was made. */
  get rayCount(): number {
    this.counted += this.kernel.raysAsked() >>> 0
    return this.counted
  }

  private static readonly kernels = new WeakMap<RayTree, TraceKernel>()

  /** This thread's kernel over a tree. */
  static over(tree: RayTree): TraceKernel {
    let kernel = TraceKernel.kernels.get(tree)
    if (!kernel) {
      kernel = new TraceKernel(tree)
      TraceKernel.kernels.set(tree, kernel)
    }
    return kernel
  }

  /** Writes one ray of a batch. */
  put(
    at: number,
    ox: number,
    oy: number,
    oz: number,
    dx: number,
    dy: number,
    dz: number,
    near: number,
    far: number,
  ): void {
    const { rays } = this
    const i = RAY_NUMBERS * at
    rays[i] = ox
    rays[i + 1] = oy
    rays[i + 2] = oz
    rays[i + 3] = near
    rays[i + 4] = dx
    rays[i + 5] = dy
    rays[i + 6] = dz
    rays[i + 7] = far
  }

  /**
   * Closest hits of the first `count` rays with near < t < far, into `hits`.
   * @param mask a triangle must share a bit with it.
   * @param parts one byte per scene part, 0 leaves it out; null: all are in.
   */
  traceClosest(count: number, mask: number, parts: Uint8Array | null = null): void {
    this.kernel.closestHits(this.raysAt, this.hitsAt, count, mask, this.useParts(parts), this.stackAt, 0)
  }

  /** Whether anything lies on each of the first `count` rays, into `blocked`. See {@link traceClosest}. */
  traceAny(count: number, mask: number, parts: Uint8Array | null = null): void {
    this.kernel.anyHits(this.raysAt, this.blockedAt, count, mask, this.useParts(parts), this.stackAt)
  }

  /** One ray; for the few places that must know one answer before they ask the next. @returns true on a hit. */
  closest(
    ox: number,
    oy: number,
    oz: number,
    dx: number,
    dy: number,
    dz: number,
    near: number,
    far: number,
    mask: number,
    parts: Uint8Array | null = null,
  ): boolean {
    this.put(0, ox, oy, oz, dx, dy, dz, near, far)
    this.traceClosest(1, mask, parts)
    this.slot = this.hitSlots[0]
    if (this.slot === NO_SLOT) return false
    this.distance = this.hits[1]
    this.u = this.hits[2]
    this.v = this.hits[3]
    return true
  }

  /** One ray; see {@link closest}. */
  isBlocked(
    ox: number,
    oy: number,
    oz: number,
    dx: number,
    dy: number,
    dz: number,
    near: number,
    far: number,
    mask: number,
    parts: Uint8Array | null = null,
  ): boolean {
    this.put(0, ox, oy, oz, dx, dy, dz, near, far)
    this.traceAny(1, mask, parts)
    return this.blocked[0] !== 0
  }

  private useParts(parts: Uint8Array | null): number {
    if (!parts) return 0
    if (parts !== this.partList) {
      this.partTable.fill(1)
      this.partTable.set(parts.subarray(0, PART_BYTES))
      new Float32Array(this.tree.memory.buffer, this.partsAt - BOX_BYTES, 6).set(this.tree.boxOfParts(parts))
      this.partList = parts
    }
    return this.partsAt
  }
}
