import { z } from 'zod'
import { numberParam } from '../params'
import { defineEffect } from './effect-kind'

/** The even mean of a square about each pixel, 2·radius + 1 pixels wide; its border counts by share. */
export const boxBlur = defineEffect({
  kind: 'boxBlur',
  version: 1,
  label: 'Box blur',
  group: 'Blur and focus',
  summary: 'The mean of a square: a hard, geometric softness.',
  schema: z.object({
    radius: numberParam({
      label: 'Radius',
      unit: 'px',
      min: 0,
      max: 200,
      step: 0.5,
      default: 8,
      logarithmic: true,
    }),
  }),
  neutral: { radius: 0 },
  work: ({ radius }) => ({
    by: 'area',
    reach: (scale) => Math.ceil(radius * scale) + 1,
    apply({ window: { width, height }, reach, scale, input, out, numbers, room }) {
      const r = radius * scale
      const [whole, rest] = [Math.floor(r), r - Math.floor(r)]
      const across = width + 2 * reach
      const down = height + 2 * reach
      const middleAt = room(16 * width * down)
      const from = numbers(input, 4 * across * down)
      const middle = numbers(middleAt, 4 * width * down)
      const to = numbers(out, 4 * width * height)
      for (let y = 0; y < down; y++)
        slide(from, 4 * y * across, 4, middle, 4 * y * width, 4, width, reach, whole, rest)
      for (let x = 0; x < width; x++)
        slide(middle, 4 * x, 4 * width, to, 4 * x, 4 * width, height, reach, whole, rest)
    },
  }),
})

/** A running mean along one line of pixels, which goes `reach` beyond what is made at both ends. Steps are in numbers. */
function slide(
  from: Float32Array,
  start: number,
  step: number,
  to: Float32Array,
  at: number,
  atStep: number,
  count: number,
  reach: number,
  whole: number,
  rest: number,
): void {
  const share = 1 / (2 * (whole + rest) + 1)
  for (let c = 0; c < 4; c++) {
    const own = start + c
    let sum = 0
    for (let k = reach - whole; k <= reach + whole; k++) sum += from[own + k * step]
    for (let i = 0; i < count; i++) {
      const first = own + (i + reach - whole) * step
      const last = own + (i + reach + whole) * step
      to[at + c + i * atStep] = share * (sum + rest * (from[first - step] + from[last + step]))
      sum += from[last + step] - from[first]
    }
  }
}
