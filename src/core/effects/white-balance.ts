import { z } from 'zod'
import { linearToSrgb, srgbToLinear } from '../math/colour'
import { numberParam } from '../params'
import { defineEffect } from './effect-kind'

/**
 * Warmer or cooler, greener or more magenta: channels of linear light are weighed, as von Kries (1902) has the eye do it, so that
 * the luminance of white stays.
 */
export const whiteBalance = defineEffect({
  kind: 'whiteBalance',
  version: 1,
  label: 'White balance',
  group: 'Colour',
  summary: 'Warmer or cooler light, and greener or less green.',
  schema: z.object({
    warmth: numberParam({ label: 'Warmth', min: -1, max: 1, step: 0.01, default: 0.2 }),
    green: numberParam({ label: 'Green', min: -1, max: 1, step: 0.01, default: 0 }),
  }),
  neutral: { warmth: 0, green: 0 },
  work({ warmth, green }) {
    const gains = [2 ** (0.5 * warmth), 2 ** (0.4 * green), 2 ** (-0.9 * warmth)]
    const white = 0.2126 * gains[0] + 0.7152 * gains[1] + 0.0722 * gains[2]
    return {
      by: 'tone',
      isEach: true,
      curve: (v, channel) => linearToSrgb(Math.min(1, (srgbToLinear(v) * gains[channel]) / white)),
    }
  },
})
