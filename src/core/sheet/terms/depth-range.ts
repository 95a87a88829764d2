import { z } from 'zod'
import { mapParam, rangeParam } from '../../params'
import { definePlaneTerm, inRange } from './term-kind'

/** What lies between two distances, with soft ends; in shares of the subject's own depth. */
export const depthRangeTerm = definePlaneTerm({
  kind: 'depthRange',
  version: 1,
  label: 'Depth range',
  summary: 'What is as near or far as you say.',
  schema: z.object({
    map: mapParam({ label: 'Depth', pass: 'depth' }),
    range: rangeParam({ label: 'Distance', min: -1, max: 3, default: [-1, -1, 0.5, 0.8] }),
  }),
  maps: ({ map }) => [{ from: 'shot', map: 'depth', id: map }],
  shows:
    ({ range }) =>
    (_x, _y, [depth]) =>
      // Nothing is farther away than the range goes.
      inRange(range, Math.min(3, Math.max(-1, depth))),
})
