import { z } from 'zod'
import { numberParam } from '../../params'
import { defineProp } from './prop-kind'
import { extrudeProfile } from './profile-mesh'

const STEPS = 24

/** A floor that rises behind the subject in one curve, as paper hung in a studio does. */
export const backdrop = defineProp({
  kind: 'backdrop',
  label: 'Curved backdrop',
  summary: 'A floor that rises behind the subject in one curve: no horizon.',
  schema: z.object({
    width: numberParam({ label: 'Width', min: 0.01, max: 1e5, step: 0.01, default: 8, logarithmic: true }),
    depth: numberParam({ label: 'Depth', min: 0.01, max: 1e5, step: 0.01, default: 4, logarithmic: true }),
    height: numberParam({ label: 'Height', min: 0.01, max: 1e5, step: 0.01, default: 4, logarithmic: true }),
    curve: numberParam({ label: 'Curve', min: 0.01, max: 1e5, step: 0.01, default: 1.2, logarithmic: true }),
  }),
  make({ width, depth, height, curve }) {
    const radius = Math.min(curve, height, depth)
    const back = -depth / 2
    const profile: [number, number][] = []
    if (height > radius) profile.push([height, back])
    for (let i = 0; i <= STEPS; i++) {
      const angle = (Math.PI / 2) * (i / STEPS)
      profile.push([radius * (1 - Math.sin(angle)), back + radius * (1 - Math.cos(angle))])
    }
    if (depth > radius) profile.push([0, depth / 2])
    return extrudeProfile('Backdrop', profile, width)
  },
})
