import type { PointBlock } from '../trace/point-block'
import type { Effort } from './effort'
import type { PassContext, TileContext } from './pass-kind'
import type { AskPoints } from './surface-cache'
import { inSlices } from './in-slices'

/**
 * A texel's rays, as a share of those of a full pixel: several texels are looked at for every sample, so that with these the mean
 * error against very many rays is that of the traced picture (bench/kept-passes.ts).
 */
const SHARE = 3 / 8
const LEAST_RAYS = 16
/** Rays of a texel, for passes that send `rays` for each sample. */
export const texelRays = ({ samples, rays }: Effort): number =>
  Math.max(LEAST_RAYS, Math.round(SHARE * samples * rays))

/**
 * Asks the points of a block: what is kept on the surfaces is looked up, what is not is traced.
 * @param key of what is asked, see KeptAnswer.
 * @param stride numbers a point in the kernel's `values`.
 * @param rays for each sample of a full pixel, and how many samples that is.
 */
export function askPoints(
  { surface }: Pick<PassContext, 'surface'>,
  { cancelled }: Pick<TileContext, 'cancelled'>,
  block: PointBlock,
  {
    key,
    stride,
    rays,
    most,
  }: { readonly key: string; readonly stride: number; readonly rays: number; readonly most: number },
  ask: AskPoints,
): void {
  const plane = surface?.plane(key)
  if (surface && plane) surface.lookUp(plane, block, stride, { rays, most }, cancelled, ask)
  else inSlices(block, rays, most, cancelled, (range) => ask(range, rays, most))
}
