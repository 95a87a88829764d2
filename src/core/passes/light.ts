import { z } from 'zod'
import { colourParam, numberParam } from '../params'
import { parseHex, linearToSrgbFast } from '../math/colour'
import { BLOCKS_LIGHT } from '../scene/part-role'
import { lightKeeps, lightOnPoints, raysFor } from './light-planes'
import { definePass } from './pass-kind'
import { placeLights } from './placed-light'
import { addShares, shadePoints } from './shade-points'

/** What each of a light's numbers counts for without colour. */
const LEVELS = { 1: [1], 2: [1, 1], 3: [0.2126, 0.7152, 0.0722] } as const

/**
 * The light of chosen lights alone, with their shadows, on a white surface: one channel for each, without colour. What
 * the pass holds is set by its lights; one is the usual number.
 */
export const light = definePass({
  kind: 'light',
  label: 'Light',
  summary: 'One light alone: a mask of where it falls, to paint with.',
  renderSchema: z.object({}),
  lookSchema: z.object({
    strength: numberParam({ label: 'Strength', min: 0, max: 4, step: 0.01, default: 1 }),
    colour: colourParam({ label: 'Colour', default: '#ffffff' }),
    black: numberParam({ label: 'Black from', min: 0, max: 0.95, step: 0.01, default: 0 }),
    white: numberParam({ label: 'White from', min: 0.05, max: 4, step: 0.01, default: 1 }),
    gamma: numberParam({ label: 'Middle', min: 0.2, max: 5, step: 0.05, default: 1, logarithmic: true }),
  }),
  channels: (lights) => [
    ...(lights.length > 0
      ? lights.map((_, i) => ({ name: `L${i}`, format: 'half' as const }))
      : [{ name: 'L0', format: 'half' as const }]),
    { name: 'A', format: 'half' },
  ],
  usesLights: true,
  denoised: (lights) => lights.map((_, i) => `L${i}`),
  efforts: {
    draft: { samples: 4, rays: 2 },
    good: { samples: 8, rays: 8 },
    final: { samples: 16, rays: 16 },
  },
  layer: { mode: 'normal', opacity: 1 },

  createRenderer(context) {
    const { effort, blockers } = context
    const lights = placeLights(context.rig.lights, {
      ...context,
      blockers: { mask: BLOCKS_LIGHT, parts: blockers },
    })
    return (tile) =>
      shadePoints(tile, Math.max(1, lights.length), (block, planes) => {
        lights.forEach((light, i) => {
          const brought = lightOnPoints(context, tile, light, raysFor(light, effort.rays))
          LEVELS[light.values].forEach((factor, k) => addShares(block, brought, 4, k, planes[i], factor))
        })
      })
  },

  keeps: (context, _params, lightsStay) => lightKeeps(context, lightsStay),

  look({ count, planes, lights }, params, out) {
    const alpha = planes[planes.length - 1]
    const [r, g, b] = parseHex(params.colour)
    // Without colour, each as strong as it is in the rig now.
    const strengths = lights.map(({ colour }) => 0.2126 * colour[0] + 0.7152 * colour[1] + 0.0722 * colour[2])
    const range = Math.max(1e-3, params.white - params.black)
    for (let i = 0; i < count; i++) {
      let sum = 0
      for (let k = 0; k < strengths.length; k++) sum += planes[k][i] * strengths[k]
      const level = Math.min(1, Math.max(0, (sum * params.strength - params.black) / range))
      const value = Math.pow(linearToSrgbFast(level), 1 / params.gamma)
      out[4 * i] = r * value
      out[4 * i + 1] = g * value
      out[4 * i + 2] = b * value
      out[4 * i + 3] = alpha[i]
    }
  },
})
