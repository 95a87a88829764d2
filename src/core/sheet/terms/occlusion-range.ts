import { z } from 'zod'
import { mapParam, rangeParam } from '../../params'
import { definePlaneTerm, inRange } from './term-kind'

/** Where light gets so far: 1 in the open, 0 in the deepest corner. */
export const occlusionRangeTerm = definePlaneTerm({
  kind: 'occlusionRange',
  version: 1,
  label: 'Occlusion',
  summary: 'Corners and crevices, or what lies open.',
  schema: z.object({
    map: mapParam({ label: 'Occlusion', pass: 'occlusion' }),
    range: rangeParam({ label: 'Open to light', min: 0, max: 1, default: [0, 0, 0.4, 0.8] }),
  }),
  maps: ({ map }) => [{ from: 'shot', map: 'occlusion', id: map }],
  shows:
    ({ range }) =>
    (_x, _y, [open]) =>
      inRange(range, Math.min(1, Math.max(0, open))),
})
