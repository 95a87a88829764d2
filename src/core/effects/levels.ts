import { z } from 'zod'
import { numberParam } from '../params'
import { defineEffect } from './effect-kind'

/**
 * Maps the range from black to white onto the full range, bends it by gamma, and fits it between two output values:
 * `out = low + (high − low) · clamp((v − black) / (white − black))^(1 / gamma)`, each colour channel alike.
 */
export const levels = defineEffect({
  kind: 'levels',
  version: 1,
  label: 'Levels',
  group: 'Tone',
  summary: 'Moves black and white and bends the middle.',
  schema: z.object({
    black: numberParam({ label: 'Black', min: 0, max: 0.99, step: 0.01, default: 0 }),
    white: numberParam({ label: 'White', min: 0.01, max: 1, step: 0.01, default: 1 }),
    gamma: numberParam({ label: 'Gamma', min: 0.1, max: 5, step: 0.01, default: 1, logarithmic: true }),
    low: numberParam({ label: 'Output from', min: 0, max: 1, step: 0.01, default: 0 }),
    high: numberParam({ label: 'Output to', min: 0, max: 1, step: 0.01, default: 1 }),
  }),
  neutral: {},
  work({ black, white, gamma, low, high }) {
    const range = Math.max(1e-4, white - black)
    const exponent = 1 / gamma
    return {
      by: 'tone',
      curve(value) {
        const v = Math.min(1, Math.max(0, (value - black) / range))
        return low + (high - low) * (exponent === 1 ? v : Math.pow(v, exponent))
      },
    }
  },
})
