import { z } from 'zod'
import { srgbToOklab } from '../math/oklab'
import { choiceParam, numberParam, paletteParam } from '../params'
import type { MapRequest } from '../passes/shot-maps'
import { defineEffect } from './effect-kind'

/** Gives each part, or material, a colour of a palette: its hue and chroma, and as much of its lightness as is asked for. */
export const partPalette = defineEffect({
  kind: 'partPalette',
  version: 1,
  label: 'Colours by part',
  group: 'Colour',
  summary: 'Parts or materials each take a colour from a palette, exact to their edges.',
  schema: z.object({
    colours: paletteParam({
      label: 'Palette',
      default: ['#c8553d', '#2f6690', '#f0c987', '#588b8b', '#8d5b4c', '#d8cfc0'],
    }),
    by: choiceParam({
      label: 'One for each',
      options: { part: 'Part', material: 'Material' },
      default: 'material',
    }),
    amount: numberParam({ label: 'Amount', min: 0, max: 1, step: 0.01, default: 0.85 }),
    lightness: numberParam({ label: 'Lightness too', min: 0, max: 1, step: 0.01, default: 0.25 }),
  }),
  neutral: { amount: 0 },
  work: ({ colours, by, amount, lightness }) => ({
    by: 'point',
    space: 'oklab',
    maps: ([0, 1, 2, 3] as const).map((channel): MapRequest => ({ from: 'palette', by, colours, channel })),
    change(lab, { maps: [r, g, b, share] }) {
      if (!(share > 0)) return
      const [l, x, y] = srgbToOklab([r / share, g / share, b / share])
      const much = amount * Math.min(1, share)
      lab[0] += much * lightness * (l - lab[0])
      lab[1] += much * (x - lab[1])
      lab[2] += much * (y - lab[2])
    },
  }),
})
