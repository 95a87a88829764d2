import { z } from 'zod'
import { defineContent } from './content-kind'

/** Layers in one tray. */
export const groupContent = defineContent({
  kind: 'group',
  version: 1,
  label: 'Group',
  summary: 'Layers that are handled, masked and blended together.',
  shape: {
    /** Ids, back first. */
    children: z.array(z.string()),
    /** Composed alone and then blended; else its layers blend into what lies beneath. */
    isolated: z.boolean(),
    /** Whether its cards lie one behind another in the rack. */
    folded: z.boolean().default(false),
  },
})
