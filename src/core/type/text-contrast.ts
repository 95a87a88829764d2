import { srgbToLinear } from '../math/colour'

/** How well one colour stands out from another, by the two measures in use. */

type Rgb = readonly [number, number, number]

/** WCAG 2.2, "relative luminance". Display values 0…1. */
export const relativeLuminance = ([r, g, b]: Rgb): number =>
  0.2126 * srgbToLinear(r) + 0.7152 * srgbToLinear(g) + 0.0722 * srgbToLinear(b)

/** WCAG 2.2, "contrast ratio": 1 to 21, whichever of the two is the text. */
export function wcagContrast(a: Rgb, b: Rgb): number {
  const [la, lb] = [relativeLuminance(a), relativeLuminance(b)]
  return (Math.max(la, lb) + 0.05) / (Math.min(la, lb) + 0.05)
}

/** Luminance of a screen as APCA has it: a plain power, black lifted softly. */
function apcaLuminance([r, g, b]: Rgb): number {
  const y = 0.2126729 * r ** 2.4 + 0.7151522 * g ** 2.4 + 0.072175 * b ** 2.4
  return y >= 0.022 ? y : y + (0.022 - y) ** 1.414
}

/**
 * Lightness contrast Lc of text on a ground (APCA-W3 0.0.98G, "the base algorithm"): to 106 for dark on bright, to −108 for
 * bright on dark.
 */
export function apcaContrast(text: Rgb, ground: Rgb): number {
  const [t, g] = [apcaLuminance(text), apcaLuminance(ground)]
  if (Math.abs(g - t) < 0.0005) return 0
  const isDarkText = g > t
  const raw = isDarkText ? (g ** 0.56 - t ** 0.57) * 1.14 : (g ** 0.65 - t ** 0.62) * 1.14
  if (Math.abs(raw) < 0.1) return 0
  return 100 * (isDarkText ? raw - 0.027 : raw + 0.027)
}

/** How well type reads on what lies under it. */
export interface Reads {
  /** Contrast ratio: in the middle of all pixels, and of the tenth that reads worst. */
  readonly ratio: number
  readonly worstRatio: number
  /** Lc of the pixel in the middle. */
  readonly lightness: number
}

/**
 * @param own what the type alone shows, straight 8-bit RGBA; @param under the picture without it, of the same size.
 * @returns null where nothing of it is seen.
 */
export function readsOn(own: ArrayLike<number>, under: ArrayLike<number>): Reads | null {
  const ratios: number[] = []
  const lightnesses: number[] = []
  const at = (pixels: ArrayLike<number>, i: number): Rgb => [
    pixels[i] / 255,
    pixels[i + 1] / 255,
    pixels[i + 2] / 255,
  ]
  for (let i = 0; i < own.length; i += 4) {
    if (own[i + 3] < 200) continue
    const [text, ground] = [at(own, i), at(under, i)]
    ratios.push(wcagContrast(text, ground))
    lightnesses.push(apcaContrast(text, ground))
  }
  if (ratios.length === 0) return null
  ratios.sort((a, b) => a - b)
  lightnesses.sort((a, b) => Math.abs(a) - Math.abs(b))
  const middle = Math.floor(ratios.length / 2)
  return {
    ratio: ratios[middle],
    worstRatio: ratios[Math.floor(ratios.length / 10)],
    lightness: lightnesses[middle],
  }
}
