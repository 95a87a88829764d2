import { z } from 'zod'
import { choiceParam, numberParam } from '../params'
import { defineEffect, type Place } from './effect-kind'
import { darkness, inking, inkParams } from './ink'
import { covered, overPixel } from './pattern'

/** A dot's shape: the less, the sooner it is inked. `u`, `v` within a cell, −½…½. */
const SPOTS = {
  round: (u: number, v: number) => 0.5 - 0.25 * (Math.cos(2 * Math.PI * u) + Math.cos(2 * Math.PI * v)),
  square: (u: number, v: number) => 2 * Math.max(Math.abs(u), Math.abs(v)),
  diamond: (u: number, v: number) => Math.abs(u) + Math.abs(v),
} as const
type Spot = keyof typeof SPOTS

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

/** Angles at which the four inks' screens stand, so that they do not beat, and which light each takes. */
const INKS = [
  { angleDeg: 15, colour: [0.05, 0.6, 0.85] },
  { angleDeg: 75, colour: [0.86, 0.1, 0.45] },
  { angleDeg: 0, colour: [0.99, 0.86, 0.1] },
  { angleDeg: 45, colour: [0.12, 0.1, 0.1] },
] as const

/** Dots on a turned grid whose size is how dark it is; in one ink, or in four, each at its own angle. */
export const halftone = defineEffect({
  kind: 'halftone',
  version: 1,
  label: 'Halftone',
  group: 'Print and pen',
  summary: 'Dots on a grid, large where it is dark.',
  schema: z.object({
    size: numberParam({ label: 'Cell', unit: 'px', min: 2, max: 80, step: 0.5, default: 8 }),
    angleDeg: numberParam({ label: 'Angle', unit: '°', min: -90, max: 90, step: 1, default: 45 }),
    spot: choiceParam({
      label: 'Dots',
      options: { round: 'Round', square: 'Square', diamond: 'Diamond' },
      default: 'round',
    }),
    inks: choiceParam({ label: 'Inks', options: { one: 'One', four: 'Four' }, default: 'one' }),
    ...inkParams,
  }),
  work({ size, angleDeg, spot, inks, ...rest }) {
    const lay = inking(rest)
    const screen = (degrees: number) => {
      const [cos, sin] = [Math.cos((degrees * Math.PI) / 180), Math.sin((degrees * Math.PI) / 180)]
      let limit = 0
      const dots = (x: number, y: number, softPx: number) => {
        const u = (cos * x + sin * y) / size
        const v = (cos * y - sin * x) / size
        const own = SPOTS[spot](u - Math.floor(u) - 0.5, v - Math.floor(v) - 0.5)
        return covered(((limit - own) * size) / STEEPNESS[spot], softPx)
      }
      return (dark: number, place: Place): number => {
        limit = limitOf(spot, dark)
        return overPixel(place, dots)
      }
    }
    const one = screen(angleDeg)
    const four = INKS.map((ink) => screen(ink.angleDeg + angleDeg - 45))
    return {
      by: 'point',
      isHeavy: true,
      // A dot knows the tone about it, not that of a point.
      beside: [[{ by: 'blur', sigmaPx: size / 4 }]],
      change(rgba, place) {
        const [about] = place.beside
        if (inks === 'one') {
          lay(rgba, one(darkness(about), place))
          return
        }
        // Undercolour is printed black: what three inks have in common.
        const [c, m, y] = [0, 1, 2].map((k) => about[3] * (1 - about[k]))
        const k = Math.min(c, m, y)
        const amounts = [c - k, m - k, y - k, k]
        const alpha = rgba[3]
        lay(rgba, 0)
        INKS.forEach(({ colour }, i) => {
          const share = four[i](amounts[i], place)
          for (let n = 0; n < 3; n++) rgba[n] *= 1 - share * (1 - colour[n])
        })
        if (rest.ground === 'clear') rgba[3] = alpha
      },
    }
  },
})
