import { z } from 'zod'
import { numberParam } from '../../params'
import { defineProp } from './prop-kind'
import { extrudeProfile } from './profile-mesh'

/** A flat square. */
export const groundPlane = defineProp({
  kind: 'ground-plane',
  label: 'Ground plane',
  summary: 'A flat floor that takes the fallen shadow.',
  schema: z.object({
    size: numberParam({ label: 'Side', min: 0.01, max: 1e5, step: 0.01, default: 8, logarithmic: true }),
  }),
  make: ({ size }) =>
    extrudeProfile(
      'Ground plane',
      [
        [0, -size / 2],
        [0, size / 2],
      ],
      size,
    ),
})
