import { z } from 'zod'
import { numberParam } from '../params'
import { evenNoise } from '../passes/shot-maps'
import { smoothStep } from './pattern'
import { defineEffect } from './effect-kind'

/** Ink worn off: flakes all over, and most along the edges of shapes. */
export const wornEdges = defineEffect({
  kind: 'wornEdges',
  version: 1,
  label: 'Worn edges',
  group: 'Surface',
  summary: 'Shapes flake at their edges, as old print does.',
  schema: z.object({
    amount: numberParam({ label: 'Amount', min: 0, max: 1, step: 0.01, default: 0.5 }),
    size: numberParam({ label: 'Flakes', unit: 'px', min: 1, max: 60, step: 0.5, default: 7 }),
    edge: numberParam({ label: 'From edges', unit: 'px', min: 0.5, max: 60, step: 0.5, default: 6 }),
    seed: numberParam({ label: 'Seed', min: 0, max: 9999, step: 1, default: 1 }),
  }),
  neutral: { amount: 0 },
  work({ amount, size, edge, seed }) {
    return {
      by: 'point',
      beside: [[{ by: 'blur', sigmaPx: edge }]],
      maps: [evenNoise(size, seed, 4)],
      change(rgba, { beside: [blurred], maps: [noise], scale }) {
        if (rgba[3] === 0 || amount === 0) return
        // Half of its alpha is what a straight edge leaves.
        const inside = smoothStep(0.45, 1, blurred[3])
        const worn = amount * (0.12 + 0.88 * (1 - inside))
        const soft = 0.06 + 0.2 / (size * scale)
        rgba[3] *= 1 - Math.min(1, 1.6 * worn) * (1 - smoothStep(0.5 - soft, 0.5 + soft, noise))
      },
      fast: (kernel, { blocks, count, step, beside: [blurred], maps: [noise] }) =>
        kernel.wearOff(blocks, blurred, noise, count, amount, 0.06 + (0.2 * step) / size),
    }
  },
})
