import { z } from 'zod'
import { choiceParam, numberParam, pointParam } from '../params'
import { defineEffect } from './effect-kind'

/** Most places along a pixel's way. */
const MOST_STEPS = 48

/** The mean along the way to a point, or about it: how far grows with the distance from it. */
export const pointBlur = defineEffect({
  kind: 'pointBlur',
  version: 1,
  label: 'Blur from a point',
  group: 'Blur and focus',
  summary: 'Rushes away from a point, or turns about it; sharp where it is.',
  schema: z.object({
    centre: pointParam({ label: 'Point', default: [0.5, 0.5] }),
    way: choiceParam({
      label: 'Goes',
      options: { away: 'Away from it', about: 'About it' },
      default: 'away',
    }),
    amount: numberParam({ label: 'Amount', unit: '%', min: 0, max: 30, step: 0.1, default: 4 }),
  }),
  neutral: { amount: 0 },
  work: ({ centre, way, amount }) => ({
    by: 'area',
    // As far as the sheet's farthest corner goes, half to each side.
    reach: (_scale, { width, height }) => {
      const across = Math.max(Math.abs(centre[0]), Math.abs(1 - centre[0])) * width
      const down = Math.max(Math.abs(centre[1]), Math.abs(1 - centre[1])) * height
      return Math.ceil((amount / 200) * Math.hypot(across, down)) + 1
    },
    apply({ window, view, reach, input, out, kernel, room, numbers }) {
      const [cx, cy] = [centre[0] * view.width, centre[1] * view.height]
      const count = window.width * window.height
      const half = amount / 200
      // As many as the farthest pixel of the picture asks for: all of them, so that tiles fit.
      const steps = Math.min(MOST_STEPS, Math.max(2, 2 * (reach - 1)))
      const places = room(8 * count)
      const most = reach - 1
      for (let k = 0; k <= steps; k++) {
        const along = half * ((2 * k) / steps - 1)
        const list = numbers(places, 2 * count)
        const [cos, sin] = way === 'away' ? [along, 0] : [Math.cos(along) - 1, Math.sin(along)]
        for (let y = 0, i = 0; y < window.height; y++)
          for (let x = 0; x < window.width; x++, i += 2) {
            const dx = window.x + x + 0.5 - cx
            const dy = window.y + y + 0.5 - cy
            list[i] = Math.min(most, Math.max(-most, cos * dx - sin * dy))
            list[i + 1] = Math.min(most, Math.max(-most, sin * dx + cos * dy))
          }
        const weight = (k === 0 || k === steps ? 0.5 : 1) / steps
        kernel.gatherOffset(input, out, window.width, window.height, reach, places, weight, k === 0 ? 0 : 1)
      }
    },
  }),
})
