import { z } from 'zod'
import { cloudNoise, smoothNoise } from '../math/noise'
import { parseHex } from '../math/colour'
import { colourParam, numberParam } from '../params'
import { brightness, overPixel } from './pattern'
import { defineEffect } from './effect-kind'

/** Paper shows through the ink: its fibres and its colour, most where there is much ink to break up. */
export const paperThrough = defineEffect({
  kind: 'paperThrough',
  version: 1,
  label: 'Paper show-through',
  group: 'Surface',
  summary: 'The paper’s tooth breaks up flat colour and its tone shines through.',
  schema: z.object({
    amount: numberParam({ label: 'Amount', min: 0, max: 1, step: 0.01, default: 0.45 }),
    size: numberParam({ label: 'Tooth', unit: 'px', min: 0.5, max: 30, step: 0.5, default: 3 }),
    colour: colourParam({ label: 'Paper', default: '#f3ead8' }),
    seed: numberParam({ label: 'Seed', min: 0, max: 9999, step: 1, default: 1 }),
  }),
  neutral: { amount: 0 },
  work({ amount, size, colour, seed }) {
    const [r, g, b] = parseHex(colour)
    const paper = [r, g, b]
    const tooth = (x: number, y: number) =>
      0.6 * cloudNoise(x / (2 * size), y / (2 * size), seed, 3) +
      0.4 * smoothNoise(x / (6 * size), y / (0.9 * size), seed + 17)
    return {
      by: 'point',
      change(rgba, place) {
        if (amount === 0) return
        const ink = 1 - brightness(rgba)
        const through =
          amount * (0.1 + 0.5 * ink) * Math.min(1, Math.max(0, 2.4 * (overPixel(place, tooth) - 0.32)))
        for (let c = 0; c < 3; c++) rgba[c] += through * (paper[c] - rgba[c])
      },
    }
  },
})
