import type { Rgb } from './colour'
import { linearToSrgb, srgbToLinear } from './colour'

/** OKLab (Ottosson 2020): lightness 0…1, and two axes of hue and chroma. */
export type Oklab = readonly [l: number, a: number, b: number]

export function srgbToOklab([r8, g8, b8]: Rgb): Oklab {
  const [r, g, b] = [srgbToLinear(r8), srgbToLinear(g8), srgbToLinear(b8)]
  const l = Math.cbrt(0.4122214708 * r + 0.5363325363 * g + 0.0514459929 * b)
  const m = Math.cbrt(0.2119034982 * r + 0.6806995451 * g + 0.1073969566 * b)
  const s = Math.cbrt(0.0883024619 * r + 0.2817188376 * g + 0.6299787005 * b)
  return [
    0.2104542553 * l + 0.793617785 * m - 0.0040720468 * s,
    1.9779984951 * l - 2.428592205 * m + 0.4505937099 * s,
    0.0259040371 * l + 0.7827717662 * m - 0.808675766 * s,
  ]
}

/** Display sRGB, clipped to what a display shows. */
export function oklabToSrgb([lightness, a, b]: Oklab): Rgb {
  const l = (lightness + 0.3963377774 * a + 0.2158037573 * b) ** 3
  const m = (lightness - 0.1055613458 * a - 0.0638541728 * b) ** 3
  const s = (lightness - 0.0894841775 * a - 1.291485548 * b) ** 3
  const clip = (v: number) => linearToSrgb(Math.min(1, Math.max(0, v)))
  return [
    clip(4.0767416621 * l - 3.3077115913 * m + 0.2309699292 * s),
    clip(-1.2684380046 * l + 2.6097574011 * m - 0.3413193965 * s),
    clip(-0.0041960863 * l - 0.7034186147 * m + 1.707614701 * s),
  ]
}

/** Distance of two colours in OKLab; 1 is from black to white. */
export const oklabDistance = (x: Oklab, y: Oklab): number => Math.hypot(x[0] - y[0], x[1] - y[1], x[2] - y[2])

/** OKLCh to display sRGB, clipped (Ottosson 2020). `hueRad` in radians. */
export const oklchToRgb = (lightness: number, chroma: number, hueRad: number): Rgb =>
  oklabToSrgb([lightness, chroma * Math.cos(hueRad), chroma * Math.sin(hueRad)])
