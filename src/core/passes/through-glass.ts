import { OPAQUE } from '../scene/scene-geometry'
import type { PassContext } from './pass-kind'
import { FAR } from './primary-hits'
import type { ShadeSample } from './shade-samples'
import { SurfacePoint } from './surface-point'

/** Panes one looks through before the rest counts as solid. */
const MOST_PANES = 8

/**
 * Follows a view through what lets light through: calls `each` with every surface on the way, its slot, and the share of
 * the view it holds, from the nearest on. The shares of what is met add up to 1, or to less where the view ends in
 * nothing. Panes are thin: the view goes straight on.
 */
export function throughGlass(
  context: PassContext,
): (sample: ShadeSample, each: (point: SurfacePoint, slot: number, share: number) => void) => void {
  const { scene, kernel, seen } = context
  const opacities = scene.materials.map((m) => m.opacity ?? 1)
  const isClear = opacities.map((o) => o < OPAQUE)
  const hasGlass = isClear.some(Boolean)
  const there = new SurfacePoint(scene)
  return (sample, each) => {
    const { point, ray } = sample
    const first = opacities[scene.triangleMaterials[point.triangle]]
    if (!hasGlass || !(first < OPAQUE)) {
      each(point, sample.slot, 1)
      return
    }
    each(point, sample.slot, first)
    let left = 1 - first
    let near = sample.distance
    for (let pane = 0; pane < MOST_PANES && left > 1e-3; pane++) {
      const step = near * 1e-6 + 1e-6 * scene.figureDiagonal
      if (
        !kernel.closest(
          ray.ox,
          ray.oy,
          ray.oz,
          ray.dx,
          ray.dy,
          ray.dz,
          near + step,
          FAR,
          seen.mask,
          seen.parts,
        )
      )
        return
      near = kernel.distance
      const { slot, u: second, v: third } = kernel
      there.load(slot, second, third, ray.dx, ray.dy, ray.dz)
      const opacity = opacities[scene.triangleMaterials[there.triangle]]
      const own = pane + 1 < MOST_PANES && opacity < OPAQUE ? opacity : 1
      each(there, slot, left * own)
      left *= 1 - own
    }
  }
}
