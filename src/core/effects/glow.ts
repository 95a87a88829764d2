import { z } from 'zod'
import { parseHex } from '../math/colour'
import { colourParam, numberParam } from '../params'
import { byBrightness } from './by-brightness'
import { defineEffect } from './effect-kind'
import { smoothStep } from './pattern'

/** What is brighter than a threshold spreads its light: blurred, tinted, and screened over the picture. */
export const glow = defineEffect({
  kind: 'glow',
  version: 1,
  label: 'Glow',
  group: 'Light',
  summary: 'Bright places light up what lies about them.',
  schema: z.object({
    threshold: numberParam({ label: 'From brightness', min: 0, max: 1, step: 0.01, default: 0.75 }),
    sigma: numberParam({
      label: 'Reach',
      unit: 'px',
      min: 0.5,
      max: 300,
      step: 0.5,
      default: 24,
      logarithmic: true,
    }),
    amount: numberParam({ label: 'Amount', min: 0, max: 3, step: 0.02, default: 0.7 }),
    colour: colourParam({ label: 'Light', default: '#ffe2b0' }),
  }),
  neutral: { amount: 0 },
  work({ threshold, sigma, amount, colour }) {
    const [r, g, b] = parseHex(colour)
    const light = [r, g, b]
    return {
      by: 'point',
      beside: [
        [
          // What gives light, as grey; the rest is black.
          byBrightness((tone) => {
            const v = tone * smoothStep(threshold - 0.05, Math.min(1.05, threshold + 0.15), tone)
            return [v, v, v]
          }, 1),
          { by: 'blur', sigmaPx: sigma },
        ],
      ],
      change(rgba, { beside: [spread] }) {
        for (let c = 0; c < 3; c++) {
          const own = Math.min(1, amount * light[c] * spread[c] * spread[3])
          rgba[c] += own * (1 - rgba[c])
        }
      },
      fast: (kernel, { blocks, count, beside: [spread] }) =>
        kernel.screenOver(blocks, spread, count, amount * r, amount * g, amount * b),
    }
  },
})
