import { z } from 'zod'
import { numberParam } from '../params'
import { defineEffect } from './effect-kind'
import { ShiftTaps } from './shift-taps'

/** The mean along a line through each pixel: what moved while it was seen. */
export const directionalBlur = defineEffect({
  kind: 'directionalBlur',
  version: 1,
  label: 'Directional blur',
  group: 'Blur and focus',
  summary: 'Smears along one direction, as what moves.',
  schema: z.object({
    length: numberParam({
      label: 'Length',
      unit: 'px',
      min: 0,
      max: 400,
      step: 1,
      default: 24,
      logarithmic: true,
    }),
    angleDeg: numberParam({ label: 'Angle', unit: '°', min: -180, max: 180, step: 1, default: 0 }),
  }),
  neutral: { length: 0 },
  work: ({ length, angleDeg }) => ({
    by: 'area',
    reach: (scale) => Math.ceil((length * scale) / 2) + 1,
    apply(area) {
      const pixels = length * area.scale
      const angle = (angleDeg * Math.PI) / 180
      const steps = Math.max(1, Math.ceil(pixels))
      const taps = new ShiftTaps()
      for (let i = 0; i <= steps; i++) {
        const along = (i / steps - 0.5) * pixels
        // Both ends are half of a step.
        taps.add(along * Math.cos(angle), along * Math.sin(angle), i === 0 || i === steps ? 0.5 : 1)
      }
      taps.apply(area)
    },
  }),
})
