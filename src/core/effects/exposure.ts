import { z } from 'zod'
import { linearToSrgb, srgbToLinear } from '../math/colour'
import { numberParam } from '../params'
import { defineEffect } from './effect-kind'

/** Middle grey: what contrast turns about. */
const MIDDLE = 0.18

/** More or less light, and how far tones lie apart: `0.18 · (2^stops · v / 0.18)^contrast` in linear light. */
export const exposure = defineEffect({
  kind: 'exposure',
  version: 1,
  label: 'Exposure and contrast',
  group: 'Tone',
  summary: 'More or less light, as a lens gives it, and tones farther apart or closer.',
  schema: z.object({
    stops: numberParam({ label: 'Exposure', unit: 'stops', min: -6, max: 6, step: 0.05, default: 0.35 }),
    contrast: numberParam({
      label: 'Contrast',
      min: 0.25,
      max: 4,
      step: 0.01,
      default: 1.15,
      logarithmic: true,
    }),
  }),
  neutral: { stops: 0, contrast: 1 },
  work({ stops, contrast }) {
    const gain = 2 ** stops
    return {
      by: 'tone',
      curve: (v) => linearToSrgb(MIDDLE * ((gain * srgbToLinear(v)) / MIDDLE) ** contrast),
    }
  },
})
