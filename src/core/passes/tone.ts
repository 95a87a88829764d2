import { linearToSrgbFast, parseHex, srgbToLinear } from '../math/colour'
import type { Vec3 } from '../math/vec3'

/** Linear light of a display colour `#rrggbb`. */
export const linearOf = (hex: string): Vec3 => {
  const [r, g, b] = parseHex(hex)
  return [srgbToLinear(r), srgbToLinear(g), srgbToLinear(b)]
}

/** Keeps highlights from clipping: linear below the knee, then a smooth approach to 1. Linear light in and out. */
function shoulder(value: number): number {
  const knee = 0.6
  if (value <= knee) return value
  return knee + (1 - knee) * (1 - Math.exp(-(value - knee) / (1 - knee)))
}

/** Linear light to a display value, highlights rolled off. */
export const toDisplay = (linear: number): number => linearToSrgbFast(shoulder(linear))
