import { z } from 'zod'
import { numberParam } from '../../params'
import { evenNoise } from '../../passes/shot-maps'
import { definePlaneTerm } from './term-kind'

/** Patches of seeded noise, as clouds are. */
export const cloudsTerm = definePlaneTerm({
  kind: 'clouds',
  version: 1,
  label: 'Clouds',
  summary: 'Uneven patches, as clouds or old paint have.',
  schema: z.object({
    size: numberParam({
      label: 'Size',
      unit: 'px',
      min: 4,
      max: 2000,
      step: 1,
      default: 160,
      logarithmic: true,
    }),
    cover: numberParam({ label: 'Cover', min: 0, max: 1, step: 0.01, default: 0.5 }),
    soft: numberParam({ label: 'Softness', min: 0.02, max: 1, step: 0.01, default: 0.35 }),
    seed: numberParam({ label: 'Seed', min: 0, max: 9999, step: 1, default: 1 }),
  }),
  maps: ({ size, seed }) => [evenNoise(size, seed, 5)],
  shows: ({ cover, soft }) => {
    // Noise of several sizes keeps to its middle: its range is taken for what it is.
    const from = 0.5 + 0.32 * (1 - 2 * cover)
    return (_x, _y, [v]) => Math.min(1, Math.max(0, 0.5 + (v - from) / (0.4 * soft)))
  },
})
