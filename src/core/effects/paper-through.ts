import { z } from 'zod'
import { parseHex } from '../math/colour'
import { colourParam, numberParam } from '../params'
import { evenNoise, type NoiseRequest } from '../passes/shot-maps'
import { brightness } from './pattern'
import { defineEffect } from './effect-kind'

/** Paper shows through the ink: its fibres and its colour, most where there is much ink to break up. */
export const paperThrough = defineEffect({
  kind: 'paperThrough',
  version: 1,
  label: 'Paper show-through',
  group: 'Surface',
  summary: 'The paper’s tooth breaks up flat colour and its tone shines through.',
  schema: z.object({
    amount: numberParam({ label: 'Amount', min: 0, max: 1, step: 0.01, default: 0.4 }),
    size: numberParam({ label: 'Tooth', unit: 'px', min: 0.5, max: 30, step: 0.5, default: 2 }),
    colour: colourParam({ label: 'Paper', default: '#f3ead8' }),
    seed: numberParam({ label: 'Seed', min: 0, max: 9999, step: 1, default: 1 }),
  }),
  neutral: { amount: 0 },
  work({ amount, size, colour, seed }) {
    const [r, g, b] = parseHex(colour)
    const paper = [r, g, b]
    const fibres = (angle: number, k: number): NoiseRequest => {
      const [cos, sin] = [Math.cos(angle), Math.sin(angle)]
      return {
        ...evenNoise(size, seed + k),
        across: [cos / (4 * size), sin / (4 * size)],
        down: [-sin / (0.8 * size), cos / (0.8 * size)],
      }
    }
    return {
      by: 'point',
      maps: [evenNoise(1.6 * size, seed, 3), fibres(0.4, 17), fibres(1.9, 31)],
      change(rgba, { maps: [tooth, one, other] }) {
        if (amount === 0) return
        const ink = 1 - brightness(rgba)
        const rough = 0.5 * tooth + 0.25 * one + 0.25 * other
        const through = amount * (0.1 + 0.6 * ink) * Math.min(1, Math.max(0, 3 * (rough - 0.36)))
        for (let c = 0; c < 3; c++) rgba[c] += through * (paper[c] - rgba[c])
      },
      fast(kernel, { blocks, count, weights, maps: [tooth, one, other] }) {
        kernel.weighByTooth(weights, blocks, tooth, one, other, count, amount)
        kernel.mixTowards(blocks, weights, count, r, g, b)
      },
    }
  },
})
