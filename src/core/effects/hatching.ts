import { z } from 'zod'
import { numberParam } from '../params'
import { defineEffect } from './effect-kind'
import { hatchLines } from './hatch-lines'
import { inkParams } from './ink'

/** Pen strokes in one direction, closer in two layers where it is dark. */
export const hatching = defineEffect({
  kind: 'hatching',
  version: 1,
  label: 'Hatching',
  group: 'Print and pen',
  summary: 'Pen strokes side by side, more and thicker where it is dark.',
  schema: z.object({
    spacing: numberParam({ label: 'Spacing', unit: 'px', min: 2, max: 60, step: 0.5, default: 6 }),
    weight: numberParam({ label: 'Weight', min: 0.1, max: 1, step: 0.01, default: 0.45 }),
    angleDeg: numberParam({ label: 'Angle', unit: '°', min: -90, max: 90, step: 1, default: -50 }),
    wobble: numberParam({ label: 'Wobble', min: 0, max: 1, step: 0.01, default: 0.35 }),
    seed: numberParam({ label: 'Seed', min: 0, max: 9999, step: 1, default: 1 }),
    ...inkParams,
  }),
  work: ({ spacing, weight, angleDeg, wobble, seed, ...ink }) =>
    hatchLines(
      {
        spacing,
        weight,
        wobble,
        seed,
        layers: [
          { angleDeg, from: 0.14 },
          { angleDeg, from: 0.5, shift: 0.5 },
        ],
      },
      ink,
    ),
})
