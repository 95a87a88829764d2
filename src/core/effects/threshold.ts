import { z } from 'zod'
import { numberParam } from '../params'
import { byBrightness } from './by-brightness'
import { defineEffect } from './effect-kind'
import { smoothStep } from './pattern'

/** White from a brightness on, black below it. */
export const threshold = defineEffect({
  kind: 'threshold',
  version: 1,
  label: 'Threshold',
  group: 'Tone',
  summary: 'Black and white alone, parted at one brightness.',
  schema: z.object({
    at: numberParam({ label: 'Parted at', min: 0, max: 1, step: 0.01, default: 0.5 }),
    soft: numberParam({ label: 'Softness', min: 0.01, max: 1, step: 0.01, default: 0.04 }),
  }),
  work: ({ at, soft }) =>
    byBrightness((tone) => {
      const v = smoothStep(at - soft / 2, at + soft / 2, tone)
      return [v, v, v]
    }, 1),
})
