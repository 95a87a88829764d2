import { PixelRun } from '../math/sampling'
import type { PassContext, TileContext } from './pass-kind'
import { CameraRay } from './primary-hits'
import { SurfacePoint } from './surface-point'

/**
 * The loop that passes which shade each visible point have in common: over pixels and samples, with the mean taken
 * over the samples that hit, and coverage apart as the last plane.
 *
 * `shade` adds its values for one sample to `sums`; `run` tells which numbers of which sequence are its own.
 */
export function shadeSamples(
  context: PassContext,
  tileContext: TileContext,
  planeCount: number,
  shade: (point: SurfacePoint, ray: CameraRay, run: PixelRun, sums: Float64Array) => void,
): Float32Array[] {
  const { tile } = tileContext
  const hits = tileContext.hits(context.effort.samples)
  const pixels = tile.width * tile.height
  const planes = Array.from({ length: planeCount + 1 }, () => new Float32Array(pixels))
  const point = new SurfacePoint(context.scene)
  const ray = new CameraRay(context.camera, context.frame)
  const run = new PixelRun(hits.samples, context.seed)
  const sums = new Float64Array(planeCount)
  for (let p = 0; p < pixels; p++) {
    const column = p % tile.width
    if (column === 0 && tileContext.cancelled()) return planes
    const x = tile.x + column
    const y = tile.y + (p - column) / tile.width
    run.start(x, y)
    sums.fill(0)
    let covered = 0
    for (let s = 0; s < hits.samples; s++) {
      const i = p * hits.samples + s
      if (hits.triangles[i] < 0) continue
      covered++
      ray.aim(x + hits.pattern[2 * s], y + hits.pattern[2 * s + 1])
      point.load(
        hits.triangles[i],
        hits.barycentrics[2 * i],
        hits.barycentrics[2 * i + 1],
        ray.dx,
        ray.dy,
        ray.dz,
      )
      run.sample = s
      shade(point, ray, run, sums)
    }
    if (covered === 0) continue
    for (let k = 0; k < planeCount; k++) planes[k][p] = sums[k] / covered
    planes[planeCount][p] = covered / hits.samples
  }
  return planes
}
