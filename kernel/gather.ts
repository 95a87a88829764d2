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
  POINT_ON,
  POINT_SEED,
  POINT_U,
  POINT_V,
} from './layout'
import { CLEARANCE, firstOf, isBack, raysOf, smoothHeight } from './points'
import { putCone, rowOf } from './rays'
import { draw } from './sampling'
import { closestHits } from './trace'

/**
 * What is found round points of a surface: for each, rays are drawn, traced and summed before the next is begun. Rays are
 * numbered by pixel and sample alone (points.ts, firstOf), so it does not matter who asks for which points.
 */

const NOTHING: u32 = 0xffffffff

/**
 * Share of open directions at four reaches: the asked one, a half, a quarter and an eighth; 1 where every direction lies
 * below the true surface and none tells anything.
 * @param rays for each sample of a full pixel of `most` samples.
 * @param sine of the cone's half angle.
 * @param out four f32 a point.
 */
export function occlusionOf(
  points: usize,
  count: u32,
  rays: u32,
  most: u32,
  reach: f32,
  sine: f32,
  mask: u32,
  parts: usize,
  desk: usize,
  out: usize,
): void {
  const rayList: usize = load<u32>(desk, DESK_RAYS)
  const hits: usize = load<u32>(desk, DESK_HITS)
  const stack: usize = load<u32>(desk, DESK_STACK)
  const firsts: usize = load<u32>(desk, DESK_FIRST)
  const seconds: usize = load<u32>(desk, DESK_SECOND)
  for (let i: u32 = 0; i < count; i++) {
    const point = points + <usize>i * POINT_BYTES
    const total = raysOf(point, rays, most)
    const first = firstOf(point, total)
    const origin = rowOf(point, 0)
    let counted: u32 = 0
    // How many end in nothing, and in which octave the others do.
    let open: u32 = 0
    let far: u32 = 0
    let middle: u32 = 0
    let near: u32 = 0
    for (let done: u32 = 0; done < total; done += DRAW_MOST) {
      const drawn = min(DRAW_MOST, total - done)
      const at = draw(first + done, drawn, load<u32>(point, POINT_SEED), true, desk)
      const sent = putCone(point, origin, drawn, sine, 1, reach, firsts + at, seconds + at, rayList)
      closestHits(rayList, hits, sent, mask, parts, stack, true)
      counted += sent
      for (let r: u32 = 0; r < sent; r++) {
        const hit = hits + ((<usize>r) << 4)
        if (load<u32>(hit) == NOTHING) {
          open++
          continue
        }
        const distance = load<f32>(hit, 4)
        if (distance * 2 >= reach) far++
        else if (distance * 4 >= reach) middle++
        else if (distance * 8 >= reach) near++
      }
    }
    const to = out + ((<usize>i) << 4)
    const all: f64 = counted > 0 ? 1 / <f64>counted : 1
    if (counted == 0) open = 1
    store<f32>(to, <f32>(<f64>open * all))
    store<f32>(to, <f32>(<f64>(open + far) * all), 4)
    store<f32>(to, <f32>(<f64>(open + far + middle) * all), 8)
    store<f32>(to, <f32>(<f64>(open + far + middle + near) * all), 12)
  }
}

/**
 * Mean height of the surface over a disc in the tangent plane, as a share of the disc's radius. Heights are measured
 * between points of the smooth surface, so that the facets of a coarse mesh do not read as ridges where its normals say
 * that it is round; the rays look for the triangles, which may lie deeper below it than a small radius is wide.
 * @param out one f32 a point.
 */
export function cavityOf(
  points: usize,
  count: u32,
  rays: u32,
  most: u32,
  radius: f32,
  mask: u32,
  parts: usize,
  desk: usize,
  out: usize,
): void {
  const rayList: usize = load<u32>(desk, DESK_RAYS)
  const hits: usize = load<u32>(desk, DESK_HITS)
  const stack: usize = load<u32>(desk, DESK_STACK)
  const firsts: usize = load<u32>(desk, DESK_FIRST)
  const seconds: usize = load<u32>(desk, DESK_SECOND)
  const radius4 = f32x4.splat(radius)
  for (let i: u32 = 0; i < count; i++) {
    const point = points + <usize>i * POINT_BYTES
    const total = raysOf(point, rays, most)
    const first = firstOf(point, total)
    const u = rowOf(point + POINT_U, 0)
    const v = rowOf(point + POINT_V, 0)
    const n = rowOf(point + POINT_NORMAL, 0)
    const above = f32x4.add(rowOf(point + POINT_ON, 0), f32x4.mul(n, radius4))
    const down = f32x4.replace_lane(f32x4.neg(n), 3, 2 * radius)
    let sum: f64 = 0
    for (let done: u32 = 0; done < total; done += DRAW_MOST) {
      const drawn = min(DRAW_MOST, total - done)
      const at = draw(first + done, drawn, load<u32>(point, POINT_SEED), true, desk)
      for (let r: u32 = 0; r < drawn; r++) {
        const place = at + ((<usize>r) << 2)
        const a = f32x4.splat(load<f32>(firsts + place) * radius)
        const b = f32x4.splat(load<f32>(seconds + place) * radius)
        const ray = rayList + ((<usize>r) << 5)
        v128.store(ray, f32x4.add(above, f32x4.add(f32x4.mul(a, u), f32x4.mul(b, v))))
        v128.store(ray, down, 16)
      }
      closestHits(rayList, hits, drawn, mask, parts, stack, false)
      for (let r: u32 = 0; r < drawn; r++) {
        const hit = hits + ((<usize>r) << 4)
        const slot = load<u32>(hit)
        if (slot == NOTHING) {
          sum -= 1
          continue
        }
        const height = smoothHeight(point, slot, <f64>load<f32>(hit, 8), <f64>load<f32>(hit, 12))
        sum += min<f64>(1, max<f64>(-1, height / <f64>radius))
      }
    }
    store<f32>(out + ((<usize>i) << 2), <f32>(sum / <f64>total))
  }
}

/**
 * Mean way through the form, of cosine-weighted rays into it, each at most the reach; as a share of the reach.
 * @param least clearance near the origin: rays begin as far under the surface as others do above it.
 * @param out one f32 a point.
 */
export function thicknessOf(
  points: usize,
  count: u32,
  rays: u32,
  most: u32,
  salt: u32,
  reach: f32,
  sine: f32,
  least: f64,
  mask: u32,
  parts: usize,
  desk: usize,
  out: usize,
): void {
  const rayList: usize = load<u32>(desk, DESK_RAYS)
  const hits: usize = load<u32>(desk, DESK_HITS)
  const stack: usize = load<u32>(desk, DESK_STACK)
  const firsts: usize = load<u32>(desk, DESK_FIRST)
  const seconds: usize = load<u32>(desk, DESK_SECOND)
  for (let i: u32 = 0; i < count; i++) {
    const point = points + <usize>i * POINT_BYTES
    const total = raysOf(point, rays, most)
    const first = firstOf(point, total)
    const on = point + POINT_ON
    const farthest = max(abs(load<f32>(on)), max(abs(load<f32>(on, 4)), abs(load<f32>(on, 8))))
    const inside = <f32>(least + CLEARANCE * <f64>farthest)
    const origin = f32x4.sub(rowOf(on, 0), f32x4.mul(f32x4.splat(inside), rowOf(point + POINT_GEOMETRIC, 0)))
    let sum: f64 = 0
    for (let done: u32 = 0; done < total; done += DRAW_MOST) {
      const drawn = min(DRAW_MOST, total - done)
      const at = draw(first + done, drawn, load<u32>(point, POINT_SEED) ^ salt, true, desk)
      putCone(point, origin, drawn, sine, -1, reach, firsts + at, seconds + at, rayList)
      closestHits(rayList, hits, drawn, mask, parts, stack, false)
      for (let r: u32 = 0; r < drawn; r++) {
        const hit = hits + ((<usize>r) << 4)
        sum += load<u32>(hit) == NOTHING ? 1 : min<f64>(1, <f64>load<f32>(hit, 4) / <f64>reach)
      }
    }
    store<f32>(out + ((<usize>i) << 2), <f32>(sum / <f64>total))
  }
}

/**
 * Share of rays round the normal whose nearest hit is the back of a triangle: near 1 in a point that lies within a solid, as where
 * one thing stands in another; 0 before surfaces that are seen from outside.
 * @param out one f32 a point.
 */
export function backsOf(
  points: usize,
  count: u32,
  rays: u32,
  reach: f32,
  mask: u32,
  parts: usize,
  desk: usize,
  out: usize,
): void {
  const rayList: usize = load<u32>(desk, DESK_RAYS)
  const hits: usize = load<u32>(desk, DESK_HITS)
  const stack: usize = load<u32>(desk, DESK_STACK)
  const firsts: usize = load<u32>(desk, DESK_FIRST)
  const seconds: usize = load<u32>(desk, DESK_SECOND)
  for (let i: u32 = 0; i < count; i++) {
    const point = points + <usize>i * POINT_BYTES
    const drawn = min(DRAW_MOST, rays)
    const at = draw(firstOf(point, drawn), drawn, load<u32>(point, POINT_SEED), true, desk)
    const sent = putCone(point, rowOf(point, 0), drawn, 1, 1, reach, firsts + at, seconds + at, rayList)
    closestHits(rayList, hits, sent, mask, parts, stack, false)
    let backs: u32 = 0
    for (let r: u32 = 0; r < sent; r++) {
      const hit = load<u32>(hits + ((<usize>r) << 4))
      if (hit != NOTHING && isBack(hit, rayList + ((<usize>r) << 5) + 16)) backs++
    }
    store<f32>(out + ((<usize>i) << 2), sent > 0 ? <f32>backs / <f32>sent : 1)
  }
}
