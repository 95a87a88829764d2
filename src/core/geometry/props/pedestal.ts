import { z } from 'zod'
import { numberParam } from '../../params'
import { defineProp } from './prop-kind'
import { turnProfile } from './profile-mesh'

const BEVEL_STEPS = 4

/** A round or sided block with a bevelled rim; its top is at the height 0 its model stands at. */
export const pedestal = defineProp({
  kind: 'pedestal',
  label: 'Pedestal',
  summary: 'A block to stand the subject on, round or with sides, its rim bevelled.',
  schema: z.object({
    radius: numberParam({
      label: 'Radius',
      min: 0.01,
      max: 1e5,
      step: 0.01,
      default: 0.5,
      logarithmic: true,
    }),
    height: numberParam({
      label: 'Height',
      min: 0.01,
      max: 1e5,
      step: 0.01,
      default: 0.25,
      logarithmic: true,
    }),
    bevel: numberParam({ label: 'Bevel', min: 0, max: 0.4, step: 0.005, default: 0.04 }),
    sides: numberParam({ label: 'Sides', min: 3, max: 128, step: 1, default: 64 }),
  }),
  make({ radius, height, bevel, sides }) {
    const rim = Math.min(bevel * radius * 2, height / 2, radius / 2)
    const profile: [number, number][] = [
      [0, -height],
      [radius, -height],
    ]
    if (rim === 0) profile.push([radius, 0])
    for (let i = 0; rim > 0 && i <= BEVEL_STEPS; i++) {
      const angle = (Math.PI / 2) * (i / BEVEL_STEPS)
      profile.push([radius - rim * (1 - Math.cos(angle)), -rim * (1 - Math.sin(angle))])
    }
    profile.push([0, 0])
    return turnProfile('Pedestal', profile, Math.round(sides))
  },
})
