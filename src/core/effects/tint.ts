import { z } from 'zod'
import { parseHex } from '../math/colour'
import { colourParam, numberParam } from '../params'
import { byBrightness } from './by-brightness'
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
  neutral: { amount: 0 },
  work({ dark, light, amount }) {
    const from = parseHex(dark)
    const to = parseHex(light)
    const between = (c: number, tone: number) => from[c] + (to[c] - from[c]) * tone
    return byBrightness(
      (tone) => [between(0, tone), between(1, tone), between(2, tone)],
      amount,
      [0.2126, 0.7152, 0.0722],
    )
  },
})
