import { z } from 'zod'
import { colourParam, grouped, layerParam, numberParam } from '../../params'
import { defineContent } from './content-kind'

const schema = z.object({
  of: layerParam({ label: 'Of', none: 'No layer' }),
  colour: colourParam({ label: 'Colour', default: '#1f1a2b' }),
  ...grouped('Shadow', {
    strength: numberParam({ label: 'Strength', min: 0, max: 1, step: 0.01, default: 0.55 }),
    azimuthDeg: numberParam({
      label: 'Light from the side',
      unit: '°',
      min: -180,
      max: 180,
      step: 1,
      default: -42,
    }),
    elevationDeg: numberParam({
      label: 'Light from above',
      unit: '°',
      min: -89,
      max: 89,
      step: 1,
      default: 38,
    }),
    sizeDeg: numberParam({ label: 'Size of the light', unit: '°', min: 0, max: 60, step: 0.5, default: 6 }),
  }),
  ...grouped('Occlusion', {
    occlusion: numberParam({ label: 'Strength', min: 0, max: 1, step: 0.01, default: 0.4 }),
    reach: numberParam({ label: 'Reach', unit: '%D', min: 0.5, max: 100, step: 0.5, default: 12 }),
  }),
})

/** Blurs of the layer that soft shadows are mixed of, in thousandths of the sheet's height. */
export const CAST_BLURS = [0, 4, 16, 60] as const

const castShadowShape = { ...schema.shape }
export type CastShadow = z.infer<z.ZodObject<typeof castShadowShape>>

/**
 * What another layer that stands at a depth of the shot throws on its surfaces: its shadow, and how it keeps light from what is
 * close behind it. The layer stands upright, parallel to the picture, at its depth. It is painted where layers are planned.
 */
export const castShadowContent = defineContent({
  kind: 'castShadow',
  version: 1,
  label: 'Shadow of a layer',
  summary: 'The shadow, and the occlusion, of a layer that stands among the parts of the shot.',
  schema,
  shape: castShadowShape,
  shotPasses: () => ['depth'],
})
