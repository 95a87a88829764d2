import { linearToSrgb } from '../math/colour'
import { assertNever } from '../errors'
import { blendDefinitions, type BlendMode } from './blend-modes'

/**
 * Compositing as its formulas are written, in double precision, one pixel at a time: what the picture kernel is held to, and
 * the source of its meaning. Colours are r g b a, 0…1.
 */
export type Pixel = readonly [number, number, number, number]

/** B(Cb, Cs) of all three channels. */
function blended(mode: BlendMode, backdrop: readonly number[], source: readonly number[]): number[] {
  const definition = blendDefinitions[mode]
  switch (definition.form) {
    case 'separable':
      return [0, 1, 2].map((c) => definition.blend(backdrop[c], source[c]))
    case 'non-separable': {
      const out = new Float64Array(3)
      const [br, bg, bb] = backdrop
      definition.blend(br, bg, bb, source[0], source[1], source[2], out)
      return [...out]
    }
    case 'plus-lighter':
      return [0, 1, 2].map((c) => Math.min(1, backdrop[c] + source[c]))
    default:
      return assertNever(definition)
  }
}

const straightOf = ([r, g, b, a]: Pixel): number[] => (a > 0 ? [r / a, g / a, b / a] : [0, 0, 0])

/**
 * A layer over a backdrop: `co = αs·(1 − αb)·Cs + αs·αb·B(Cb, Cs) + (1 − αs)·αb·Cb`, `αo = αs + αb·(1 − αs)`
 * (Compositing and Blending Level 1, section 5.1); plus lighter `co = min(1, αs·Cs + αb·Cb)`, `αo = min(1, αs + αb)`
 * (Level 2).
 * @param backdrop premultiplied. @param source straight. @param weight opacity, mask and gate together, 0…1.
 * @returns premultiplied.
 */
export function plainOver(mode: BlendMode, backdrop: Pixel, source: Pixel, weight: number): Pixel {
  const ab = backdrop[3]
  const as = source[3] * weight
  if (blendDefinitions[mode].form === 'plus-lighter') {
    const lit = (c: number) => Math.min(1, backdrop[c] + as * source[c])
    return [lit(0), lit(1), lit(2), Math.min(1, ab + as)]
  }
  const mixed = blended(mode, straightOf(backdrop), source)
  const co = (c: number) => as * (1 - ab) * source[c] + as * ab * mixed[c] + (1 - as) * backdrop[c]
  return [co(0), co(1), co(2), as + ab * (1 - as)]
}

/** A layer within the alpha of a backdrop, which stays: `Co = (1 − αs)·Cb + αs·B(Cb, Cs)`, straight. What a wash does. */
export function plainWithin(mode: BlendMode, backdrop: Pixel, source: Pixel, weight: number): Pixel {
  const ab = backdrop[3]
  const as = source[3] * weight
  const straight = straightOf(backdrop)
  // Plus lighter adds as much as the layer weighs, and no more than 1.
  const mixed =
    blendDefinitions[mode].form === 'plus-lighter'
      ? straight.map((v, c) => Math.min(1, v + as * source[c]))
      : blended(mode, straight, source).map((v, c) => straight[c] + as * (v - straight[c]))
  return [ab * mixed[0], ab * mixed[1], ab * mixed[2], ab]
}

/** Where a tone gate opens and closes: black0 ≤ black1 ≤ white0 ≤ white1, 0…1. */
export type ToneRange = readonly [black0: number, black1: number, white0: number, white1: number]

/** The luminosity of a straight colour, of its display values (W3C: 0.3, 0.59, 0.11). */
export function plainTone([r, g, b]: readonly number[], isLinear: boolean): number {
  const shown = isLinear ? linearToSrgb : (v: number) => v
  return 0.3 * shown(r) + 0.59 * shown(g) + 0.11 * shown(b)
}

/** How far a gate is open for a tone: 0 up to black0, 1 from black1 to white0, 0 from white1, straight between. */
export function plainGate([black0, black1, white0, white1]: ToneRange, tone: number): number {
  const up = tone >= black1 ? 1 : tone <= black0 ? 0 : (tone - black0) / (black1 - black0)
  const down = tone <= white0 ? 1 : tone >= white1 ? 0 : (white1 - tone) / (white1 - white0)
  return up * down
}

/** A pass-through group with an opacity: what lay there, premultiplied, towards what its children made of it. */
export const plainMixBack = (before: Pixel, now: Pixel, weight: number): Pixel => {
  const mix = (c: number) => before[c] + weight * (now[c] - before[c])
  return [mix(0), mix(1), mix(2), mix(3)]
}
