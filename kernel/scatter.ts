import {
  DESK_FIRST,
  DESK_HITS,
  DESK_RAYS,
  DESK_SECOND,
  DESK_STACK,
  DRAW_MOST,
  POINT_BYTES,
  POINT_GEOMETRIC,
  POINT_NORMAL,
  POINT_ORDER,
  POINT_PIXEL,
  POINT_RUN,
  POINT_SEED,
  POINT_SHARE,
  POINT_SLOT,
  POINT_VIEW,
  POINT_WEIGHTS,
} from './layout'
import { roundNormal } from './light'
import { firstOf, loadPoint, raysOf } from './points'
import { rowOf } from './rays'
import { draw } from './sampling'
import { closestHits } from './trace'

const FAR: f32 = 1e30

/** Points taken and made by the last call of {@link scatter}. */
let taken: u32 = 0

/** How many points the last {@link scatter} took before its room was full. */
export function scattered(): u32 {
  return taken
}

/**
 * Sends rays from points and makes points of what they meet, in room of their own: bounced light comes round the shading
 * normal, mirrored light round the mirrored view. A point made belongs to its ray alone; one whose ray met nothing has no
 * slot and only its view.
 * @param rays for each sample of a full pixel of `most` samples.
 * @param shares one f32 a point: what its rays count for together; a point with 0 sends none.
 * @param spreads one f32 a point: how far normals are tilted before they mirror, as a sine. 0: bounced, not mirrored.
 * @param ways one f32 a point made: how far from its point it lies, in world units, where anything was met.
 * @param room how many points may be made.
 * @returns how many were.
 */
export function scatter(
  points: usize,
  count: u32,
  rays: u32,
  most: u32,
  salt: u32,
  shares: usize,
  spreads: usize,
  least: f64,
  mask: u32,
  parts: usize,
  desk: usize,
  made: usize,
  ways: usize,
  room: u32,
): u32 {
  const rayList: usize = load<u32>(desk, DESK_RAYS)
  const hits: usize = load<u32>(desk, DESK_HITS)
  const stack: usize = load<u32>(desk, DESK_STACK)
  const discX: usize = load<u32>(desk, DESK_FIRST)
  const discY: usize = load<u32>(desk, DESK_SECOND)
  let total: u32 = 0
  for (taken = 0; taken < count; taken++) {
    const point = points + <usize>taken * POINT_BYTES
    const share = load<f32>(shares + ((<usize>taken) << 2))
    if (share == 0) continue
    const asked = raysOf(point, rays, most)
    if (total + asked > room) break
    const first = firstOf(point, asked)
    const origin = f32x4.replace_lane(v128.load(point), 3, 0)
    for (let done: u32 = 0; done < asked; done += DRAW_MOST) {
      const drawn = min(DRAW_MOST, asked - done)
      const at = draw(first + done, drawn, load<u32>(point, POINT_SEED) ^ salt, true, desk)
      // 1. Rays, and as much of the points they will make as is known.
      const from = total
      for (let r: u32 = 0; r < drawn; r++) {
        const a = load<f32>(discX + at + ((<usize>r) << 2))
        const b = load<f32>(discY + at + ((<usize>r) << 2))
        const direction =
          spreads == 0
            ? roundNormal(point, a, b)
            : mirrored(point, a, b, load<f32>(spreads + ((<usize>taken) << 2)))
        const x = f32x4.extract_lane(direction, 0)
        const y = f32x4.extract_lane(direction, 1)
        const z = f32x4.extract_lane(direction, 2)
        if (
          x * load<f32>(point, POINT_GEOMETRIC) +
            y * load<f32>(point, POINT_GEOMETRIC + 4) +
            z * load<f32>(point, POINT_GEOMETRIC + 8) <=
          0
        )
          continue
        const ray = rayList + ((<usize>(total - from)) << 5)
        v128.store(ray, origin)
        v128.store(ray, f32x4.replace_lane(direction, 3, FAR), 16)
        const next = made + <usize>total * POINT_BYTES
        v128.store(next, f32x4.replace_lane(direction, 3, 0), POINT_VIEW)
        store<f32>(next, share / <f32>asked, POINT_SHARE)
        store<u32>(next, load<u32>(point, POINT_PIXEL), POINT_PIXEL)
        store<u32>(next, load<u32>(point, POINT_SEED), POINT_SEED)
        store<u32>(next, first + done + r, POINT_ORDER)
        store<u32>(next, 0, POINT_RUN)
        total++
      }
      // 2. What they meet.
      closestHits(rayList, hits, total - from, mask, parts, stack, false)
      for (let r: u32 = from; r < total; r++) {
        const next = made + <usize>r * POINT_BYTES
        const hit = hits + ((<usize>(r - from)) << 4)
        const slot = load<u32>(hit)
        store<u32>(next, slot, POINT_SLOT)
        if (slot == 0xffffffff) continue
        store<f32>(ways + ((<usize>r) << 2), load<f32>(hit, 4))
        store<f64>(next, <f64>load<f32>(hit, 8), POINT_WEIGHTS)
        store<f64>(next, <f64>load<f32>(hit, 12), POINT_WEIGHTS + 8)
        loadPoint(next, least)
      }
    }
  }
  return total
}

/** The view mirrored by a normal tilted towards a place on the unit disc. */
function mirrored(point: usize, a: f32, b: f32, spread: f32): v128 {
  const tilted = roundNormal(point, a * spread, b * spread)
  const view = rowOf(point + POINT_VIEW, 0)
  const product = f32x4.mul(tilted, view)
  const along: f32 =
    2 * (f32x4.extract_lane(product, 0) + f32x4.extract_lane(product, 1) + f32x4.extract_lane(product, 2))
  return f32x4.sub(view, f32x4.mul(f32x4.splat(along), tilted))
}
