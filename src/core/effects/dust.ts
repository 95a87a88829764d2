import { z } from 'zod'
import { gridNoise, smoothNoise } from '../math/noise'
import { parseHex } from '../math/colour'
import { colourParam, numberParam } from '../params'
import { defineEffect } from './effect-kind'
import { brightness, covered, overPixel, smoothStep } from './pattern'

/** Specks of dust, seeded, only where the picture is bright enough: in dark places nobody sees it. */
export const dust = defineEffect({
  kind: 'dust',
  version: 1,
  label: 'Dust in the light',
  group: 'Surface',
  summary: 'Specks that show only where it is bright.',
  schema: z.object({
    amount: numberParam({ label: 'Amount', min: 0, max: 1, step: 0.01, default: 0.5 }),
    size: numberParam({ label: 'Size', unit: 'px', min: 1, max: 30, step: 0.5, default: 4 }),
    from: numberParam({ label: 'From brightness', min: 0, max: 1, step: 0.01, default: 0.5 }),
    colour: colourParam({ label: 'Colour', default: '#fff6e4' }),
    seed: numberParam({ label: 'Seed', min: 0, max: 9999, step: 1, default: 1 }),
  }),
  neutral: { amount: 0 },
  work({ amount, size, from, colour, seed }) {
    const [r, g, b] = parseHex(colour)
    const speck = [r, g, b]
    const cell = 5 * size
    const specks = (x: number, y: number, softPx: number): number => {
      const [cx, cy] = [Math.floor(x / cell), Math.floor(y / cell)]
      if (gridNoise(cx, cy, seed) > amount) return 0
      const radius = size * (0.25 + 0.5 * gridNoise(cx, cy, seed + 1) ** 3)
      const [px, py] = [
        (cx + 0.2 + 0.6 * gridNoise(cx, cy, seed + 2)) * cell,
        (cy + 0.2 + 0.6 * gridNoise(cx, cy, seed + 3)) * cell,
      ]
      // Not quite round.
      const angle = Math.atan2(y - py, x - px)
      const own =
        radius * (0.75 + 0.5 * smoothNoise(3 * Math.cos(angle), 3 * Math.sin(angle), seed + cx + 31 * cy))
      return (
        covered(own - Math.hypot(x - px, y - py), Math.max(softPx, 0.6)) *
        (0.35 + 0.65 * gridNoise(cx, cy, seed + 4))
      )
    }
    return {
      by: 'point',
      isHeavy: true,
      change(rgba, place) {
        const light = smoothStep(from - 0.1, from + 0.2, brightness(rgba))
        if (light === 0) return
        const t = light * overPixel(place, specks)
        for (let c = 0; c < 3; c++) rgba[c] += t * (speck[c] - rgba[c])
      },
    }
  },
})
