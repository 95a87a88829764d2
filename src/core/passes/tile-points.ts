import type { CameraBasis, Frame } from '../scene/camera'
import type { SceneGeometry } from '../scene/scene-geometry'
import { BLOCK_POINTS, type PointBlock } from '../trace/point-block'
import { TraceKernel } from '../trace/trace-kernel'
import type { Tile } from './tile'
import { TileMemory } from './tile-memory'
import type { PrimaryHits } from './primary-hits'
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
    memory = new TileMemory(),
  ) {
    this.kernel = TraceKernel.over(scene.tree)
    this.most = hits.samples
    const pixels = tile.width * tile.height
    const { starts } = hits
    this.coverage = memory.floats(pixels)
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
    const { tile, hits, samples, shown, seed, camera, frame, scene } = this
    const { pixel, sample } = this.begins[index]
    const next = this.begins.at(index + 1)
    const end = next ? next.pixel + 1 : tile.width * tile.height
    const taken = { ...hits, shown, tile, seed, least: leastClearance(scene) }
    this.kernel.camera.takePoints(
      { camera, frame, pattern: hits.pattern },
      taken,
      pixel,
      sample,
      end,
      block,
      samples,
    )
    return block
  }
}
