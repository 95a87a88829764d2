import { z } from 'zod'
import { defineTerm } from './term-kind'

/** Everything made of chosen materials, exact within every pixel. */
export const materialsTerm = defineTerm({
  kind: 'materials',
  version: 1,
  label: 'Materials',
  summary: 'Everything of chosen materials, exact to the edge.',
  shape: {
    /** Keys of materials. */
    keys: z.array(z.string()),
  },
})
