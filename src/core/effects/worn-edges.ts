import { z } from 'zod'
import { cloudNoise } from '../math/noise'
import { numberParam } from '../params'
import { overPixel, smoothStep } from './pattern'
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
    const flakes = (x: number, y: number, softPx: number) => {
      const noise = cloudNoise(x / size, y / size, seed, 4)
      return smoothStep(
        0.5 - 0.06 - 0.2 / size - softPx / (8 * size),
        0.5 + 0.06 + softPx / (8 * size),
        noise,
      )
    }
    return {
      by: 'point',
      beside: [[{ by: 'blur', sigmaPx: edge }]],
      change(rgba, place) {
        if (rgba[3] === 0 || amount === 0) return
        // Half of its alpha is what a straight edge leaves.
        const inside = smoothStep(0.45, 1, place.beside[0][3])
        const worn = amount * (0.12 + 0.88 * (1 - inside))
        rgba[3] *= 1 - Math.min(1, 1.6 * worn) * (1 - overPixel(place, flakes))
      },
    }
  },
})
