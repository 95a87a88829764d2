import { z } from 'zod'
import { parseHex } from '../math/colour'
import { colourParam, mapParam, numberParam } from '../params'
import { defineEffect } from './effect-kind'
import { smoothStep } from './pattern'

/** Air between what is seen and who sees it: the farther, the more of its colour. Below nothing it takes haze away. */
export const depthHaze = defineEffect({
  kind: 'depthHaze',
  version: 1,
  label: 'Haze by depth',
  group: 'Detail',
  summary: 'The farther away, the more air; or the other way round, less of it.',
  schema: z.object({
    map: mapParam({ label: 'Depth', pass: 'depth' }),
    colour: colourParam({ label: 'Air', default: '#d3dadd' }),
    amount: numberParam({ label: 'Amount', min: -1, max: 1, step: 0.01, default: 0.6 }),
    from: numberParam({ label: 'From', unit: '% of subject', min: -100, max: 300, step: 1, default: 0 }),
    to: numberParam({ label: 'Full at', unit: '% of subject', min: -100, max: 400, step: 1, default: 180 }),
  }),
  neutral: { amount: 0 },
  work({ map, colour, amount, from, to }) {
    const [r, g, b] = parseHex(colour)
    const air = [r, g, b]
    return {
      by: 'point',
      maps: [{ from: 'shot', map: 'depth', id: map }],
      change(rgba, { maps: [depth] }) {
        if (Number.isNaN(depth)) return
        const t = smoothStep(from / 100, Math.max(to, from + 1) / 100, depth)
        if (amount >= 0) for (let c = 0; c < 3; c++) rgba[c] += amount * t * (air[c] - rgba[c])
        else {
          // What was there before the air was mixed in, as far as it can be told.
          const clear = Math.max(0.1, 1 + amount * t)
          for (let c = 0; c < 3; c++) rgba[c] = air[c] + (rgba[c] - air[c]) / clear
        }
      },
      fast(kernel, { blocks, count, weights, maps: [depth] }) {
        if (depth === 0) return
        kernel.weighByRange(weights, depth, count, from / 100, Math.max(to, from + 1) / 100, Math.abs(amount))
        if (amount >= 0) kernel.mixTowards(blocks, weights, count, r, g, b)
        else kernel.mixAway(blocks, weights, count, r, g, b)
      },
    }
  },
})
