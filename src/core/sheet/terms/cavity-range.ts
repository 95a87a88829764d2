import { z } from 'zod'
import { mapParam, rangeParam } from '../../params'
import { definePlaneTerm, inRange } from './term-kind'

/** Ridges and valleys: −1 a sharp ridge, 0 flat, 1 a deep valley. */
export const cavityRangeTerm = definePlaneTerm({
  kind: 'cavityRange',
  version: 1,
  label: 'Cavity',
  summary: 'Ridges, or valleys, of the form.',
  schema: z.object({
    map: mapParam({ label: 'Cavity', pass: 'cavity' }),
    range: rangeParam({ label: 'Ridge to valley', min: -1, max: 1, default: [-1, -1, -0.35, -0.1] }),
  }),
  maps: ({ map }) => [{ from: 'shot', map: 'cavity', id: map }],
  shows:
    ({ range }) =>
    (_x, _y, [height]) =>
      // A right-angled edge is full ridge or valley.
      inRange(range, Math.min(1, Math.max(-1, 4 * height))),
})
