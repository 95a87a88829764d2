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
  label: 'Tint by tone',
  summary: 'Gives dark and light a colour each.',
  schema: z.object({
    dark: colourParam({ label: 'Dark', default: '#4a2318' }),
    light: colourParam({ label: 'Light', default: '#ffffff' }),
    amount: numberParam({ label: 'Amount', min: 0, max: 1, step: 0.01, default: 1 }),
  }),
  apply(pixels, { dark, light, amount }) {
    const from = parseHex(dark)
    const to = parseHex(light)
    for (let i = 0; i < pixels.length; i += 4) {
      const tone = 0.2126 * pixels[i] + 0.7152 * pixels[i + 1] + 0.0722 * pixels[i + 2]
      for (let c = 0; c < 3; c++) {
        const tinted = from[c] + (to[c] - from[c]) * tone
        pixels[i + c] += (tinted - pixels[i + c]) * amount
      }
    }
  },
})
