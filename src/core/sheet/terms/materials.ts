import { z } from 'zod'
import { defineTerm } from './term-kind'

/** Materials of the shot’s models, exact within every pixel. */
export const materialsTerm = defineTerm({
  kind: 'materials',
  version: 1,
  label: 'Materials',
  summary: 'Chosen materials, exact to the edge.',
  shape: {
    /** Keys of materials. */
    keys: z.array(z.string()),
  },
  names: (surface) => [surface.material],
})
