import { z } from 'zod'
import { parseHex } from '../math/colour'
import { numberParam, stopsParam } from '../params'
import { byBrightness } from './by-brightness'
import { defineEffect } from './effect-kind'

/** Each brightness becomes the colour at its place along a gradient; straight lines between colours, in display values. */
export const brightnessGradient = defineEffect({
  kind: 'brightnessGradient',
  version: 1,
  label: 'Gradient by brightness',
  group: 'Colour',
  summary: 'Dark, middle and light each take their colour from a gradient.',
  schema: z.object({
    stops: stopsParam({
      label: 'Colours',
      default: [
        [0, '#1d2430'],
        [0.45, '#8c4a32'],
        [0.8, '#e3b57c'],
        [1, '#fbf3df'],
      ],
    }),
    strength: numberParam({ label: 'Strength', min: 0, max: 1, step: 0.01, default: 1 }),
  }),
  neutral: { strength: 0 },
  work({ stops, strength }) {
    const colours = stops.map(([at, hex]) => [at, parseHex(hex)] as const)
    return byBrightness((tone) => {
      let k = 0
      while (k < colours.length - 1 && tone >= colours[k + 1][0]) k++
      const [from, a] = colours[k]
      const [to, b] = colours[Math.min(colours.length - 1, k + 1)]
      const t = to > from ? Math.min(1, Math.max(0, (tone - from) / (to - from))) : 0
      return [a[0] + (b[0] - a[0]) * t, a[1] + (b[1] - a[1]) * t, a[2] + (b[2] - a[2]) * t]
    }, strength)
  },
})
