import { z } from 'zod'
import { mapParam, rangeParam } from '../../params'
import { definePlaneTerm, inRange } from './term-kind'

/** What lies between two heights, with soft ends; in shares of the subject's own height. */
export const heightRangeTerm = definePlaneTerm({
  kind: 'heightRange',
  version: 1,
  label: 'Height range',
  summary: 'What lies as low or high as you say, from the foot of the subject up.',
  schema: z.object({
    map: mapParam({ label: 'Depth', pass: 'depth' }),
    range: rangeParam({ label: 'Height', min: -1, max: 3, default: [-1, -1, 0.5, 0.6] }),
  }),
  maps: ({ map }) => [{ from: 'shot', map: 'height', id: map }],
  shows:
    ({ range }) =>
    (_x, _y, [height]) =>
      // Nothing is lower or higher than the range goes.
      inRange(range, Math.min(3, Math.max(-1, height))),
})
