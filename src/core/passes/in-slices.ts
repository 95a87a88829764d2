import type { PointBlock } from '../trace/point-block'
import type { PointRange } from '../trace/point-kernel'

/** Rays asked about in one call: what a cancelled job waits for. */
const SLICE_RAYS = 32768

/**
 * Goes through a block in slices of a few ten thousand rays, so that a cancelled job ends soon.
 * @param rays for each sample of a full pixel, and how many samples that is: a point may have as many as their product.
 * @param first, end points that are meant; all where left out.
 */
export function inSlices(
  block: PointBlock,
  rays: number,
  most: number,
  cancelled: () => boolean,
  ask: (range: PointRange) => void,
  first = 0,
  end = block.count,
): void {
  const length = Math.max(1, Math.floor(SLICE_RAYS / Math.max(1, rays, (rays * most) / 4)))
  for (let from = first; from < end && !cancelled(); from += length)
    ask({ block, from, count: Math.min(length, end - from) })
}
