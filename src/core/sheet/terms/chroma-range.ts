import { z } from 'zod'
import { layerParam, rangeParam } from '../../params'
import { definePlaneTerm, inRange } from './term-kind'
import { toneOf } from './tone-of'

/** What is so strong in colour: 0 grey, 1 as strong as a display's colours get (0.32 in OKLCh). */
export const chromaRangeTerm = definePlaneTerm({
  kind: 'chromaRange',
  version: 1,
  label: 'Chroma range',
  summary: 'Greys, or strong colours, of what lies beneath, or of a layer.',
  schema: z.object({
    layer: layerParam({ label: 'Of', none: 'What lies beneath' }),
    range: rangeParam({ label: 'Chroma', min: 0, max: 1, default: [0.1, 0.25, 1, 1] }),
  }),
  maps: ({ layer }) => [toneOf(layer, 'chroma')],
  shows:
    ({ range }) =>
    (_x, _y, [chroma]) =>
      inRange(range, Math.min(1, Math.max(0, chroma / 0.32))),
})
