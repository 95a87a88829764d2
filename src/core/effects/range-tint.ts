import { z } from 'zod'
import { parseHex } from '../math/colour'
import { srgbToOklab } from '../math/oklab'
import { colourParam, numberParam } from '../params'
import { smoothStep } from './pattern'
import { defineEffect } from './effect-kind'

/** Hue and chroma of a colour: the axes of OKLab that are not lightness. */
const tintOf = (hex: string): readonly [number, number] => {
  const [r, g, b] = parseHex(hex)
  const [, x, y] = srgbToOklab([r, g, b])
  return [x, y]
}

/** Pulls darks, middles and lights each towards a colour; lightness stays as it is. */
export const rangeTint = defineEffect({
  kind: 'rangeTint',
  version: 1,
  label: 'Tint by range',
  group: 'Colour',
  summary: 'Darks, middles and lights each lean towards a colour of their own.',
  schema: z.object({
    darks: colourParam({ label: 'Darks', default: '#27424f' }),
    darksBy: numberParam({ label: 'Darks by', min: 0, max: 1, step: 0.01, default: 0.45 }),
    middles: colourParam({ label: 'Middles', default: '#8d7a66' }),
    middlesBy: numberParam({ label: 'Middles by', min: 0, max: 1, step: 0.01, default: 0 }),
    lights: colourParam({ label: 'Lights', default: '#f2cf9a' }),
    lightsBy: numberParam({ label: 'Lights by', min: 0, max: 1, step: 0.01, default: 0.35 }),
  }),
  neutral: { darksBy: 0, middlesBy: 0, lightsBy: 0 },
  work({ darks, darksBy, middles, middlesBy, lights, lightsBy }) {
    const [dark, middle, light] = [tintOf(darks), tintOf(middles), tintOf(lights)]
    return {
      by: 'colour',
      space: 'oklab',
      change(lab) {
        const [l, a, b] = lab
        const isDark = 1 - smoothStep(0.2, 0.6, l)
        const isLight = smoothStep(0.6, 0.95, l)
        const isMiddle = 1 - isDark - isLight
        const [d, m, h] = [isDark * darksBy, isMiddle * middlesBy, isLight * lightsBy]
        const stays = 1 - d - m - h
        lab[1] = stays * a + d * dark[0] + m * middle[0] + h * light[0]
        lab[2] = stays * b + d * dark[1] + m * middle[1] + h * light[1]
      },
      fast({ kernel }, blocks, count) {
        kernel.toOklab(blocks, count)
        kernel.tintRanges(blocks, count, ...dark, darksBy, ...middle, middlesBy, ...light, lightsBy)
        kernel.fromOklab(blocks, count)
      },
    }
  },
})
