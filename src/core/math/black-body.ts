import type { Rgb } from './colour'

/** Temperatures for which the fit below holds, in kelvin. */
export const COOLEST_KELVIN = 1700
export const HOTTEST_KELVIN = 20000

/**
 * The colour of a black body as linear sRGB, its largest channel 1: the Planckian locus by the cubic fit of Kim et al.
 * 2002 (US patent 7024034; error below 0.001 in xy), then CIE xyY to sRGB (IEC 61966-2-1). Clamped to its range.
 */
export function blackBody(kelvin: number): Rgb {
  const t = Math.min(HOTTEST_KELVIN, Math.max(COOLEST_KELVIN, kelvin))
  const [t1, t2, t3] = [1e3 / t, 1e6 / t ** 2, 1e9 / t ** 3]
  const x =
    t <= 4000
      ? -0.2661239 * t3 - 0.234358 * t2 + 0.8776956 * t1 + 0.17991
      : -3.0258469 * t3 + 2.1070379 * t2 + 0.2226347 * t1 + 0.24039
  const y =
    t <= 2222
      ? -1.1063814 * x ** 3 - 1.3481102 * x ** 2 + 2.18555832 * x - 0.20219683
      : t <= 4000
        ? -0.9549476 * x ** 3 - 1.37418593 * x ** 2 + 2.09137015 * x - 0.16748867
        : 3.081758 * x ** 3 - 5.8733867 * x ** 2 + 3.75112997 * x - 0.37001483
  const [X, Z] = [x / y, (1 - x - y) / y]
  const linear = [
    3.2404542 * X - 1.5371385 - 0.4985314 * Z,
    -0.969266 * X + 1.8760108 + 0.041556 * Z,
    0.0556434 * X - 0.2040259 + 1.0572252 * Z,
  ].map((v) => Math.max(0, v))
  const most = Math.max(...linear)
  return [linear[0] / most, linear[1] / most, linear[2] / most]
}
