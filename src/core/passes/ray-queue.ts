import { BATCH_RAYS, HIT_NUMBERS, RAY_NUMBERS, type TraceKernel } from '../trace/trace-kernel'

/** What rays may meet. */
export interface RayFilter {
  /** Triangles must share a bit with it. */
  readonly mask: number
  /** One byte per scene part, 0 leaves it out; null: all are in. */
  readonly parts: Uint8Array | null
}

/**
 * Rays that are asked now and answered later, a batch at a time: renderers put rays in with what each would bring, and
 * `flush` settles them. Answers come in the order of the questions, so sums are the same on every run.
 */
abstract class RayQueue {
  protected readonly rays = new Float32Array(RAY_NUMBERS * BATCH_RAYS)
  protected count = 0

  constructor(
    protected readonly kernel: TraceKernel,
    protected readonly filter: RayFilter,
  ) {}

  /** Puts a ray in; what it brings is written by the caller at the index this returns. */
  protected add(ox: number, oy: number, oz: number, dx: number, dy: number, dz: number, far: number): number {
    if (this.count === BATCH_RAYS) this.flush()
    const at = this.count++
    const i = RAY_NUMBERS * at
    const { rays } = this
    rays[i] = ox
    rays[i + 1] = oy
    rays[i + 2] = oz
    rays[i + 3] = 0
    rays[i + 4] = dx
    rays[i + 5] = dy
    rays[i + 6] = dz
    rays[i + 7] = far
    return at
  }

  /** Traces what is waiting and settles it. */
  flush(): void {
    if (this.count === 0) return
    const { kernel, rays, filter, count } = this
    kernel.rays.set(count === BATCH_RAYS ? rays : rays.subarray(0, RAY_NUMBERS * count))
    this.count = 0
    this.settle(kernel, count, filter)
  }

  protected abstract settle(kernel: TraceKernel, count: number, filter: RayFilter): void
}

/** Numbers an open ray may add, to as many planes one after the other. */
const OPEN_NUMBERS = 6

/** Rays that add numbers to a pixel where nothing is in their way. */
export class OpenRays extends RayQueue {
  private readonly pixels = new Uint32Array(BATCH_RAYS)
  private readonly values = new Float32Array(OPEN_NUMBERS * BATCH_RAYS)

  /** Planes of the tile at work. */
  planes: readonly Float64Array[] = []

  /**
   * @param first an open ray adds its first number to planes[first], the next to planes[first + 1] …
   * @param numbers how many a ray adds, at most 6.
   */
  constructor(
    kernel: TraceKernel,
    filter: RayFilter,
    private readonly first: number,
    private readonly numbers: number,
  ) {
    super(kernel, filter)
  }

  put(
    ox: number,
    oy: number,
    oz: number,
    dx: number,
    dy: number,
    dz: number,
    far: number,
    pixel: number,
    a: number,
    b = 0,
    c = 0,
    d = 0,
    e = 0,
    f = 0,
  ): void {
    const at = this.add(ox, oy, oz, dx, dy, dz, far)
    const { values } = this
    this.pixels[at] = pixel
    const i = OPEN_NUMBERS * at
    values[i] = a
    values[i + 1] = b
    values[i + 2] = c
    values[i + 3] = d
    values[i + 4] = e
    values[i + 5] = f
  }

  protected settle(kernel: TraceKernel, count: number, { mask, parts }: RayFilter): void {
    kernel.traceAny(count, mask, parts)
    const { blocked } = kernel
    const { pixels, values, numbers } = this
    for (let k = 0; k < numbers; k++) {
      const plane = this.planes[this.first + k]
      for (let r = 0; r < count; r++) if (blocked[r] === 0) plane[pixels[r]] += values[OPEN_NUMBERS * r + k]
    }
  }
}

/** Rays whose closest hits a renderer wants, each with some numbers of its own. */
export class ClosestRays extends RayQueue {
  /** Numbers kept with each ray: `numbers` of them, written at numbers · index. */
  readonly kept: Float64Array

  /** @param answer called for each ray in order: its index into `kept`, slot (−1: none), distance, weights. */
  constructor(
    kernel: TraceKernel,
    filter: RayFilter,
    readonly numbers: number,
    private readonly answer: (index: number, slot: number, distance: number, u: number, v: number) => void,
  ) {
    super(kernel, filter)
    this.kept = new Float64Array(numbers * BATCH_RAYS)
  }

  /** @returns where in `kept` this ray's own numbers go. */
  put(ox: number, oy: number, oz: number, dx: number, dy: number, dz: number, far: number): number {
    return this.numbers * this.add(ox, oy, oz, dx, dy, dz, far)
  }

  protected settle(kernel: TraceKernel, count: number, { mask, parts }: RayFilter): void {
    kernel.traceClosest(count, mask, parts)
    const { hits, hitSlots } = kernel
    for (let r = 0; r < count; r++) {
      const i = HIT_NUMBERS * r
      this.answer(this.numbers * r, hitSlots[i], hits[i + 1], hits[i + 2], hits[i + 3])
    }
  }
}
