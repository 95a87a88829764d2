import type { Place } from './effect-kind'
import { covered, overPixel } from './pattern'

/** Screens of dots: on a turned grid, each as large as there is ink. */

/** A dot's shape: the less, the sooner it is inked. `u`, `v` within a cell, −½…½. */
const SPOTS = {
  round: (u: number, v: number) => 0.5 - 0.25 * (Math.cos(2 * Math.PI * u) + Math.cos(2 * Math.PI * v)),
  square: (u: number, v: number) => 2 * Math.max(Math.abs(u), Math.abs(v)),
  diamond: (u: number, v: number) => Math.abs(u) + Math.abs(v),
} as const
export type Spot = keyof typeof SPOTS

/** How steeply each rises at most, over a cell. */
const STEEPNESS: Readonly<Record<Spot, number>> = { round: 1.6, square: 2, diamond: 1.4 }

const LEVELS = 256
const limits = new Map<Spot, Float64Array>()
/** The value below which so much of a cell lies: dots then cover as much as the tone is dark. */
function limitOf(spot: Spot, dark: number): number {
  let table = limits.get(spot)
  if (!table) {
    const side = 128
    const values = Float64Array.from({ length: side * side }, (_, i) =>
      SPOTS[spot](((i % side) + 0.5) / side - 0.5, (Math.floor(i / side) + 0.5) / side - 0.5),
    ).sort()
    table = Float64Array.from({ length: LEVELS + 1 }, (_, k) =>
      k === 0 ? -1 : k === LEVELS ? 3 : values[Math.round((k / LEVELS) * (values.length - 1))],
    )
    limits.set(spot, table)
  }
  const at = Math.min(LEVELS, Math.max(0, dark * LEVELS))
  const k = Math.min(LEVELS - 1, Math.floor(at))
  return table[k] + (table[k + 1] - table[k]) * (at - k)
}

/**
 * A screen of dots.
 * @param size of a cell, in sheet pixels.
 * @returns how much of a pixel is inked where so much of the sheet is to be, 0…1.
 */
export function dotScreen(
  spot: Spot,
  size: number,
  angleDeg: number,
): (dark: number, place: Place) => number {
  const [cos, sin] = [Math.cos((angleDeg * Math.PI) / 180), Math.sin((angleDeg * Math.PI) / 180)]
  let limit = 0
  const dots = (x: number, y: number, softPx: number) => {
    const u = (cos * x + sin * y) / size
    const v = (cos * y - sin * x) / size
    const own = SPOTS[spot](u - Math.floor(u) - 0.5, v - Math.floor(v) - 0.5)
    return covered(((limit - own) * size) / STEEPNESS[spot], softPx)
  }
  return (dark, place) => {
    limit = limitOf(spot, dark)
    return overPixel(place, dots)
  }
}
