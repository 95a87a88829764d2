import { z } from 'zod'
import { layerParam, numberParam } from '../params'
import { defineEffect } from './effect-kind'

/** Moves each pixel by the brightness of another layer: middle grey leaves it, white pushes it along the angle, black back. */
export const displace = defineEffect({
  kind: 'displace',
  version: 1,
  label: 'Displace by a layer',
  group: 'Surface',
  summary: 'Pushes the picture about by how bright another layer is.',
  schema: z.object({
    layer: layerParam({ label: 'Layer' }),
    amount: numberParam({ label: 'Amount', unit: 'px', min: 0, max: 200, step: 0.5, default: 12 }),
    angleDeg: numberParam({ label: 'Towards', unit: '°', min: -180, max: 180, step: 1, default: 45 }),
  }),
  neutral: { amount: 0 },
  work: ({ layer, amount, angleDeg }) => ({
    by: 'area',
    reach: (scale) => Math.ceil(amount * scale) + 1,
    maps: [{ from: 'layer', id: layer, measure: 'brightness' }],
    apply({ window, reach, scale, input, out, kernel, room, numbers, map }) {
      const plane = map(0)
      const across = window.width + 2 * reach
      const angle = (angleDeg * Math.PI) / 180
      const [dx, dy] = [Math.cos(angle) * amount * scale, Math.sin(angle) * amount * scale]
      const places = room(8 * window.width * window.height)
      const list = numbers(places, 2 * window.width * window.height)
      for (let y = 0, i = 0; y < window.height; y++)
        for (let x = 0; x < window.width; x++, i += 2) {
          const tone = plane[(y + reach) * across + x + reach]
          // What is pushed towards a side shows what lay on the other.
          const push = Number.isNaN(tone) ? 0 : 1 - 2 * Math.min(1, Math.max(0, tone))
          list[i] = push * dx
          list[i + 1] = push * dy
        }
      kernel.gatherOffset(input, out, window.width, window.height, reach, places, 1, 0)
    },
  }),
})
