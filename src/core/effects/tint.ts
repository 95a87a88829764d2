import { z } from 'zod'
import { parseHex } from '../math/colour'
import { colourParam, numberParam } from '../params'
import { defineEffect } from './effect-kind'

/**
 * Colours a picture by its tone: dark turns to one colour, light to another, the rest between them. Tone is Rec. 709
 * luma of the display values.
 */
export const tint = defineEffect({
  kind: 'tint',
  version: 1,
  label: 'Tint by tone',
  group: 'Colour',
  summary: 'Gives dark and light a colour each.',
  schema: z.object({
    dark: colourParam({ label: 'Dark', default: '#4a2318' }),
    light: colourParam({ label: 'Light', default: '#ffffff' }),
    amount: numberParam({ label: 'Amount', min: 0, max: 1, step: 0.01, default: 1 }),
  }),
  work({ dark, light, amount }) {
    const from = parseHex(dark)
    const to = parseHex(light)
    return {
      by: 'colour',
      change(rgb) {
        const tone = 0.2126 * rgb[0] + 0.7152 * rgb[1] + 0.0722 * rgb[2]
        for (let c = 0; c < 3; c++) {
          const tinted = from[c] + (to[c] - from[c]) * tone
          rgb[c] += (tinted - rgb[c]) * amount
        }
      },
    }
  },
})
