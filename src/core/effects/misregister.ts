import { z } from 'zod'
import { numberParam } from '../params'
import { defineEffect, type EffectArea } from './effect-kind'
import { laySlipped, plateSlips, slipReach } from './plate-slip'

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
    const plates = plateSlips(3, amount, turnDeg, seed)
    return {
      by: 'area',
      reach: (scale, view) => slipReach(amount, turnDeg, scale, view),
      apply(area) {
        const count = area.window.width * area.window.height
        const places = area.room(8 * count)
        const plate = area.room(16 * count)
        plates.forEach((slip, c) => {
          laySlipped(area, slip, places, plate)
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
