import { add, all, atLeast, choose, div, divisor, mul, sub } from './vectors'

/**
 * The separable modes of W3C Compositing and Blending Level 1, section 10.1, without taking the backdrop out of its alpha.
 * With b = αb·Cb, a mode's own part is F = αb·B(b/αb, Cs), worked out directly, and what a layer of alpha a changes is
 * a · ((whole − αb)·Cs + F − b): `whole` is 1 where the layer adds to the alpha, αb where it stays within it.
 */

/** Numbers of the modes: the order of BLEND_MODES in src/core/sheet/blend-modes.ts. */
export const NORMAL = 0
export const MULTIPLY = 1
export const SCREEN = 2
export const OVERLAY = 3
export const DARKEN = 4
export const LIGHTEN = 5
export const COLOR_DODGE = 6
export const COLOR_BURN = 7
export const HARD_LIGHT = 8
export const SOFT_LIGHT = 9
export const DIFFERENCE = 10
export const EXCLUSION = 11
export const HUE = 12
export const SATURATION = 13
export const COLOR = 14
export const LUMINOSITY = 15
export const PLUS_LIGHTER = 16
export const PLUS_DARKER = 17
export const SUBTRACT = 18
export const DIVIDE = 19

/**
 * @inline (whole − αb)·Cs + F − b of one channel.
 * @param mode one of the separable ones, a constant.
 * @param b backdrop, premultiplied; @param ab its alpha; @param alone whole − αb; @param rab 1/αb, asked by soft light only.
 * @param cs source, straight.
 */
export function change(mode: i32, b: v128, ab: v128, alone: v128, rab: v128, cs: v128): v128 {
  if (mode == NORMAL) return sub(mul(cs, add(alone, ab)), b)
  if (mode == MULTIPLY) return sub(mul(cs, add(alone, b)), b)
  if (mode == SCREEN) return mul(cs, sub(add(alone, ab), b))
  if (mode == EXCLUSION) return mul(cs, sub(add(alone, ab), add(b, b)))
  const onTop = mul(alone, cs)
  if (mode == OVERLAY) {
    const b2 = add(b, b)
    const t = sub(b2, ab)
    const f = choose(mul(cs, b2), add(mul(cs, sub(ab, t)), t), f32x4.le(t, all(0)))
    return sub(add(onTop, f), b)
  }
  if (mode == DARKEN) return sub(add(onTop, f32x4.pmin(b, mul(ab, cs))), b)
  if (mode == LIGHTEN) return sub(add(onTop, f32x4.pmax(b, mul(ab, cs))), b)
  if (mode == COLOR_DODGE) {
    const q = div(b, divisor(sub(all(1), cs)))
    return sub(add(onTop, f32x4.pmin(q, ab)), b)
  }
  if (mode == COLOR_BURN) {
    const q = div(atLeast(all(0), sub(ab, b)), divisor(cs))
    return sub(add(onTop, sub(ab, f32x4.pmin(q, ab))), b)
  }
  if (mode == HARD_LIGHT) {
    const t = sub(add(cs, cs), all(1))
    const f = choose(mul(b, add(t, all(1))), add(b, mul(t, sub(ab, b))), f32x4.le(t, all(0)))
    return sub(add(onTop, f), b)
  }
  if (mode == SOFT_LIGHT) {
    const cb = mul(b, rab)
    const m = sub(add(cs, cs), all(1))
    const low = mul(b, add(mul(sub(mul(all(16), cb), all(12)), cb), all(4)))
    const d = choose(low, f32x4.sqrt(mul(b, ab)), f32x4.le(cb, all(0.25)))
    const e = choose(sub(b, mul(b, cb)), sub(d, b), f32x4.le(m, all(0)))
    return add(onTop, mul(m, e))
  }
  // Beyond the recommendation: max(0, Cb + Cs − 1), max(0, Cb − Cs), min(1, Cb / Cs).
  if (mode == PLUS_DARKER) return sub(add(onTop, atLeast(all(0), add(b, mul(ab, sub(cs, all(1)))))), b)
  if (mode == SUBTRACT) return sub(add(onTop, atLeast(all(0), sub(b, mul(ab, cs)))), b)
  if (mode == DIVIDE) return sub(add(onTop, f32x4.pmin(div(b, divisor(cs)), ab)), b)
  // DIFFERENCE
  return sub(add(onTop, f32x4.abs(sub(b, mul(ab, cs)))), b)
}
