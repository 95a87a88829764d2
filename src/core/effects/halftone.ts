import { z } from 'zod'
import { choiceParam, numberParam } from '../params'
import { dotScreen } from './dot-screen'
import { defineEffect } from './effect-kind'
import { darkness, inking, inkParams } from './ink'

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
    const screen = (degrees: number) => dotScreen(spot, size, degrees)
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
