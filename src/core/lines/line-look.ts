import { z } from 'zod'
import { parseHex } from '../math/colour'
import { colourParam, numberParam } from '../params'
import type { LookInput } from '../passes/pass-kind'

/** Live parameters that all line passes share. */
export const lineLookSchema = z.object({
  colour: colourParam({ label: 'Line', default: '#1c1815' }),
  strength: numberParam({ label: 'Strength', min: 0, max: 1, step: 0.01, default: 1 }),
})

/** Coverage as ink: one colour, transparent between the lines. */
export function lineLook(
  { count, planes }: LookInput,
  params: z.infer<typeof lineLookSchema>,
  out: Float32Array,
): void {
  const [coverage] = planes
  const [r, g, b] = parseHex(params.colour)
  for (let i = 0; i < count; i++) {
    out[4 * i] = r
    out[4 * i + 1] = g
    out[4 * i + 2] = b
    out[4 * i + 3] = coverage[i] * params.strength
  }
}

/** Line weight: thousandths of the picture's height, so a draft and the final agree. */
export const weightParam = (defaultWeight: number) =>
  numberParam({
    label: 'Weight',
    unit: '‰',
    min: 0.2,
    max: 20,
    step: 0.1,
    default: defaultWeight,
    logarithmic: true,
  })

/** Half the width of a stroke in pixels. */
export const halfWidthPx = (weight: number, pictureHeight: number): number =>
  (weight / 1000) * pictureHeight * 0.5
