import { z } from 'zod'
import { defineTerm } from './term-kind'

/** Groups of parts, exact within every pixel. */
export const groupsTerm = defineTerm({
  kind: 'groups',
  version: 1,
  label: 'Groups',
  summary: 'Chosen groups of parts, exact to the edge.',
  shape: {
    /** Names of groups. */
    keys: z.array(z.string()),
  },
  names: (surface) => surface.groups,
})
