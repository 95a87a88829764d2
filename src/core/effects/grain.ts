import { z } from 'zod'
import { numberParam } from '../params'
import { evenNoise, type NoiseRequest } from '../passes/shot-maps'
import { defineEffect } from './effect-kind'
import { brightness } from './pattern'

/** Silver grain: seeded noise, strongest in the middle tones as film has it, none in black and in white. */
export const grain = defineEffect({
  kind: 'grain',
  version: 1,
  label: 'Grain',
  group: 'Surface',
  summary: 'Film-like grain, most in the middle tones.',
  schema: z.object({
    amount: numberParam({ label: 'Amount', min: 0, max: 1, step: 0.01, default: 0.18 }),
    size: numberParam({ label: 'Size', unit: 'px', min: 0.5, max: 20, step: 0.1, default: 1.6 }),
    colour: numberParam({ label: 'Colour', min: 0, max: 1, step: 0.01, default: 0.15 }),
    seed: numberParam({ label: 'Seed', min: 0, max: 9999, step: 1, default: 1 }),
  }),
  neutral: { amount: 0 },
  work({ amount, size, colour, seed }) {
    // Two sizes, the second turned, so that it is not a grid of one.
    const noise = (k: number): readonly NoiseRequest[] => [
      evenNoise(size, seed + 7 * k),
      {
        ...evenNoise(size, seed + 7 * k + 3),
        across: [1.9 / size, 0.7 / size],
        down: [-0.7 / size, 1.9 / size],
      },
    ]
    return {
      by: 'point',
      maps: (colour > 0 ? [0, 1, 2, 3] : [0]).flatMap(noise),
      change(rgba, { maps }) {
        const tone = brightness(rgba)
        const much = amount * 2.4 * Math.sqrt(Math.max(0, tone * (1 - tone)))
        const grey = 0.65 * maps[0] + 0.35 * maps[1] - 0.5
        for (let c = 0; c < 3; c++) {
          const own = colour > 0 ? 0.65 * maps[2 * c + 2] + 0.35 * maps[2 * c + 3] - 0.5 : 0
          rgba[c] += much * ((1 - colour) * grey + colour * own)
        }
      },
      fast(kernel, { blocks, count, maps }) {
        const [noise, finer, r0 = 0, r1 = 0, g0 = 0, g1 = 0, b0 = 0, b1 = 0] = maps
        kernel.addGrain(blocks, count, amount, noise, finer, colour, r0, r1, g0, g1, b0, b1)
      },
    }
  },
})
