import { z } from 'zod'
import { parseHex } from '../math/colour'
import { colourParam, numberParam, pointParam } from '../params'
import { defineEffect } from './effect-kind'
import { smoothStep } from './pattern'

/** Draws the sheet's edges towards a colour, from an ellipse of the sheet's own proportions, or a circle, outwards. */
export const vignette = defineEffect({
  kind: 'vignette',
  version: 1,
  label: 'Vignette',
  group: 'Surface',
  summary: 'Edges fall into shadow, or into light, so that the middle holds the eye.',
  schema: z.object({
    amount: numberParam({ label: 'Amount', min: 0, max: 1, step: 0.01, default: 0.4 }),
    size: numberParam({ label: 'Clear middle', unit: '%', min: 0, max: 150, step: 1, default: 55 }),
    soft: numberParam({ label: 'Softness', unit: '%', min: 1, max: 150, step: 1, default: 70 }),
    round: numberParam({ label: 'Roundness', min: 0, max: 1, step: 0.01, default: 0.2 }),
    colour: colourParam({ label: 'Colour', default: '#1a1512' }),
    centre: pointParam({ label: 'Middle', default: [0.5, 0.5] }),
  }),
  neutral: { amount: 0 },
  work({ amount, size, soft, round, colour, centre }) {
    const [r, g, b] = parseHex(colour)
    const edge = [r, g, b]
    // From an ellipse that touches the sheet's sides to a circle about its shorter ones.
    const radii = (width: number, height: number): readonly [number, number] => {
      const half = Math.min(width, height) / 2
      return [width / 2 + (half - width / 2) * round, height / 2 + (half - height / 2) * round]
    }
    return {
      by: 'point',
      change(rgba, { x, y, width, height }) {
        const [rx, ry] = radii(width, height)
        const far = Math.hypot((x - centre[0] * width) / rx, (y - centre[1] * height) / ry)
        const t = amount * smoothStep(size / 100, (size + soft) / 100, far)
        for (let c = 0; c < 3; c++) rgba[c] += t * (edge[c] - rgba[c])
      },
      fast(kernel, { blocks, count, side, x, y, step, width, height, weights }) {
        const [cx, cy] = [centre[0] * width, centre[1] * height]
        const [from, to] = [size / 100, (size + soft) / 100]
        kernel.weighByEllipse(weights, side, x, y, step, cx, cy, ...radii(width, height), from, to, amount)
        kernel.mixTowards(blocks, weights, count, r, g, b)
      },
    }
  },
})
