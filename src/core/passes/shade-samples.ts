import { PixelRun } from '../math/sampling'
import type { PassContext, TileContext } from './pass-kind'
import { CameraRay } from './primary-hits'
import { SurfacePoint } from './surface-point'

/** One visible point as a pass shades it. Reused: every field is overwritten for the next. */
export class ShadeSample {
  readonly point: SurfacePoint
  /** The ray that found it. */
  readonly ray: CameraRay
  /** Slot of the tree it lies in. */
  slot = -1
  /** Distance along that ray. */
  distance = 0
  /** Pixel of the tile. */
  pixel = 0
  /** What this sample counts for among those of the pixel that hit. */
  share = 0
  /** Where its numbers of the sequence begin, for a point that belongs to one ray alone; −1: by pixel and sample. */
  index = -1
  private readonly run: PixelRun
  private samples = 1
  private most = 1

  constructor(context: PassContext) {
    this.point = new SurfacePoint(context.scene)
    this.ray = new CameraRay(context.camera, context.frame)
    this.run = new PixelRun(context.effort.samples, context.seed)
  }

  /** Sets the pixel, and the number of its samples. */
  start(x: number, y: number, pixel: number, samples: number, most: number): void {
    this.run.start(x, y)
    this.pixel = pixel
    this.samples = samples
    this.most = most
  }

  set sample(index: number) {
    this.run.sample = index
  }

  /** Seed of the pixel's sequence. */
  get seed(): number {
    return this.run.seed
  }

  /** How many rays this sample has, where every one of a full pixel has `rays`: a pixel's total is the same. */
  raysOf(rays: number): number {
    return Math.max(1, Math.round((rays * this.most) / this.samples))
  }

  /** Index of the first of `rays` numbers of the pixel's sequence that belong to this sample. */
  first(rays: number): number {
    return this.index >= 0 ? this.index : this.run.first(rays, this.samples)
  }
}

/** Sums of a tile's pixels, one plane per channel but the last, which is coverage. */
export type TilePlanes = readonly Float64Array[]

/**
 * The loop that passes which shade each visible point have in common: over pixels and samples, with the mean taken over
 * the samples that hit, and coverage apart as the last plane.
 * @param begin is given the tile's empty planes.
 * @param shade adds to them `sample.share` times what it finds, at `sample.pixel`; rays may be settled later …
 * @param settle … but at the latest in here.
 */
export function shadeSamples(
  context: PassContext,
  tileContext: TileContext,
  planeCount: number,
  stage: {
    readonly begin?: (planes: TilePlanes) => void
    readonly shade: (sample: ShadeSample, planes: TilePlanes) => void
    readonly settle?: () => void
  },
): Float32Array[] {
  const { tile, hits } = tileContext
  const { shown, scene } = context
  const pixels = tile.width * tile.height
  const planes = Array.from({ length: planeCount }, () => new Float64Array(pixels))
  const coverage = new Float32Array(pixels)
  const sample = new ShadeSample(context)
  const { tags } = scene.tree
  stage.begin?.(planes)
  const isIn = (slot: number) => slot >= 0 && (!shown || shown[tags[slot] & 0xffffff] !== 0)
  for (let p = 0; p < pixels; p++) {
    const column = p % tile.width
    if (column === 0 && tileContext.cancelled()) break
    const x = tile.x + column
    const y = tile.y + (p - column) / tile.width
    const start = hits.starts[p]
    const end = hits.starts[p + 1]
    let covered = 0
    for (let i = start; i < end; i++) if (isIn(hits.slots[i])) covered++
    if (covered === 0) continue
    coverage[p] = covered / (end - start)
    sample.start(x, y, p, end - start, hits.samples)
    sample.share = 1 / covered
    for (let i = start; i < end; i++) {
      if (!isIn(hits.slots[i])) continue
      const s = i - start
      sample.sample = s
      const { ray } = sample
      ray.aim(x + hits.pattern[2 * s], y + hits.pattern[2 * s + 1])
      sample.distance = hits.distances[i]
      sample.slot = hits.slots[i]
      sample.point.load(hits.slots[i], hits.weights[2 * i], hits.weights[2 * i + 1], ray.dx, ray.dy, ray.dz)
      stage.shade(sample, planes)
    }
  }
  stage.settle?.()
  return [...planes.map((plane) => Float32Array.from(plane)), coverage]
}
