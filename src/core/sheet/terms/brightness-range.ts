import { z } from 'zod'
import { layerParam, rangeParam } from '../../params'
import { definePlaneTerm, inRange } from './term-kind'
import { toneOf } from './tone-of'

/** What is so bright, in another layer or in what lies beneath. */
export const brightnessRangeTerm = definePlaneTerm({
  kind: 'brightnessRange',
  version: 1,
  label: 'Brightness range',
  summary: 'Darks, middles or lights of what lies beneath, or of a layer.',
  schema: z.object({
    layer: layerParam({ label: 'Of', none: 'What lies beneath' }),
    range: rangeParam({ label: 'Brightness', min: 0, max: 1, default: [0, 0, 0.35, 0.6] }),
  }),
  maps: ({ layer }) => [toneOf(layer, 'brightness')],
  shows:
    ({ range }) =>
    (_x, _y, [tone]) =>
      inRange(range, Math.min(1, Math.max(0, tone))),
})
