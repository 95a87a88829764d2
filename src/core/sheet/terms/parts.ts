import { z } from 'zod'
import { defineTerm } from './term-kind'

/** Parts of the shot’s models, exact within every pixel. */
export const partsTerm = defineTerm({
  kind: 'parts',
  version: 1,
  label: 'Parts',
  summary: 'Chosen parts, exact to the edge.',
  shape: {
    /** Keys of parts. */
    keys: z.array(z.string()),
  },
  names: (surface) => [surface.part],
})
