import { z } from 'zod'
import { numberParam } from '../params'
import { defineEffect } from './effect-kind'

/** A gaussian of a width in sheet pixels, so that it looks the same at every size. */
export const gaussianBlur = defineEffect({
  kind: 'gaussianBlur',
  version: 1,
  label: 'Gaussian blur',
  group: 'Blur and focus',
  summary: 'Softens everything alike.',
  schema: z.object({
    sigma: numberParam({
      label: 'Radius',
      unit: 'px',
      min: 0,
      max: 500,
      step: 0.1,
      default: 4,
      logarithmic: true,
    }),
  }),
  neutral: { sigma: 0 },
  work: ({ sigma }) => ({ by: 'blur', sigmaPx: sigma }),
})
