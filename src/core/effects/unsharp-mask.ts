import { z } from 'zod'
import { numberParam } from '../params'
import { defineEffect } from './effect-kind'
import { smoothStep } from './pattern'

/** Sharpens by what a blur takes away: `v + amount · (v − blurred)`, where they differ by more than the threshold. */
export const unsharpMask = defineEffect({
  kind: 'unsharpMask',
  version: 1,
  label: 'Sharpen',
  group: 'Detail',
  summary: 'Crisper edges, by what a blur would take away.',
  schema: z.object({
    sigma: numberParam({
      label: 'Radius',
      unit: 'px',
      min: 0.1,
      max: 40,
      step: 0.1,
      default: 1.5,
      logarithmic: true,
    }),
    amount: numberParam({ label: 'Amount', min: 0, max: 5, step: 0.05, default: 0.8 }),
    threshold: numberParam({ label: 'From a difference of', min: 0, max: 0.5, step: 0.005, default: 0.01 }),
  }),
  neutral: { amount: 0 },
  work: ({ sigma, amount, threshold }) => ({
    by: 'point',
    beside: [[{ by: 'blur', sigmaPx: sigma }]],
    change(rgba, { beside: [blurred] }) {
      for (let c = 0; c < 3; c++) {
        const off = rgba[c] - blurred[c]
        rgba[c] += amount * off * smoothStep(threshold / 2, threshold * 1.5, Math.abs(off))
      }
    },
    fast: (kernel, { blocks, count, beside: [blurred] }) =>
      kernel.sharpen(blocks, blurred, count, amount, threshold),
  }),
})
