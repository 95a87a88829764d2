import { z } from 'zod'
import { parseHex } from '../../math/colour'
import { srgbToOklab } from '../../math/oklab'
import { colourParam, layerParam, numberParam } from '../../params'
import { definePlaneTerm } from './term-kind'
import { toneOf } from './tone-of'

/** What is like one colour: its distance in OKLab, where 1 is from black to white. */
export const similarColourTerm = definePlaneTerm({
  kind: 'similarColour',
  version: 1,
  label: 'Similar colour',
  summary: 'What has nearly the colour that you press, in what lies beneath, or in a layer.',
  schema: z.object({
    layer: layerParam({ label: 'Of', none: 'What lies beneath' }),
    colour: colourParam({ label: 'Like', default: '#c8a070' }),
    reach: numberParam({ label: 'As far as', min: 0, max: 0.6, step: 0.005, default: 0.08 }),
    soft: numberParam({ label: 'Soft', min: 0.005, max: 0.6, step: 0.005, default: 0.06 }),
    lightness: numberParam({ label: 'Lightness counts', min: 0, max: 1, step: 0.05, default: 0.6 }),
  }),
  maps: ({ layer }) => [
    toneOf(layer, 'lightness'),
    toneOf(layer, 'green to red'),
    toneOf(layer, 'blue to yellow'),
    toneOf(layer, 'alpha'),
  ],
  shows({ colour, reach, soft, lightness: weight }) {
    const [red, green, blue] = parseHex(colour)
    const [l, a, b] = srgbToOklab([red, green, blue])
    return (_x, _y, [ownL, ownA, ownB, alpha]) => {
      const far = Math.hypot(weight * (ownL - l), ownA - a, ownB - b)
      return Math.min(1, Math.max(0, alpha)) * Math.min(1, Math.max(0, (reach + soft - far) / soft))
    }
  },
})
