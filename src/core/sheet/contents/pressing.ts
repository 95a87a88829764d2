import { z } from 'zod'
import { defineContent } from './content-kind'

/** A live pressing: what is made of other layers, as one that follows them. */
export const pressingContent = defineContent({
  kind: 'pressing',
  version: 1,
  label: 'Pressing',
  summary: 'Holds what is seen beneath it, or what another layer shows, and follows it.',
  shape: {
    /** Id of the layer it follows; null: all that lies beneath it in its group. */
    of: z.string().nullable(),
  },
})
