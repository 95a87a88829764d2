/** The separable blend modes of W3C Compositing and Blending Level 1, section 10.1: a formula for one channel each. */

/** B(cb, cs) for one channel: backdrop first, source second. Straight values, 0…1. */
export type SeparableBlend = (backdrop: number, source: number) => number

export const normal: SeparableBlend = (_cb, cs) => cs
export const multiply: SeparableBlend = (cb, cs) => cb * cs
export const screen: SeparableBlend = (cb, cs) => cb + cs - cb * cs
export const hardLight: SeparableBlend = (cb, cs) =>
  cs <= 0.5 ? multiply(cb, 2 * cs) : screen(cb, 2 * cs - 1)
export const overlay: SeparableBlend = (cb, cs) => hardLight(cs, cb)
export const darken: SeparableBlend = (cb, cs) => (cb < cs ? cb : cs)
export const lighten: SeparableBlend = (cb, cs) => (cb > cs ? cb : cs)
export const colorDodge: SeparableBlend = (cb, cs) =>
  cb === 0 ? 0 : cs >= 1 ? 1 : Math.min(1, cb / (1 - cs))
export const colorBurn: SeparableBlend = (cb, cs) =>
  cb >= 1 ? 1 : cs <= 0 ? 0 : 1 - Math.min(1, (1 - cb) / cs)
export function softLight(cb: number, cs: number): number {
  if (cs <= 0.5) return cb - (1 - 2 * cs) * cb * (1 - cb)
  const d = cb <= 0.25 ? ((16 * cb - 12) * cb + 4) * cb : Math.sqrt(cb)
  return cb + (2 * cs - 1) * (d - cb)
}
export const difference: SeparableBlend = (cb, cs) => Math.abs(cb - cs)
export const exclusion: SeparableBlend = (cb, cs) => cb + cs - 2 * cb * cs

// Beyond the recommendation.

/** What two darks take away from white together. */
export const plusDarker: SeparableBlend = (cb, cs) => Math.max(0, cb + cs - 1)
export const subtract: SeparableBlend = (cb, cs) => Math.max(0, cb - cs)
/** The backdrop as it would be if the source were white. */
export const divide: SeparableBlend = (cb, cs) => (cb <= 0 ? 0 : cs <= 0 ? 1 : Math.min(1, cb / cs))
