import { parseHex, toHex } from '@/core/math/colour'
import { oklabToSrgb, srgbToOklab } from '@/core/math/oklab'

/** A colour on the way from one to another, in OKLab: what painters expect of a mix of two. @param share 0…1. */
export function mixedColour([from, to]: readonly [string, string], share: number): string {
  const lab = (hex: string) => {
    const [r, g, b] = parseHex(hex)
    return srgbToOklab([r, g, b])
  }
  const [a, b] = [lab(from), lab(to)]
  const mixed = a.map((v, i) => v + share * (b[i] - v)) as [number, number, number]
  return toHex(oklabToSrgb(mixed).map((v) => Math.min(1, Math.max(0, v))))
}
