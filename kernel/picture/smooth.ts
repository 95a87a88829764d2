import { add, all, atLeast, choose, clamp01, div, mul, sub } from './vectors'

/**
 * One pass of the filter that takes noise from surfaces, four pixels at a time; src/core/passes/denoise.ts says what it is.
 * Planes of 4 bytes a pixel lie `plane` bytes after each other: of the form the surface (i32), its normal x, y, z, the distance and
 * how much that changes across and down (f32). Beyond the picture lie pixels of no surface, as far as is looked.
 */

/** Numbers of surfaces from here on are none. */
const FIRST_NONE: i32 = 65534
/** Bytes of a neighbour that counts: weights, where it counts, how far off it lies. */
const NEIGHBOUR: usize = 48

/** @inline Weights of a cubic B-spline over five pixels. */
function spline(d: i32): f32 {
  return d == 0 ? 0.375 : abs(d) == 1 ? 0.25 : 0.0625
}
/** @inline */
function power8(x: v128): v128 {
  const x2 = mul(x, x)
  const x4 = mul(x2, x2)
  return mul(x4, x4)
}

/**
 * @param neighbours room for 25 of them.
 * @param scales a number a plane: how far squares of differences count, before what is about is known (f32).
 * @param from address of the first pixel within a plane. @param width a multiple of 4; rows lie `row` bytes after each other.
 * @param step between the pixels that are looked at.
 */
export function smoothSurfaces(
  form: usize,
  values: usize,
  next: usize,
  plane: usize,
  planes: i32,
  scales: usize,
  neighbours: usize,
  from: usize,
  width: i32,
  height: i32,
  row: usize,
  step: i32,
): void {
  const along = <f32>step
  for (let y = 0; y < height; y++) {
    let at = from + <usize>y * row
    for (let x = 0; x < width; x += 4) {
      let own = form + at
      const surface = v128.load(own)
      const isOwn = i32x4.lt_s(surface, i32x4.splat(FIRST_NONE))
      if (!v128.any_true(isOwn)) {
        let p = at
        for (let k = 0; k < planes; k++) {
          v128.store(next + p, v128.load(values + p))
          p += plane
        }
        at += 16
        continue
      }
      // 1. Neighbours of the same surface, that face the same way and lie in the same plane.
      own += plane
      const nx = v128.load(own)
      own += plane
      const ny = v128.load(own)
      own += plane
      const nz = v128.load(own)
      own += plane
      const depth = v128.load(own)
      own += plane
      const across = mul(all(along), v128.load(own))
      own += plane
      const down = mul(all(along), v128.load(own))
      const allowed = add(
        add(f32x4.abs(across), f32x4.abs(down)),
        add(mul(all(2e-3), f32x4.abs(depth)), all(1e-12)),
      )
      const perAllowed = div(all(1), allowed)
      let count = all(0)
      let last = neighbours
      for (let dy = -2; dy <= 2; dy++) {
        for (let dx = -2; dx <= 2; dx++) {
          const off = dy * step * <i32>row + ((dx * step) << 2)
          let other = form + at + <usize>off
          let counts = v128.and(isOwn, i32x4.eq(surface, v128.load(other)))
          if (!v128.any_true(counts)) continue
          other += plane
          let cosine = mul(nx, v128.load(other))
          other += plane
          cosine = add(cosine, mul(ny, v128.load(other)))
          other += plane
          cosine = add(cosine, mul(nz, v128.load(other)))
          other += plane
          const planar = add(add(depth, mul(all(<f32>dx), across)), mul(all(<f32>dy), down))
          const apart = mul(f32x4.abs(sub(v128.load(other), planar)), perAllowed)
          counts = v128.and(counts, v128.and(f32x4.ge(cosine, all(0.9)), f32x4.le(apart, all(1))))
          if (!v128.any_true(counts)) continue
          const faces8 = power8(cosine)
          const faces16 = mul(faces8, faces8)
          const weight = mul(mul(all(spline(dx) * spline(dy)), mul(faces16, faces16)), sub(all(1), apart))
          v128.store(last, v128.and(counts, weight))
          v128.store(last, counts, 16)
          store<i32>(last, off, 32)
          last += NEIGHBOUR
          count = add(count, v128.and(counts, all(1)))
        }
      }
      // 2. Their mean, as far as the noise explains that they differ.
      const perCount = div(all(1), atLeast(all(1), count))
      let p = at
      for (let k = 0; k < planes; k++) {
        const value = v128.load(values + p)
        let share = all(0)
        for (let one = neighbours; one < last; one += NEIGHBOUR)
          share = add(share, v128.and(v128.load(one, 16), v128.load(values + p + <usize>load<i32>(one, 32))))
        share = clamp01(mul(share, perCount))
        const scale = div(
          v128.load32_splat(scales + ((<usize>k) << 2)),
          atLeast(all(0.02), mul(share, sub(all(1), share))),
        )
        let sum = all(0)
        let total = all(0)
        for (let one = neighbours; one < last; one += NEIGHBOUR) {
          const other = v128.and(v128.load(one, 16), v128.load(values + p + <usize>load<i32>(one, 32)))
          const apart = sub(other, value)
          const near = atLeast(all(0), sub(all(1), mul(mul(apart, apart), scale)))
          // (1 − d² / 9)⁹ stands for exp(−d²).
          const weight = mul(v128.load(one), mul(power8(near), near))
          sum = add(sum, mul(weight, other))
          total = add(total, weight)
        }
        const isSome = v128.and(isOwn, f32x4.gt(total, all(0)))
        v128.store(next + p, choose(div(sum, total), value, isSome))
        p += plane
      }
      at += 16
    }
  }
}
