import { z } from 'zod'
import { numberParam } from '../../params'
import { evenNoise } from '../../passes/shot-maps'
import { definePlaneTerm } from './term-kind'

/** From the seed of a pattern to that of the one it drifts through. */
const OTHER = 5003

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
    /** They change from one pattern to another and back: 1 is where they began. */
    phase: numberParam({ label: 'Drift', unit: '×', min: 0, max: 100, step: 0.01, default: 0 }),
  }),
  maps: ({ size, seed, phase }) =>
    phase % 1 === 0
      ? [evenNoise(size, seed, 5)]
      : [evenNoise(size, seed, 5), evenNoise(size, (seed + OTHER) % 10_000, 5)],
  shows: ({ cover, soft, phase }) => {
    const [cos, sin] =
      phase % 1 === 0 ? [1, 0] : [Math.cos(2 * Math.PI * phase), Math.sin(2 * Math.PI * phase)]
    // Noise of several sizes keeps to its middle: its range is taken for what it is.
    const from = 0.5 + 0.32 * (1 - 2 * cover)
    return (_x, _y, [a, b]) => {
      // As uneven at any time: shares of two patterns whose squares make one.
      const v = sin === 0 && cos === 1 ? a : 0.5 + cos * (a - 0.5) + sin * (b - 0.5)
      return Math.min(1, Math.max(0, 0.5 + (v - from) / (0.4 * soft)))
    }
  },
})
