import { z } from 'zod'
import { mapParam, numberParam } from '../params'
import { defineEffect } from './effect-kind'

/** Sends the hue of what faces up towards cool and of what faces down towards warm, and strengthens colours with the turn. */
export const normalSaturation = defineEffect({
  kind: 'normalSaturation',
  version: 1,
  label: 'Colour from normals',
  group: 'Detail',
  summary: 'Colours grow stronger where surfaces turn away, cooler on top and warmer beneath.',
  schema: z.object({
    map: mapParam({ label: 'Normal', pass: 'normal' }),
    chroma: numberParam({ label: 'Stronger by', min: 0, max: 3, step: 0.05, default: 0.6 }),
    warm: numberParam({ label: 'Warm and cool', min: 0, max: 1, step: 0.02, default: 0.3 }),
  }),
  neutral: { chroma: 0, warm: 0 },
  work: ({ map, chroma, warm }) => ({
    by: 'point',
    space: 'oklab',
    maps: [
      { from: 'shot', map: 'normalY', id: map },
      { from: 'shot', map: 'normalZ', id: map },
    ],
    change(lab, { maps: [up, towards] }) {
      if (Number.isNaN(up) || (up === 0 && towards === 0)) return
      const k = 1 + chroma * (1 - Math.max(0, towards))
      lab[1] *= k
      // Along OKLab's axis from blue to yellow.
      lab[2] = k * lab[2] - 0.08 * warm * up
    },
    fast(kernel, { blocks, count, maps: [up, towards] }) {
      if (up !== 0 && towards !== 0) kernel.turnByNormal(blocks, up, towards, count, chroma, warm)
    },
  }),
})
