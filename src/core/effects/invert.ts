import { z } from 'zod'
import { defineEffect } from './effect-kind'

/** Black for white and white for black: `1 − v`. */
export const invert = defineEffect({
  kind: 'invert',
  version: 1,
  label: 'Invert',
  group: 'Tone',
  summary: 'Dark for light and light for dark.',
  schema: z.object({}),
  work: () => ({ by: 'tone', curve: (v) => 1 - v }),
})
