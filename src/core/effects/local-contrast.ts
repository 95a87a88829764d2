import { z } from 'zod'
import { numberParam } from '../params'
import { brightness } from './pattern'
import { defineEffect } from './effect-kind'

/** Draws tones apart from what lies widely about them, most in the middle: forms stand out and black and white stay. */
export const localContrast = defineEffect({
  kind: 'localContrast',
  version: 1,
  label: 'Local contrast',
  group: 'Detail',
  summary: 'Brings forms out of what lies about them; below nothing, softens them.',
  schema: z.object({
    sigma: numberParam({
      label: 'Radius',
      unit: 'px',
      min: 2,
      max: 300,
      step: 1,
      default: 40,
      logarithmic: true,
    }),
    amount: numberParam({ label: 'Amount', min: -1, max: 2, step: 0.02, default: 0.4 }),
  }),
  neutral: { amount: 0 },
  work: ({ sigma, amount }) => ({
    by: 'point',
    beside: [[{ by: 'blur', sigmaPx: sigma }]],
    change(rgba, { beside: [blurred] }) {
      const tone = brightness(rgba)
      const off = amount * 4 * tone * (1 - tone) * (tone - brightness(blurred))
      for (let c = 0; c < 3; c++) rgba[c] += off
    },
    fast: (kernel, { blocks, count, beside: [blurred] }) => kernel.standOut(blocks, blurred, count, amount),
  }),
})
