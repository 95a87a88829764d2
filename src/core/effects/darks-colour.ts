import { z } from 'zod'
import { parseHex } from '../math/colour'
import { colourParam, numberParam } from '../params'
import { brightness, smoothStep } from './pattern'
import { defineEffect } from './effect-kind'

/** Gives what is dark a colour, as dark ink printed in one: black becomes the colour, lighter tones less of it, lights stay. */
export const darksColour = defineEffect({
  kind: 'darksColour',
  version: 1,
  label: 'Colour of the darks',
  group: 'Colour',
  summary: 'Black becomes a colour; what is light stays as it is.',
  schema: z.object({
    colour: colourParam({ label: 'Colour', default: '#43231a' }),
    upTo: numberParam({ label: 'Up to', min: 0.02, max: 1, step: 0.01, default: 0.6 }),
    amount: numberParam({ label: 'Amount', min: 0, max: 1, step: 0.01, default: 1 }),
  }),
  neutral: { amount: 0 },
  work({ colour, upTo, amount }) {
    const [r, g, b] = parseHex(colour)
    const ink = [r, g, b]
    return {
      by: 'colour',
      change(rgb) {
        const share = amount * (1 - smoothStep(0, upTo, brightness(rgb)))
        // Screened, so that what is lighter than the ink does not become darker.
        for (let c = 0; c < 3; c++) rgb[c] += share * ink[c] * (1 - rgb[c])
      },
      fast({ kernel, weights }, blocks, count) {
        kernel.weighByDarks(weights, blocks, count, upTo, amount)
        kernel.screenTowards(blocks, weights, count, r, g, b)
      },
    }
  },
})
