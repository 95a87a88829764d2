import { z } from 'zod'
import { InvalidValueError } from '@/core/errors'
import { brushUseSchema } from '@/core/paint/brush'
import { paintPlaceSchema } from '@/core/paint/live-paint'
import type { PenSample } from '@/core/paint/stroke-walker'
import { maskSchema } from '@/core/sheet/sheet-schema'

/** How strokes are told to the sheet worker. */

const share = z.number().min(0).max(1)
const rgb = z.tuple([share, share, share])

/** A stroke before its pen comes down. */
export const strokeSchema = z.strictObject({
  place: paintPlaceSchema,
  brush: brushUseSchema,
  act: z.discriminatedUnion('kind', [
    z.strictObject({ kind: z.literal('paint'), rgb }),
    z.strictObject({
      kind: z.literal('clone'),
      /** The layer that it paints with; null: what is seen. */
      of: z.string().nullable(),
      /** From where it paints to where, in sheet pixels: added to the place of the tip. */
      dx: z.number(),
      dy: z.number(),
    }),
    z.strictObject({ kind: z.enum(['erase', 'smudge', 'soften', 'sharpen']) }),
    z.strictObject({
      kind: z.enum(['lighten', 'darken', 'tint']),
      rgb,
      range: z.tuple([share, share, share, share]),
    }),
    z.strictObject({ kind: z.literal('mask'), value: share }),
  ]),
  /** What it stays in; null for everywhere. */
  within: maskSchema.nullable(),
  mirrors: z.strictObject({ x: z.number().nullable(), y: z.number().nullable() }),
  seed: z.number().int(),
})
export type Stroke = z.infer<typeof strokeSchema>

/** Numbers that tell of a pen at a moment, in the order of {@link PenSample}. */
export const SAMPLE_NUMBERS = 7

/** Moments of a pen from numbers. @throws {InvalidValueError} */
export function readSamples(numbers: Float64Array): PenSample[] {
  if (numbers.length % SAMPLE_NUMBERS !== 0 || !numbers.every(Number.isFinite))
    throw new InvalidValueError('samples', 'must be finite numbers, seven each')
  return Array.from({ length: numbers.length / SAMPLE_NUMBERS }, (_, i) => {
    const [x, y, pressure, tiltX, tiltY, twist, at] = numbers.subarray(SAMPLE_NUMBERS * i)
    return { x, y, pressure, tiltX, tiltY, twist, at }
  })
}
export const writeSamples = (samples: readonly PenSample[]): Float64Array<ArrayBuffer> =>
  Float64Array.from(
    samples.flatMap(({ x, y, pressure, tiltX, tiltY, twist, at }) => [
      x,
      y,
      pressure,
      tiltX,
      tiltY,
      twist,
      at,
    ]),
  )

/** A tile as a stroke left it; without bytes where nothing is any more. */
export interface StrokeTile {
  readonly place: string
  readonly name: string | null
  readonly bytes: Uint8Array<ArrayBuffer> | null
}
