import { z } from 'zod'
import { layerParam, numberParam } from '../../params'
import { definePlaneTerm } from './term-kind'
import { toneOf } from './tone-of'

/** What has about this hue, in degrees of OKLCh; greys have none. */
export const hueRangeTerm = definePlaneTerm({
  kind: 'hueRange',
  version: 1,
  label: 'Hue range',
  summary: 'Colours about one hue, of what lies beneath, or of a layer.',
  schema: z.object({
    layer: layerParam({ label: 'Of', none: 'What lies beneath' }),
    aboutDeg: numberParam({ label: 'Hue', unit: '°', min: 0, max: 360, step: 1, default: 40 }),
    widthDeg: numberParam({ label: 'Width', unit: '°', min: 1, max: 360, step: 1, default: 60 }),
    softDeg: numberParam({ label: 'Soft ends', unit: '°', min: 0, max: 90, step: 1, default: 20 }),
  }),
  maps: ({ layer }) => [toneOf(layer, 'hue'), toneOf(layer, 'chroma')],
  shows:
    ({ aboutDeg, widthDeg, softDeg }) =>
    (_x, _y, [hue, chroma]) => {
      const off = Math.abs(((hue - aboutDeg + 540) % 360) - 180)
      const inside = (widthDeg / 2 + softDeg / 2 - off) / Math.max(1e-6, softDeg)
      return Math.min(1, Math.max(0, inside)) * Math.min(1, Math.max(0, (chroma - 0.005) / 0.03))
    },
})
