import { z } from 'zod'
import { gridNoise } from '../math/noise'
import { numberParam } from '../params'
import { defineEffect, type EffectArea } from './effect-kind'

/** Prints red, green and blue light a little beside each other: plates that were not laid on the same marks. */
export const misregister = defineEffect({
  kind: 'misregister',
  version: 1,
  label: 'Misregister',
  group: 'Print and pen',
  summary: 'Colour plates slipped against each other.',
  schema: z.object({
    amount: numberParam({ label: 'Slipped by', unit: 'px', min: 0, max: 40, step: 0.1, default: 2.5 }),
    turnDeg: numberParam({ label: 'Turned by', unit: '°', min: 0, max: 2, step: 0.01, default: 0.05 }),
    seed: numberParam({ label: 'Seed', min: 0, max: 9999, step: 1, default: 1 }),
  }),
  neutral: { amount: 0, turnDeg: 0 },
  work({ amount, turnDeg, seed }) {
    const plates = [0, 1, 2].map((c) => {
      const angle = 2 * Math.PI * (gridNoise(c, 0, seed) + c / 3)
      const far = amount * (0.6 + 0.4 * gridNoise(c, 1, seed))
      const turn = ((turnDeg * Math.PI) / 180) * (2 * gridNoise(c, 2, seed) - 1)
      return { dx: far * Math.cos(angle), dy: far * Math.sin(angle), turn }
    })
    return {
      by: 'area',
      reach: (scale, { width, height }) =>
        Math.ceil(amount * scale + ((turnDeg * Math.PI) / 180) * 0.5 * Math.hypot(width, height)) + 2,
      apply(area) {
        const { window, view, scale, reach, room, numbers } = area
        const count = window.width * window.height
        const places = room(8 * count)
        const plate = room(16 * count)
        plates.forEach(({ dx, dy, turn }, c) => {
          const list = numbers(places, 2 * count)
          for (let y = 0, i = 0; y < window.height; y++)
            for (let x = 0; x < window.width; x++, i += 2) {
              list[i] = dx * scale - turn * (window.y + y - view.height / 2)
              list[i + 1] = dy * scale + turn * (window.x + x - view.width / 2)
            }
          area.kernel.gatherOffset(area.input, plate, window.width, window.height, reach, places, 1, 0)
          takeChannel(area, plate, c, count)
        })
      },
    }
  },
})

/** Takes one channel of a plate into the picture; alpha is as large as the largest of them. */
function takeChannel({ out, numbers }: EffectArea, plate: number, c: number, count: number): void {
  const [from, to] = [numbers(plate, 4 * count), numbers(out, 4 * count)]
  for (let i = 0; i < 4 * count; i += 4) {
    // Where a plate has no ink, paper shows its light: what is clear counts as white in what is there.
    const alpha = from[i + 3]
    if (c === 0) {
      to[i] = from[i]
      to[i + 3] = alpha
      continue
    }
    const before = to[i + 3]
    const most = Math.max(before, alpha)
    for (let k = 0; k < c; k++) to[i + k] += most - before
    to[i + c] = from[i + c] + most - alpha
    to[i + 3] = most
  }
}
