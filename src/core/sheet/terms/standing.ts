import { z } from 'zod'
import { numberParam } from '../../params'
import { definePlaneTerm } from './term-kind'

/** What stands at a depth of the shot: parts that are nearer cover it, exact within every pixel. */
export const standingTerm = definePlaneTerm({
  kind: 'standing',
  version: 1,
  label: 'Stands at a depth',
  summary: 'Behind the parts that are nearer, exact to the edge.',
  schema: z.object({
    /** 0 before all of the subject, 1 behind all of it: parts are ordered by the mean depth of what is seen of them. */
    depth: numberParam({ label: 'Depth', min: -10, max: 1000, step: 0.001, default: 0.5 }),
  }),
  maps: ({ depth }) => [{ from: 'nearer', depth }],
  shows:
    () =>
    (_x, _y, [nearer]) =>
      1 - nearer,
})
