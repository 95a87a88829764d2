import {
  colorBurn,
  colorDodge,
  darken,
  difference,
  exclusion,
  hardLight,
  lighten,
  overlay,
  screen,
  softLight,
} from '@/core/sheet/separable-modes'
import { blendDefinitions, type BlendMode } from '@/core/sheet/blend-modes'

/**
 * The loops that composited layers before there was a picture kernel, kept as what it is measured against: plain TypeScript, a
 * whole layer at a time, one loop for each mode.
 */

/**
 * Puts a layer over a backdrop, in place.
 * @param b backdrop: Float32Array, 4·n, premultiplied; changed.
 * @param s source: Float32Array, 4·n, straight alpha.
 * @param opacity 0…1.
 * @param confineTo Float32Array, n, an extra alpha for each pixel, or null.
 */
type SeparableOver = (
  b: Float32Array,
  s: Float32Array,
  opacity: number,
  confineTo: Float32Array | null,
) => void

const alphaAt = (
  s: Float32Array,
  i: number,
  p: number,
  opacity: number,
  confineTo: Float32Array | null,
): number => (confineTo === null ? s[i + 3] * opacity : s[i + 3] * opacity * confineTo[p])

/** What takes a premultiplied value back to a straight one. */
const unmultiplier = (alpha: number): number => (alpha === 1 ? 1 : alpha > 0 ? 1 / alpha : 0)

function straight(b: Float32Array, at: number, unmultiply: number): number {
  const value = b[at] * unmultiply
  return value < 1 ? value : 1
}

/** Compositing and Blending Level 1, section 5.1, with the blended colour already known. */
function put(
  b: Float32Array,
  s: Float32Array,
  i: number,
  as: number,
  mr: number,
  mg: number,
  mb: number,
): void {
  const ab = b[i + 3]
  const both = as * ab
  const alone = as - both
  const keep = 1 - as
  b[i] = alone * s[i] + both * mr + keep * b[i]
  b[i + 1] = alone * s[i + 1] + both * mg + keep * b[i + 1]
  b[i + 2] = alone * s[i + 2] + both * mb + keep * b[i + 2]
  b[i + 3] = as + ab * keep
}

/** Needs nothing of the backdrop but itself. */
const normalOver: SeparableOver = (b, s, opacity, confineTo) => {
  for (let i = 0, p = 0; i < b.length; i += 4, p++) {
    const as = alphaAt(s, i, p, opacity, confineTo)
    if (as === 0) continue
    const keep = 1 - as
    b[i] = s[i] * as + b[i] * keep
    b[i + 1] = s[i + 1] * as + b[i + 1] * keep
    b[i + 2] = s[i + 2] * as + b[i + 2] * keep
    b[i + 3] = as + b[i + 3] * keep
  }
}

/** B = cb·cs, so that αb·B is the premultiplied backdrop times cs: no division. */
const multiplyOver: SeparableOver = (b, s, opacity, confineTo) => {
  for (let i = 0, p = 0; i < b.length; i += 4, p++) {
    const as = alphaAt(s, i, p, opacity, confineTo)
    if (as === 0) continue
    const ab = b[i + 3]
    const alone = as * (1 - ab)
    const keep = 1 - as
    b[i] = s[i] * (alone + as * b[i]) + keep * b[i]
    b[i + 1] = s[i + 1] * (alone + as * b[i + 1]) + keep * b[i + 1]
    b[i + 2] = s[i + 2] * (alone + as * b[i + 2]) + keep * b[i + 2]
    b[i + 3] = as + ab * keep
  }
}

const screenOver: SeparableOver = (b, s, opacity, confineTo) => {
  for (let i = 0, p = 0; i < b.length; i += 4, p++) {
    const as = alphaAt(s, i, p, opacity, confineTo)
    if (as === 0) continue
    const u = unmultiplier(b[i + 3])
    const mr = screen(straight(b, i, u), s[i])
    const mg = screen(straight(b, i + 1, u), s[i + 1])
    put(b, s, i, as, mr, mg, screen(straight(b, i + 2, u), s[i + 2]))
  }
}

const overlayOver: SeparableOver = (b, s, opacity, confineTo) => {
  for (let i = 0, p = 0; i < b.length; i += 4, p++) {
    const as = alphaAt(s, i, p, opacity, confineTo)
    if (as === 0) continue
    const u = unmultiplier(b[i + 3])
    const mr = overlay(straight(b, i, u), s[i])
    const mg = overlay(straight(b, i + 1, u), s[i + 1])
    put(b, s, i, as, mr, mg, overlay(straight(b, i + 2, u), s[i + 2]))
  }
}

const darkenOver: SeparableOver = (b, s, opacity, confineTo) => {
  for (let i = 0, p = 0; i < b.length; i += 4, p++) {
    const as = alphaAt(s, i, p, opacity, confineTo)
    if (as === 0) continue
    const u = unmultiplier(b[i + 3])
    const mr = darken(straight(b, i, u), s[i])
    const mg = darken(straight(b, i + 1, u), s[i + 1])
    put(b, s, i, as, mr, mg, darken(straight(b, i + 2, u), s[i + 2]))
  }
}

const lightenOver: SeparableOver = (b, s, opacity, confineTo) => {
  for (let i = 0, p = 0; i < b.length; i += 4, p++) {
    const as = alphaAt(s, i, p, opacity, confineTo)
    if (as === 0) continue
    const u = unmultiplier(b[i + 3])
    const mr = lighten(straight(b, i, u), s[i])
    const mg = lighten(straight(b, i + 1, u), s[i + 1])
    put(b, s, i, as, mr, mg, lighten(straight(b, i + 2, u), s[i + 2]))
  }
}

const colorDodgeOver: SeparableOver = (b, s, opacity, confineTo) => {
  for (let i = 0, p = 0; i < b.length; i += 4, p++) {
    const as = alphaAt(s, i, p, opacity, confineTo)
    if (as === 0) continue
    const u = unmultiplier(b[i + 3])
    const mr = colorDodge(straight(b, i, u), s[i])
    const mg = colorDodge(straight(b, i + 1, u), s[i + 1])
    put(b, s, i, as, mr, mg, colorDodge(straight(b, i + 2, u), s[i + 2]))
  }
}

const colorBurnOver: SeparableOver = (b, s, opacity, confineTo) => {
  for (let i = 0, p = 0; i < b.length; i += 4, p++) {
    const as = alphaAt(s, i, p, opacity, confineTo)
    if (as === 0) continue
    const u = unmultiplier(b[i + 3])
    const mr = colorBurn(straight(b, i, u), s[i])
    const mg = colorBurn(straight(b, i + 1, u), s[i + 1])
    put(b, s, i, as, mr, mg, colorBurn(straight(b, i + 2, u), s[i + 2]))
  }
}

const hardLightOver: SeparableOver = (b, s, opacity, confineTo) => {
  for (let i = 0, p = 0; i < b.length; i += 4, p++) {
    const as = alphaAt(s, i, p, opacity, confineTo)
    if (as === 0) continue
    const u = unmultiplier(b[i + 3])
    const mr = hardLight(straight(b, i, u), s[i])
    const mg = hardLight(straight(b, i + 1, u), s[i + 1])
    put(b, s, i, as, mr, mg, hardLight(straight(b, i + 2, u), s[i + 2]))
  }
}

const softLightOver: SeparableOver = (b, s, opacity, confineTo) => {
  for (let i = 0, p = 0; i < b.length; i += 4, p++) {
    const as = alphaAt(s, i, p, opacity, confineTo)
    if (as === 0) continue
    const u = unmultiplier(b[i + 3])
    const mr = softLight(straight(b, i, u), s[i])
    const mg = softLight(straight(b, i + 1, u), s[i + 1])
    put(b, s, i, as, mr, mg, softLight(straight(b, i + 2, u), s[i + 2]))
  }
}

const differenceOver: SeparableOver = (b, s, opacity, confineTo) => {
  for (let i = 0, p = 0; i < b.length; i += 4, p++) {
    const as = alphaAt(s, i, p, opacity, confineTo)
    if (as === 0) continue
    const u = unmultiplier(b[i + 3])
    const mr = difference(straight(b, i, u), s[i])
    const mg = difference(straight(b, i + 1, u), s[i + 1])
    put(b, s, i, as, mr, mg, difference(straight(b, i + 2, u), s[i + 2]))
  }
}

const exclusionOver: SeparableOver = (b, s, opacity, confineTo) => {
  for (let i = 0, p = 0; i < b.length; i += 4, p++) {
    const as = alphaAt(s, i, p, opacity, confineTo)
    if (as === 0) continue
    const u = unmultiplier(b[i + 3])
    const mr = exclusion(straight(b, i, u), s[i])
    const mg = exclusion(straight(b, i + 1, u), s[i + 1])
    put(b, s, i, as, mr, mg, exclusion(straight(b, i + 2, u), s[i + 2]))
  }
}

const LOOPS: Partial<Record<BlendMode, SeparableOver>> = {
  normal: normalOver,
  multiply: multiplyOver,
  screen: screenOver,
  overlay: overlayOver,
  darken: darkenOver,
  lighten: lightenOver,
  'color-dodge': colorDodgeOver,
  'color-burn': colorBurnOver,
  'hard-light': hardLightOver,
  'soft-light': softLightOver,
  difference: differenceOver,
  exclusion: exclusionOver,
}

/** Puts a layer over a backdrop, in place. */
export function plainLoop(
  backdrop: Float32Array,
  source: Float32Array,
  mode: BlendMode,
  opacity: number,
  weights: Float32Array | null,
): void {
  const separable = LOOPS[mode]
  if (separable) {
    separable(backdrop, source, opacity, weights)
    return
  }
  const definition = blendDefinitions[mode]
  const mixed = new Float64Array(3)
  for (let i = 0, p = 0; i < backdrop.length; i += 4, p++) {
    const as = source[i + 3] * opacity * (weights ? weights[p] : 1)
    if (as === 0) continue
    const ab = backdrop[i + 3]
    if (definition.form === 'plus-lighter') {
      for (let c = i; c < i + 3; c++) backdrop[c] = Math.min(1, backdrop[c] + source[c] * as)
      backdrop[i + 3] = Math.min(1, ab + as)
      continue
    }
    if (definition.form !== 'non-separable') continue
    const u = ab > 0 ? 1 / ab : 0
    definition.blend(
      backdrop[i] * u,
      backdrop[i + 1] * u,
      backdrop[i + 2] * u,
      source[i],
      source[i + 1],
      source[i + 2],
      mixed,
    )
    for (let c = 0; c < 3; c++)
      backdrop[i + c] = as * (1 - ab) * source[i + c] + as * ab * mixed[c] + (1 - as) * backdrop[i + c]
    backdrop[i + 3] = as + ab * (1 - as)
  }
}
