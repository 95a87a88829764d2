import { POINT, POINT_NUMBERS, type PointBlock } from '../trace/point-block'
import type { TileContext } from './pass-kind'

/** Sums of a tile's pixels, one plane per channel but the last, which is coverage. */
export type TilePlanes = readonly Float64Array[]

/**
 * The loop that passes which shade each visible point have in common: over the blocks of a tile's points, with the mean
 * taken over the samples that hit, and coverage apart as the last plane.
 * @param shade adds to the tile's planes the points' shares of what it finds, at their pixels.
 */
export function shadePoints(
  { tile, points, cancelled, memory }: TileContext,
  planeCount: number,
  shade: (block: PointBlock, planes: TilePlanes) => void,
): Float32Array[] {
  const pixels = tile.width * tile.height
  const planes = Array.from({ length: planeCount }, () => memory.doubles(pixels))
  for (let b = 0; b < points.blockCount && !cancelled(); b++) shade(points.block(b), planes)
  const single = (plane: Float32Array | Float64Array) => {
    const out = memory.floats(pixels)
    out.set(plane)
    return out
  }
  return [...planes, points.coverage].map(single)
}

/** Adds to each point's pixel its share of one of its values, values[stride · i + offset], times a factor. */
export function addShares(
  { count, floats, ints }: PointBlock,
  values: Float32Array,
  stride: number,
  offset: number,
  plane: Float64Array,
  factor = 1,
): void {
  for (let i = 0; i < count; i++) {
    const at = POINT_NUMBERS * i
    plane[ints[at + POINT.pixel]] += factor * floats[at + POINT.share] * values[stride * i + offset]
  }
}
