import type { CameraBasis, Frame } from '../scene/camera'
import { isShared, PAGE_BYTES, pagesFor, type LinearMemory } from '../wasm/linear-memory'
import type { KernelExports } from './kernel-memory'
import { BLOCK_POINTS, type PointBlock } from './point-block'
import type { RayFilter } from './ray-filter'

/** Sizes of kernel/layout.ts and kernel/camera.ts, bytes. */
const CAMERA_BYTES = 192
const SAMPLE_BYTES = 32
const LOOK_BYTES = 56
/** 32-bit and 64-bit numbers of a sample: slot; distance, and weights of corners 1 and 2. */
export const SAMPLE_INTS = SAMPLE_BYTES / 4
export const SAMPLE_DOUBLES = SAMPLE_BYTES / 8
/** Samples by which pixels are told to be quiet or busy; kernel/camera.ts. */
export const SCOUTS = 4
/** Surface of a slot of which no two places look alike. */
export const TEXTURED = 0xfffffffe
/** Samples that are asked about at once. */
export const MOST_SAMPLES = 65536

const align = (bytes: number): number => (bytes + 63) & ~63

/** A camera and the places of its samples within a pixel. */
export interface SampledView {
  readonly camera: CameraBasis
  readonly frame: Frame
  /** Float32Array, 2 a sample. */
  readonly pattern: Float32Array
}

/** Samples as the kernel found them, good until it is asked again. */
export interface SeenSamples {
  /** Slot of sample i at {@link SAMPLE_INTS}·i; −1 for nothing. */
  readonly ints: Int32Array
  /** Of sample i from {@link SAMPLE_DOUBLES}·i + 1 on: distance, weights of corners 1 and 2. */
  readonly doubles: Float64Array
}

/** What points are made of, see {@link CameraKernel.takePoints}. */
export interface TakenSamples {
  readonly slots: Int32Array
  /** Two a sample. */
  readonly weights: Float64Array
  /** One a pixel and one more. */
  readonly starts: Uint32Array
  /** One byte a part, 0 is left out; null: all are in. */
  readonly shown: Uint8Array | null
  readonly tile: { readonly x: number; readonly y: number; readonly width: number; readonly height: number }
  readonly seed: number
  /** How far rays start off surfaces near the origin, in world units. */
  readonly least: number
}

/** Asks what cameras see (kernel/camera.ts), in room of its own that grows with what is asked. */
export class CameraKernel {
  private at = 0
  private room = 0
  private surfacesAt = 0
  /** Where the samples that were found last lie, and how many. */
  private samplesAt = 0
  private samples = 0

  /** @param renewAll makes all views of the memory again after memory that is not shared has grown. */
  constructor(
    private readonly kernel: KernelExports,
    private readonly memory: LinearMemory,
    private readonly desk: number,
    private readonly useParts: (parts: Uint8Array | null) => number,
    private readonly renewAll: () => void,
  ) {}

  private grow(bytes: number): number {
    const at = this.memory.grow(pagesFor(bytes)) * PAGE_BYTES
    if (!isShared(this.memory)) this.renewAll()
    return at
  }

  /** Room for so many bytes; what was in it is given up. */
  private take(bytes: number): number {
    if (bytes > this.room) {
      this.room = Math.ceil(1.5 * bytes)
      this.at = this.grow(this.room)
    }
    return this.at
  }

  /** Writes a camera and its pattern. @returns where the pattern lies. */
  private put({ camera, frame, pattern }: SampledView): number {
    const { eye, right, up, back, halfWidth, halfHeight, centreX, centreY, parallel, focus } = camera
    const { buffer } = this.memory
    new Float64Array(buffer, this.at, CAMERA_BYTES / 8).set([
      ...[...eye, ...right, ...up, ...back, halfWidth, halfHeight, centreX, centreY],
      ...[frame.width, frame.height, focus?.distance ?? 0, focus?.blur ?? 0, parallel ? 1 : 0],
    ])
    new Float32Array(buffer, this.at + CAMERA_BYTES, pattern.length).set(pattern)
    return this.at + CAMERA_BYTES
  }

  /**
   * What samples of pixels see, at most {@link MOST_SAMPLES} but for those whose pixels are asked for with {@link busy}.
   * @param places pixels of the picture, x and y each. @param from, to which places of the pattern are taken.
   */
  see(view: SampledView, places: Int32Array, from: number, to: number, filter: RayFilter): SeenSamples {
    const count = places.length / 2
    const samples = count * (to - from)
    const placesAt = align(CAMERA_BYTES + 4 * view.pattern.length)
    const samplesAt = placesAt + align(8 * count)
    // Looks and marks, should they be asked for, lie behind.
    const start = this.take(samplesAt + (SAMPLE_BYTES + LOOK_BYTES) * samples + count + 128)
    const pattern = this.put(view)
    const { buffer } = this.memory
    new Int32Array(buffer, start + placesAt, places.length).set(places)
    this.samplesAt = start + samplesAt
    this.samples = samples
    this.kernel.see(
      start,
      start + placesAt,
      count,
      pattern,
      from,
      to,
      this.samplesAt,
      filter.mask,
      this.useParts(filter.parts),
      this.desk,
    )
    return {
      ints: new Int32Array(this.memory.buffer, this.samplesAt, SAMPLE_INTS * samples),
      doubles: new Float64Array(this.memory.buffer, this.samplesAt, SAMPLE_DOUBLES * samples),
    }
  }

  /**
   * Marks pixels that see, or whose neighbours see, more than one smooth surface, or a texture, by the first {@link SCOUTS}
   * samples of every pixel of a rectangle, which were asked about last.
   * @param surfaces one number a slot, made when they are first needed: equal ones are one surface, see {@link TEXTURED}.
   * @param sameNormal least cosine between normals of one surface. @param samePlane most sine of the way from it.
   * @returns one byte a pixel, good until the kernel is asked again.
   */
  busy(
    width: number,
    height: number,
    surfaces: () => Uint32Array,
    sameNormal: number,
    samePlane: number,
  ): Uint8Array {
    if (this.surfacesAt === 0) {
      const table = surfaces()
      this.surfacesAt = this.grow(table.byteLength)
      new Uint32Array(this.memory.buffer, this.surfacesAt, table.length).set(table)
    }
    const looks = this.samplesAt + SAMPLE_BYTES * this.samples
    const marks = new Uint8Array(this.memory.buffer, looks + LOOK_BYTES * this.samples, width * height).fill(
      0,
    )
    this.kernel.busyOf(
      this.samplesAt,
      width,
      height,
      this.surfacesAt,
      looks,
      marks.byteOffset,
      sameNormal,
      samePlane,
    )
    return marks
  }

  /**
   * Makes points of samples, complete, from one pixel and sample on until a block is full or pixels end.
   * @param end the first pixel that is not asked about. @param took Uint32Array, one a point: its sample.
   */
  takePoints(
    view: SampledView,
    { slots, weights, starts, shown, tile, seed, least }: TakenSamples,
    pixel: number,
    sample: number,
    end: number,
    block: PointBlock,
    took: Uint32Array,
  ): void {
    const first = starts[pixel]
    const last = starts[end]
    const count = last - first
    const slotsAt = align(CAMERA_BYTES + 4 * view.pattern.length)
    const weightsAt = slotsAt + align(4 * count)
    const startsAt = weightsAt + align(16 * count)
    const tookAt = startsAt + align(4 * (end - pixel + 1))
    const start = this.take(tookAt + 4 * BLOCK_POINTS)
    const pattern = this.put(view)
    const { buffer } = this.memory
    new Int32Array(buffer, start + slotsAt, count).set(slots.subarray(first, last))
    new Float64Array(buffer, start + weightsAt, 2 * count).set(weights.subarray(2 * first, 2 * last))
    const own = new Uint32Array(buffer, start + startsAt, end - pixel + 1)
    for (let p = pixel; p <= end; p++) own[p - pixel] = starts[p] - first
    block.count = this.kernel.takePoints(
      start,
      start + slotsAt,
      start + weightsAt,
      start + startsAt,
      end - pixel,
      tile.x,
      tile.y,
      tile.width,
      pixel,
      sample - first,
      this.useParts(shown),
      pattern,
      seed,
      least,
      block.address,
      BLOCK_POINTS,
      start + tookAt,
    )
    block.stamp++
    const taken = new Uint32Array(this.memory.buffer, start + tookAt, block.count)
    for (let i = 0; i < taken.length; i++) took[i] = first + taken[i]
  }
}
