import { z } from 'zod'
import { numberParam } from '../params'
import { defineEffect } from './effect-kind'
import { hatchLines } from './hatch-lines'
import { inkParams } from './ink'

/** Pen strokes in up to four directions: a further one begins with each step into the dark. */
export const crossHatching = defineEffect({
  kind: 'crossHatching',
  version: 1,
  label: 'Cross-hatching',
  group: 'Print and pen',
  summary: 'Pen strokes crossed by others, the darker the more of them.',
  schema: z.object({
    spacing: numberParam({ label: 'Spacing', unit: 'px', min: 2, max: 60, step: 0.5, default: 7 }),
    weight: numberParam({ label: 'Weight', min: 0.1, max: 1, step: 0.01, default: 0.32 }),
    angleDeg: numberParam({ label: 'Angle', unit: '°', min: -90, max: 90, step: 1, default: -45 }),
    layers: numberParam({ label: 'Directions', min: 2, max: 4, step: 1, default: 3 }),
    wobble: numberParam({ label: 'Wobble', min: 0, max: 1, step: 0.01, default: 0.45 }),
    seed: numberParam({ label: 'Seed', min: 0, max: 9999, step: 1, default: 1 }),
    ...inkParams,
  }),
  work: ({ spacing, weight, angleDeg, layers, wobble, seed, ...ink }) =>
    hatchLines(
      {
        spacing,
        weight,
        wobble,
        seed,
        layers: [0, 78, 40, -35].slice(0, Math.round(layers)).map((turn, i) => ({
          angleDeg: angleDeg + turn,
          from: [0.12, 0.36, 0.58, 0.76][i],
        })),
      },
      ink,
    ),
})
