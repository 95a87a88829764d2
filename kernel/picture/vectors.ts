/**
 * Four numbers at once, one of each of four pixels, under short names. The doc tag `@inline` becomes the compiler's own
 * decorator (scripts/kernel.mjs): functions given constants are then specialised to them.
 *
 * `pmin` and `pmax` are one instruction each where `min` and `max` take four or more. They give their first argument when
 * either is no number: `atMost(limit, x)` and `atLeast(limit, x)` name the limit first, so that a NaN becomes the limit.
 */

/** @inline */
export function mul(a: v128, b: v128): v128 {
  return f32x4.mul(a, b)
}
/** @inline */
export function add(a: v128, b: v128): v128 {
  return f32x4.add(a, b)
}
/** @inline */
export function sub(a: v128, b: v128): v128 {
  return f32x4.sub(a, b)
}
/** @inline */
export function div(a: v128, b: v128): v128 {
  return f32x4.div(a, b)
}
/** @inline Four times the same number. */
export function all(x: f32): v128 {
  return f32x4.splat(x)
}
/** @inline Where the mask is set `a`, elsewhere `b`. */
export function choose(a: v128, b: v128, where: v128): v128 {
  return v128.bitselect(a, b, where)
}
/** @inline */
export function atMost(limit: v128, x: v128): v128 {
  return f32x4.pmin(limit, x)
}
/** @inline */
export function atLeast(limit: v128, x: v128): v128 {
  return f32x4.pmax(limit, x)
}
/** @inline Between 0 and 1; 0 for what is no number. */
export function clamp01(x: v128): v128 {
  return atMost(all(1), atLeast(all(0), x))
}
/** @inline A divisor that is never 0. */
export function divisor(x: v128): v128 {
  return atLeast(all(1e-30), x)
}
/** @inline */
export function least(a: v128, b: v128, c: v128): v128 {
  return f32x4.pmin(f32x4.pmin(a, b), c)
}
/** @inline */
export function greatest(a: v128, b: v128, c: v128): v128 {
  return f32x4.pmax(f32x4.pmax(a, b), c)
}
/** @inline Rounded to whole numbers, |x| < 4,194,304: 1.5 · 2²³ leaves no room for what lies behind the point. */
export function toInt(x: v128): v128 {
  return i32x4.sub(f32x4.add(x, all(12582912)), i32x4.splat(0x4b400000))
}
/** @inline Four u16 as numbers. */
export function load16(at: usize, offset: usize = 0): v128 {
  return f32x4.convert_i32x4_s(v128.load16x4_u(at + offset))
}
/** @inline Four u8 as numbers. */
export function load8(at: usize): v128 {
  return f32x4.convert_i32x4_s(i32x4.extend_low_i16x8_u(i16x8.extend_low_i8x16_u(v128.load32_zero(at))))
}
/** @inline The luminosity of W3C Compositing and Blending, section 10.2. */
export function luminosity(r: v128, g: v128, b: v128): v128 {
  return add(add(mul(all(0.3), r), mul(all(0.59), g)), mul(all(0.11), b))
}
