import { z } from 'zod'
import { smoothNoise } from '../math/noise'
import { numberParam } from '../params'
import { defineEffect } from './effect-kind'
import { brightness, overPixel } from './pattern'

/** Silver grain: seeded noise, strongest in the middle tones as film has it, none in black and in white. */
export const grain = defineEffect({
  kind: 'grain',
  version: 1,
  label: 'Grain',
  group: 'Surface',
  summary: 'Film-like grain, most in the middle tones.',
  schema: z.object({
    amount: numberParam({ label: 'Amount', min: 0, max: 1, step: 0.01, default: 0.25 }),
    size: numberParam({ label: 'Size', unit: 'px', min: 0.5, max: 20, step: 0.1, default: 1.6 }),
    colour: numberParam({ label: 'Colour', min: 0, max: 1, step: 0.01, default: 0.15 }),
    seed: numberParam({ label: 'Seed', min: 0, max: 9999, step: 1, default: 1 }),
  }),
  neutral: { amount: 0 },
  work({ amount, size, colour, seed }) {
    // Two sizes, so that it is not a grid of one.
    const noise = [0, 1, 2, 3].map(
      (k) => (x: number, y: number) =>
        0.65 * smoothNoise(x / size, y / size, seed + 7 * k) +
        0.35 * smoothNoise((1.9 * x + 0.7 * y) / size, (1.9 * y - 0.7 * x) / size, seed + 7 * k + 3) -
        0.5,
    )
    return {
      by: 'point',
      change(rgba, place) {
        const tone = brightness(rgba)
        const much = amount * 2.4 * Math.sqrt(Math.max(0, tone * (1 - tone)))
        if (much === 0) return
        const grey = overPixel(place, noise[0])
        for (let c = 0; c < 3; c++) {
          const own = colour > 0 ? overPixel(place, noise[c + 1]) : 0
          rgba[c] += much * ((1 - colour) * grey + colour * own)
        }
      },
    }
  },
})
