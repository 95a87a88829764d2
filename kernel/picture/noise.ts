import { add, all, mul, sub } from './vectors'

/** Seeded noise, the same as src/core/math/noise.ts: numbers of grid points, smooth between them. */

/** @inline A number of each of four grid points, 0 to below 1. */
function grid(x: v128, y: v128, seed: i32): v128 {
  let h = v128.xor(
    v128.xor(i32x4.mul(x, i32x4.splat(0x9e3779b1)), i32x4.mul(y, i32x4.splat(0x85ebca6b))),
    i32x4.splat(seed),
  )
  h = i32x4.mul(v128.xor(h, i32x4.shr_u(h, 16)), i32x4.splat(0x21f0aaad))
  h = i32x4.mul(v128.xor(h, i32x4.shr_u(h, 15)), i32x4.splat(0x735a2d97))
  h = v128.xor(h, i32x4.shr_u(h, 15))
  return mul(f32x4.convert_i32x4_s(i32x4.shr_u(h, 8)), all(<f32>(1.0 / 16777216.0)))
}

/** @inline Perlin's quintic (2002). */
function fade(t: v128): v128 {
  const inner = add(mul(t, sub(mul(t, all(6)), all(15))), all(10))
  return mul(mul(mul(t, t), t), inner)
}

/** @inline Between the numbers of the four grid points about each place. */
function smooth(x: v128, y: v128, seed: i32): v128 {
  const fx = f32x4.floor(x)
  const fy = f32x4.floor(y)
  const u = fade(sub(x, fx))
  const v = fade(sub(y, fy))
  const ix = i32x4.trunc_sat_f32x4_s(fx)
  const iy = i32x4.trunc_sat_f32x4_s(fy)
  const jx = i32x4.add(ix, i32x4.splat(1))
  const jy = i32x4.add(iy, i32x4.splat(1))
  const a = grid(ix, iy, seed)
  const c = grid(ix, jy, seed)
  const top = add(a, mul(u, sub(grid(jx, iy, seed), a)))
  const low = add(c, mul(u, sub(grid(jx, jy, seed), c)))
  return add(top, mul(v, sub(low, top)))
}

/**
 * A square of noise, a number a pixel: the mean of points × points places of each.
 * @param side pixels, a multiple of 4. @param x0, y0 the middle of the first pixel, in sheet pixels. @param step sheet pixels a pixel.
 * @param ax, ay, bx, by what makes the noise's own places of sheet pixels: (ax·x + ay·y, bx·x + by·y).
 * @param octaves each half as large and half as strong as the one before.
 */
export function noiseSquare(
  out: usize,
  side: i32,
  x0: f32,
  y0: f32,
  step: f32,
  ax: f32,
  ay: f32,
  bx: f32,
  by: f32,
  seed: i32,
  octaves: i32,
  points: i32,
): void {
  const lanes = f32x4(0, 1, 2, 3)
  const part: f32 = step / <f32>points
  const first: f32 = -(<f32>(points - 1)) * 0.5 * part
  let most: f32 = 0
  for (let k = 0, weight: f32 = 1; k < octaves; k++, weight *= 0.5) most += weight
  const share = all(<f32>1 / (most * <f32>(points * points)))
  for (let y = 0; y < side; y++) {
    for (let x = 0; x < side; x += 4) {
      let sum = all(0)
      for (let j = 0; j < points; j++) {
        const py: f32 = y0 + <f32>y * step + first + <f32>j * part
        for (let i = 0; i < points; i++) {
          const px = add(all(x0 + <f32>x * step + first + <f32>i * part), mul(lanes, all(step)))
          let u = add(mul(px, all(ax)), all(ay * py))
          let v = add(mul(px, all(bx)), all(by * py))
          let weight: f32 = 1
          for (let k = 0; k < octaves; k++) {
            sum = add(sum, mul(all(weight), smooth(u, v, (seed + 101 * k + 1) * 0xc2b2ae35)))
            u = add(u, u)
            v = add(v, v)
            weight *= 0.5
          }
        }
      }
      v128.store(out, mul(sum, share))
      out += 16
    }
  }
}
