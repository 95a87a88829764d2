import { blockSeed, pixelOrder } from '../math/sampling'
import type { CameraBasis, Frame } from '../scene/camera'
import type { SceneGeometry } from '../scene/scene-geometry'
import { BLOCK_POINTS, runOf, type PointBlock } from '../trace/point-block'
import { TraceKernel } from '../trace/trace-kernel'
import type { Tile } from './tile'
import { CameraRay, type PrimaryHits } from './primary-hits'
import { leastClearance } from './clearance'

/** What is asked about the points of a tile more than once, by what was asked. */
export type PointAnswers = Map<string, Float32Array>

/**
 * The surface points that a tile's pixels see, worked out once for every pass of a job that sees the same. They come in
 * blocks; the one at work lies in the kernel.
 */
export class TilePoints {
  /** Float32Array, one a pixel: share of its samples that see something of the pass. */
  readonly coverage: Float32Array
  readonly blockCount: number
  /** Per point of the block at work: its sample among the hits. */
  readonly samples = new Uint32Array(BLOCK_POINTS)
  /** Answers about all points, kept while there is one block only. */
  readonly answers: PointAnswers = new Map()
  /** Samples taken of a full pixel. */
  readonly most: number
  private readonly kernel: TraceKernel
  /** Pixel and sample at which each block begins. */
  private readonly begins: { readonly pixel: number; readonly sample: number }[] = []
  private readonly coveredOf: Uint16Array

  /** What lies in each kernel now. */
  private static readonly atWork = new WeakMap<TraceKernel, { points: TilePoints; block: number }>()

  /** @param shown one byte a part, 0 is held out; null: all are in. */
  constructor(
    private readonly scene: SceneGeometry,
    private readonly camera: CameraBasis,
    private readonly frame: Frame,
    readonly tile: Tile,
    readonly hits: PrimaryHits,
    private readonly shown: Uint8Array | null,
    private readonly seed: number,
  ) {
    this.kernel = TraceKernel.over(scene.tree)
    this.most = hits.samples
    const pixels = tile.width * tile.height
    const { starts } = hits
    this.coverage = new Float32Array(pixels)
    this.coveredOf = new Uint16Array(pixels)
    let room = 0
    for (let p = 0; p < pixels; p++) {
      let covered = 0
      for (let i = starts[p]; i < starts[p + 1]; i++) {
        if (!this.isIn(i)) continue
        covered++
        if (room === 0) {
          this.begins.push({ pixel: p, sample: i })
          room = BLOCK_POINTS
        }
        room--
      }
      this.coveredOf[p] = covered
      this.coverage[p] = covered / (starts[p + 1] - starts[p])
    }
    this.blockCount = this.begins.length
  }

  private isIn(sample: number): boolean {
    const slot = this.hits.slots[sample]
    return slot >= 0 && (!this.shown || this.shown[this.scene.tree.tags[slot] & 0xffffff] !== 0)
  }

  /** The points of one block, complete, in the kernel; good until another is asked for. */
  block(index: number): PointBlock {
    const block = this.kernel.points.primary
    const atWork = TilePoints.atWork.get(this.kernel)
    if (atWork?.points === this && atWork.block === index) return block
    TilePoints.atWork.set(this.kernel, { points: this, block: index })
    const { tile, hits, coveredOf, samples } = this
    const { starts, slots, weights, pattern } = hits
    const ray = new CameraRay(this.camera, this.frame)
    const pixels = tile.width * tile.height
    const begin = this.begins[index]
    let count = 0
    for (let p = begin.pixel; p < pixels && count < BLOCK_POINTS; p++) {
      if (coveredOf[p] === 0) continue
      const x = tile.x + (p % tile.width)
      const y = tile.y + Math.floor(p / tile.width)
      const seed = blockSeed(x, y, this.seed)
      const order = pixelOrder(x, y)
      const share = 1 / coveredOf[p]
      const first = starts[p]
      const end = starts[p + 1]
      for (let i = p === begin.pixel ? begin.sample : first; i < end && count < BLOCK_POINTS; i++) {
        if (!this.isIn(i)) continue
        const s = i - first
        ray.aim(x + pattern[2 * s], y + pattern[2 * s + 1])
        samples[count] = i
        block.put(
          count++,
          slots[i],
          weights[2 * i],
          weights[2 * i + 1],
          ray.dx,
          ray.dy,
          ray.dz,
          p,
          share,
          seed,
          order,
          runOf(s, end - first),
        )
      }
    }
    this.kernel.points.load(block, count, leastClearance(this.scene))
    return block
  }
}
