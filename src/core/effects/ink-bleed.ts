import { z } from 'zod'
import { numberParam } from '../params'
import { evenNoise } from '../passes/shot-maps'
import { brightness, smoothStep } from './pattern'
import { defineEffect } from './effect-kind'

/** Dark ink runs into the paper: dark edges creep outwards, unevenly along the fibres. */
export const inkBleed = defineEffect({
  kind: 'inkBleed',
  version: 1,
  label: 'Ink bleed',
  group: 'Surface',
  summary: 'Dark ink creeps a little into the paper, unevenly.',
  schema: z.object({
    amount: numberParam({ label: 'Bleeds', unit: 'px', min: 0, max: 20, step: 0.1, default: 3 }),
    uneven: numberParam({ label: 'Unevenness', min: 0, max: 1, step: 0.01, default: 0.6 }),
    seed: numberParam({ label: 'Seed', min: 0, max: 9999, step: 1, default: 1 }),
  }),
  neutral: { amount: 0 },
  work({ amount, uneven, seed }) {
    return {
      by: 'point',
      beside: [[{ by: 'blur', sigmaPx: amount }]],
      maps: [evenNoise(2.2 * Math.max(1, amount), seed, 3)],
      change(rgba, { beside: [blurred], maps: [fibres] }) {
        if (amount === 0) return
        const paper = 1 - uneven + uneven * 2 * fibres
        const ink = 1 - brightness(blurred)
        const share = smoothStep(0.18, 0.75, ink * paper)
        const runs = Math.max(rgba[3], smoothStep(0.2, 0.7, blurred[3] * paper))
        for (let c = 0; c < 3; c++) {
          const own = rgba[3] > 0 ? rgba[c] : blurred[c]
          rgba[c] = Math.min(own, own + share * (blurred[c] - own) * 1.2)
        }
        rgba[3] = runs
      },
    }
  },
})
