import { z } from 'zod'
import { linearToSrgbFast, parseHex, srgbToLinear } from '../math/colour'
import { colourParam } from '../params'
import { defineEffect } from './effect-kind'

/** Shows how dark ink and how bright paper can be: black becomes the ink's, white the paper's, in linear light. */
export const softProof = defineEffect({
  kind: 'softProof',
  version: 1,
  label: 'Soft proof',
  group: 'Print and pen',
  summary: 'White as the paper is, black as the ink is.',
  schema: z.object({
    paper: colourParam({ label: 'Paper white', default: '#f2eee4' }),
    black: colourParam({ label: 'Ink black', default: '#2b2927' }),
  }),
  neutral: { paper: '#ffffff', black: '#000000' },
  work({ paper, black }) {
    const [white, dark] = [parseHex(paper), parseHex(black)].map((rgb) => rgb.slice(0, 3).map(srgbToLinear))
    return {
      by: 'tone',
      isEach: true,
      curve: (value, c) => linearToSrgbFast(dark[c] + (white[c] - dark[c]) * srgbToLinear(value)),
    }
  },
})
