import { z } from 'zod'
import { handEditSchema } from '../../lines/hand-weights'
import { paramValuesSchema } from '../../params'
import { passWindow } from '../../passes/pass-picture'
import { layWindow, passPlacement } from '../pass-placement'
import { defineContent } from './content-kind'

/** A rendered pass under a look. */
export const passContent = defineContent({
  kind: 'pass',
  version: 1,
  label: 'Pass',
  summary: 'A rendered pass under a look of its own.',
  shape: {
    passId: z.string(),
    look: paramValuesSchema,
    /** What was done to its lines by hand. */
    byHand: z.array(handEditSchema).optional(),
  },
  uses: ({ passId }) => [passId],
  paint({ passId, look, byHand }, { window, view, sheet, resources }) {
    const result = resources.pass(passId)
    if (!result) return null
    const placed = passPlacement(result, view, sheet)
    return layWindow(placed, window, 4, (inside) => passWindow(result, look, placed, inside, byHand))
  },
})
