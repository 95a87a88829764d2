import { z } from 'zod'
import { defineTerm } from './term-kind'

/** What parts do in the picture: subject or ground, exact within every pixel. */
export const rolesTerm = defineTerm({
  kind: 'roles',
  version: 1,
  label: 'Roles',
  summary: 'The subject or the ground, exact to the edge.',
  shape: {
    /** Roles of parts. */
    keys: z.array(z.string()),
  },
  names: (surface) => [surface.role ?? 'subject'],
})
