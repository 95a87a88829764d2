/**
 * Points of surfaces in the kernel's memory. Layout: kernel/layout.ts; indices here are in numbers of 32 bits, weights in
 * numbers of 64.
 */
export const POINT_NUMBERS = 36
export const POINT_BYTES = 4 * POINT_NUMBERS
/** Points that fit a block. */
export const BLOCK_POINTS = 16384

/** Where in a point its numbers are. `slot`, `pixel`, `seed`, `order`, `run`, `part` and `triangle` are integers. */
export const POINT = {
  start: 0,
  slot: 3,
  geometric: 4,
  share: 7,
  normal: 8,
  pixel: 11,
  seed: 15,
  order: 19,
  on: 20,
  run: 23,
  smooth: 24,
  part: 27,
  view: 28,
  triangle: 31,
  /** In 64-bit numbers from the block's begin: 18 a point. */
  weights: 16,
} as const

/** Slot of a point whose view met nothing. */
export const NOTHING = 0xffffffff

/** Points at work. The caller writes what kernel/layout.ts marks, then the kernel completes them. */
export class PointBlock {
  count = 0
  /** Another number whenever other points were loaded. */
  stamp = 0
  /** The same memory as 32-bit numbers, as integers, and as 64-bit numbers. */
  floats!: Float32Array
  ints!: Uint32Array
  doubles!: Float64Array

  constructor(
    readonly address: number,
    buffer: ArrayBufferLike,
  ) {
    this.view(buffer)
  }

  /** Makes the views over a memory that has moved. */
  view(buffer: ArrayBufferLike): void {
    this.floats = new Float32Array(buffer, this.address, POINT_NUMBERS * BLOCK_POINTS)
    this.ints = new Uint32Array(buffer, this.address, POINT_NUMBERS * BLOCK_POINTS)
    this.doubles = new Float64Array(buffer, this.address, (POINT_NUMBERS / 2) * BLOCK_POINTS)
  }

  /** Writes what is known of point `i` before the kernel completes it. */
  put(
    i: number,
    slot: number,
    cornerU: number,
    cornerV: number,
    viewX: number,
    viewY: number,
    viewZ: number,
    pixel: number,
    share: number,
    seed: number,
    order: number,
    run: number,
  ): void {
    const { floats, ints, doubles } = this
    const at = POINT_NUMBERS * i
    ints[at + POINT.slot] = slot
    floats[at + POINT.share] = share
    ints[at + POINT.pixel] = pixel
    ints[at + POINT.seed] = seed
    ints[at + POINT.order] = order
    ints[at + POINT.run] = run
    floats[at + POINT.view] = viewX
    floats[at + POINT.view + 1] = viewY
    floats[at + POINT.view + 2] = viewZ
    doubles[at / 2 + POINT.weights] = cornerU
    doubles[at / 2 + POINT.weights + 1] = cornerV
  }
}

/** Index of the first number of a point that has one ray alone; kernel/points.ts, firstOf. */
export function ownIndex(ints: Uint32Array, i: number): number {
  const run = ints[POINT_NUMBERS * i + POINT.run]
  const order = ints[POINT_NUMBERS * i + POINT.order]
  const samples = run >>> 16
  if (samples === 0) return order
  const length = samples > 1 ? 2 ** (32 - Math.clz32(samples - 1)) : 1
  return order * length + (run & 0xffff)
}
