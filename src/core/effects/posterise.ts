import { z } from 'zod'
import { numberParam } from '../params'
import { defineEffect } from './effect-kind'

/** As many even steps from black to white as asked for: `floor(n · v) / (n − 1)`. */
export const posterise = defineEffect({
  kind: 'posterise',
  version: 1,
  label: 'Posterise',
  group: 'Tone',
  summary: 'A few flat steps instead of smooth tones.',
  schema: z.object({
    steps: numberParam({ label: 'Steps', min: 2, max: 64, step: 1, default: 5 }),
  }),
  work({ steps }) {
    const n = Math.round(steps)
    return { by: 'tone', curve: (v) => Math.min(n - 1, Math.floor(v * n)) / (n - 1) }
  },
})
