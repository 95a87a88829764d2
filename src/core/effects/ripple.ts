import { z } from 'zod'
import { numberParam } from '../params'
import { defineEffect } from './effect-kind'

/** Moves each pixel along a wave. */
export const ripple = defineEffect({
  kind: 'ripple',
  version: 1,
  label: 'Ripple',
  group: 'Surface',
  summary: 'Waves through the picture, as over water or uneven glass.',
  schema: z.object({
    amount: numberParam({ label: 'Height', unit: 'px', min: 0, max: 120, step: 0.5, default: 6 }),
    length: numberParam({
      label: 'Length',
      unit: 'px',
      min: 4,
      max: 600,
      step: 1,
      default: 60,
      logarithmic: true,
    }),
    angleDeg: numberParam({ label: 'Waves run', unit: '°', min: -180, max: 180, step: 1, default: 90 }),
    phase: numberParam({ label: 'Phase', unit: '°', min: 0, max: 360, step: 1, default: 0 }),
  }),
  neutral: { amount: 0 },
  work: ({ amount, length, angleDeg, phase }) => ({
    by: 'area',
    reach: (scale) => Math.ceil(amount * scale) + 1,
    apply({ window, reach, scale, input, out, kernel, room, numbers }) {
      const angle = (angleDeg * Math.PI) / 180
      const [cos, sin] = [Math.cos(angle), Math.sin(angle)]
      const places = room(8 * window.width * window.height)
      const list = numbers(places, 2 * window.width * window.height)
      const turn = (2 * Math.PI) / length
      const start = (phase * Math.PI) / 180
      for (let y = 0, i = 0; y < window.height; y++)
        for (let x = 0; x < window.width; x++, i += 2) {
          const along = ((window.x + x + 0.5) * cos + (window.y + y + 0.5) * sin) / scale
          // Across the way the waves run.
          const off = amount * scale * Math.sin(along * turn + start)
          list[i] = -sin * off
          list[i + 1] = cos * off
        }
      kernel.gatherOffset(input, out, window.width, window.height, reach, places, 1, 0)
    },
  }),
})
