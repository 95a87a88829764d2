import { z } from 'zod'
import { mapParam, rangeParam } from '../../params'
import { definePlaneTerm, inRange } from './term-kind'

/** What faces the viewer so much: 1 head on, 0 at the rim. */
export const facingRangeTerm = definePlaneTerm({
  kind: 'facingRange',
  version: 1,
  label: 'Facing',
  summary: 'What turns towards the viewer, or away.',
  schema: z.object({
    map: mapParam({ label: 'Facing', pass: 'facing' }),
    range: rangeParam({ label: 'Turned towards', min: 0, max: 1, default: [0, 0, 0.3, 0.6] }),
  }),
  maps: ({ map }) => [{ from: 'shot', map: 'facing', id: map }],
  shows:
    ({ range }) =>
    (_x, _y, [facing]) =>
      inRange(range, Math.min(1, Math.max(0, facing))),
})
