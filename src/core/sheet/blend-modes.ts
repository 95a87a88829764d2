import type { SeparableBlend } from './separable-modes'
import {
  normal,
  multiply,
  screen,
  overlay,
  darken,
  lighten,
  colorDodge,
  colorBurn,
  hardLight,
  softLight,
  difference,
  exclusion,
  plusDarker,
  subtract,
  divide,
} from './separable-modes'

/**
 * The blend modes of W3C *Compositing and Blending Level 1* (sections 10.1 and 10.2) and `plus-lighter`
 * (CSS Compositing Level 2, section 5.1.13), formulas to the letter; and three of the trade's own beyond them. Channels 0…1, straight (not premultiplied).
 */

/** B(Cb, Cs) for all three; writes to `out`. */
export type NonSeparableBlend = (
  br: number,
  bg: number,
  bb: number,
  sr: number,
  sg: number,
  sb: number,
  out: Float64Array,
) => void

const lum = (r: number, g: number, b: number): number => 0.3 * r + 0.59 * g + 0.11 * b

/** Sets `out` to the colour with luminosity `l`, clipped towards it (ClipColor, SetLum). */
function setLum(r: number, g: number, b: number, l: number, out: Float64Array): void {
  const d = l - lum(r, g, b)
  r += d
  g += d
  b += d
  const mean = lum(r, g, b)
  const low = Math.min(r, g, b)
  const high = Math.max(r, g, b)
  if (low < 0) {
    const k = mean / (mean - low)
    r = mean + (r - mean) * k
    g = mean + (g - mean) * k
    b = mean + (b - mean) * k
  }
  if (high > 1) {
    const k = (1 - mean) / (high - mean)
    r = mean + (r - mean) * k
    g = mean + (g - mean) * k
    b = mean + (b - mean) * k
  }
  out[0] = r
  out[1] = g
  out[2] = b
}

const sat = (r: number, g: number, b: number): number => Math.max(r, g, b) - Math.min(r, g, b)

/** SetSat: stretches the colour to saturation `s`; the least channel becomes 0. Writes to `out`. */
function setSat(r: number, g: number, b: number, s: number, out: Float64Array): void {
  const low = Math.min(r, g, b)
  const range = Math.max(r, g, b) - low
  const k = range > 0 ? s / range : 0
  out[0] = (r - low) * k
  out[1] = (g - low) * k
  out[2] = (b - low) * k
}

const hue: NonSeparableBlend = (br, bg, bb, sr, sg, sb, out) => {
  setSat(sr, sg, sb, sat(br, bg, bb), out)
  setLum(out[0], out[1], out[2], lum(br, bg, bb), out)
}
const saturation: NonSeparableBlend = (br, bg, bb, sr, sg, sb, out) => {
  setSat(br, bg, bb, sat(sr, sg, sb), out)
  setLum(out[0], out[1], out[2], lum(br, bg, bb), out)
}
const color: NonSeparableBlend = (br, bg, bb, sr, sg, sb, out) => setLum(sr, sg, sb, lum(br, bg, bb), out)
const luminosity: NonSeparableBlend = (br, bg, bb, sr, sg, sb, out) =>
  setLum(br, bg, bb, lum(sr, sg, sb), out)

export type BlendDefinition =
  | { readonly label: string; readonly form: 'separable'; readonly blend: SeparableBlend }
  | { readonly label: string; readonly form: 'non-separable'; readonly blend: NonSeparableBlend }
  | { readonly label: string; readonly form: 'plus-lighter' }

export const BLEND_MODES = [
  'normal',
  'multiply',
  'screen',
  'overlay',
  'darken',
  'lighten',
  'color-dodge',
  'color-burn',
  'hard-light',
  'soft-light',
  'difference',
  'exclusion',
  'hue',
  'saturation',
  'color',
  'luminosity',
  'plus-lighter',
  'plus-darker',
  'subtract',
  'divide',
] as const
export type BlendMode = (typeof BLEND_MODES)[number]

const separable = (label: string, blend: SeparableBlend): BlendDefinition => ({
  label,
  form: 'separable',
  blend,
})
const nonSeparable = (label: string, blend: NonSeparableBlend): BlendDefinition => ({
  label,
  form: 'non-separable',
  blend,
})

export const blendDefinitions: Readonly<Record<BlendMode, BlendDefinition>> = {
  normal: separable('Normal', normal),
  multiply: separable('Multiply', multiply),
  screen: separable('Screen', screen),
  overlay: separable('Overlay', overlay),
  darken: separable('Darken', darken),
  lighten: separable('Lighten', lighten),
  'color-dodge': separable('Color dodge', colorDodge),
  'color-burn': separable('Color burn', colorBurn),
  'hard-light': separable('Hard light', hardLight),
  'soft-light': separable('Soft light', softLight),
  difference: separable('Difference', difference),
  exclusion: separable('Exclusion', exclusion),
  hue: nonSeparable('Hue', hue),
  saturation: nonSeparable('Saturation', saturation),
  color: nonSeparable('Color', color),
  luminosity: nonSeparable('Luminosity', luminosity),
  'plus-lighter': { label: 'Plus lighter', form: 'plus-lighter' },
  'plus-darker': separable('Plus darker', plusDarker),
  subtract: separable('Subtract', subtract),
  divide: separable('Divide', divide),
}
