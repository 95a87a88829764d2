import { InvalidValueError } from '../errors'

/** Colour encodings. All channels run 0…1 unless said otherwise. */

export type Rgb = readonly [number, number, number]

/** sRGB electro-optical transfer, IEC 61966-2-1: display value to linear light. */
export const srgbToLinear = (v: number): number =>
  v <= 0.04045 ? v / 12.92 : Math.pow((v + 0.055) / 1.055, 2.4)

/** The inverse of {@link srgbToLinear}: linear light to display value. */
export const linearToSrgb = (v: number): number =>
  v <= 0.0031308 ? v * 12.92 : 1.055 * Math.pow(v, 1 / 2.4) - 0.055

const LUT_SIZE = 4096
const encodeLut = new Float32Array(LUT_SIZE + 2)
for (let i = 0; i < encodeLut.length; i++) encodeLut[i] = linearToSrgb((i / LUT_SIZE) ** 2)

/** {@link linearToSrgb} by table over √v, error below 1e-5 on 0…1; clamps to that range. For hot loops. */
export function linearToSrgbFast(v: number): number {
  if (!(v > 0)) return 0
  if (v >= 1) return 1
  const at = Math.sqrt(v) * LUT_SIZE
  const i = at | 0
  return encodeLut[i] + (encodeLut[i + 1] - encodeLut[i]) * (at - i)
}

const HEX = /^#?([0-9a-f]{3}|[0-9a-f]{4}|[0-9a-f]{6}|[0-9a-f]{8})$/i

/**
 * Reads `#rgb`, `#rgba`, `#rrggbb` or `#rrggbbaa` (CSS Color 4, §5.2) as display values with straight alpha.
 * @throws {InvalidValueError} when the text is none of these.
 */
export function parseHex(text: string): readonly [number, number, number, number] {
  const match = HEX.exec(text)
  if (!match) throw new InvalidValueError('colour', 'must look like #rrggbb or #rrggbbaa', text)
  let digits = match[1]
  if (digits.length < 6) digits = [...digits].map((d) => d + d).join('')
  const at = (i: number) => parseInt(digits.slice(i, i + 2), 16) / 255
  return [at(0), at(2), at(4), digits.length === 8 ? at(6) : 1]
}

/** Display values to `#rrggbb`; clamps to 0…1. */
export const toHex = (rgb: readonly number[]): string =>
  '#' +
  rgb
    .slice(0, 3)
    .map((v) =>
      Math.round(Math.min(1, Math.max(0, v)) * 255)
        .toString(16)
        .padStart(2, '0'),
    )
    .join('')
