import { z } from 'zod'
import { colourParam, numberParam, toggleParam } from '../params'
import { parseHex } from '../math/colour'
import type { Light } from '../scene/light-rig'
import { BLOCKS_LIGHT } from '../scene/part-role'
import { lightOnPoints, raysFor } from './light-planes'
import { idleWhere, NO_GROUND } from './idle-params'
import { definePass } from './pass-kind'
import { placeLights } from './placed-light'
import { onParam, receivers } from './receivers'
import { addShares, shadePoints } from './shade-points'

/** How much softer the second shadow is than the light's own. */
const SOFTER = 3.5

/**
 * Where less light than this would come, all that is lost of it counts for less: a surface that is only grazed has no
 * shadow to speak of, and the share of nearly nothing is noise.
 */
export const LEAST_LIGHT = 0.06

/** The same light, larger: its shadow is as hard where things touch, and softer with distance. */
function softened(light: Light): Light {
  switch (light.kind) {
    case 'sun':
      return { ...light, sizeDeg: Math.min(90, (light.sizeDeg + 1) * SOFTER) }
    case 'area':
      return { ...light, widthD: light.widthD * SOFTER, heightD: light.heightD * SOFTER }
    case 'point':
    case 'spot':
      return { ...light, radiusD: (light.radiusD + 0.01) * SOFTER }
    case 'dome':
      return light
  }
}

/**
 * What shadows take: for each light the share of its light that things in its way keep from the surface, once as the
 * light is and once from a larger one, so that softness is live and contact stays.
 */
export const shadow = definePass({
  kind: 'shadow',
  label: 'Shadow',
  summary: 'What is thrown on the ground or on chosen parts, as alpha: under anything, anywhere.',
  renderSchema: z.object({
    on: onParam(),
    throwers: toggleParam({ label: 'Throwers hide it', default: true }),
  }),
  lookSchema: z.object({
    density: numberParam({ label: 'Density', min: 0, max: 1, step: 0.01, default: 0.75 }),
    softness: numberParam({ label: 'Softer', min: 0, max: 1, step: 0.01, default: 0 }),
    colour: colourParam({ label: 'Colour', default: '#1d1b26' }),
    gamma: numberParam({ label: 'Middle', min: 0.2, max: 5, step: 0.05, default: 1, logarithmic: true }),
  }),
  channels: (lights) => [
    ...(lights.length > 0 ? lights : [null]).flatMap((_, i) => [
      { name: `S${i}`, format: 'half' as const },
      { name: `S${i}w`, format: 'half' as const },
    ]),
    { name: 'A', format: 'half' },
  ],
  usesLights: true,
  denoised: (lights) => lights.flatMap((_, i) => [`S${i}`, `S${i}w`]),
  efforts: {
    draft: { samples: 4, rays: 4 },
    good: { samples: 8, rays: 16 },
    final: { samples: 16, rays: 24 },
  },
  layer: { mode: 'normal', opacity: 1 },
  view: (scene, { on, throwers }) => (throwers ? null : receivers(scene, on)),

  idleRender: ({ on }, { hasGround }) => idleWhere([on === 'ground' && !hasGround, ['throwers'], NO_GROUND]),
  idleLook: (_look, { rendered, scene }) =>
    idleWhere([
      (rendered.on ?? 'ground') === 'ground' && !scene.hasGround,
      ['density', 'softness', 'colour', 'gamma'],
      NO_GROUND,
    ]),

  createRenderer(context, params) {
    const { effort, scene, kernel } = context
    const blockers = { mask: BLOCKS_LIGHT, parts: context.blockers }
    const own = context.rig.lights.map((light): Light => ({ ...light, shadow: true }))
    const lights = [own, own.map(softened)].flatMap((list) =>
      placeLights(list, { ...context, blockers, receivers: receivers(scene, params.on) }),
    )
    const many = own.length
    // A look that stays needs one of both.
    const softness = context.shownAs?.softness
    const wants = { hard: softness !== 1, soft: softness !== 0 }
    return (tile) => {
      // Planes at work: what comes through, then what would come if nothing were in the way.
      const planes = shadePoints(tile, 4 * many, (block, sums) => {
        lights.forEach((light, i) => {
          // A dome is as soft as can be: its second shadow is its first.
          const isDome = light.light.kind === 'dome'
          const isSoft = i >= many
          if (!light.asked || (isDome ? isSoft : !(isSoft ? wants.soft : wants.hard))) return
          lightOnPoints(context, tile, light, raysFor(light, effort.rays), { whole: true })
          for (const own of isDome ? [i, many + i] : [i])
            for (let k = 0; k < light.values; k++) {
              addShares(block, kernel.points.values, 4, k, sums[own])
              addShares(block, kernel.points.whole, 4, k, sums[2 * many + own])
            }
        })
      })
      const alpha = planes[4 * many]
      const lost = (i: number): Float32Array =>
        planes[i].map((through, p) => {
          const all = planes[2 * many + i][p]
          return Math.min(1, Math.max(0, (all - through) / Math.max(all, LEAST_LIGHT)))
        })
      if (many === 0) return [alpha.map(() => 0), alpha.map(() => 0), alpha]
      return [...own.flatMap((_, i) => [lost(i), lost(many + i)]), alpha]
    }
  },

  look({ count, planes, lights }, params, out) {
    const alpha = planes[planes.length - 1]
    const [r, g, b] = parseHex(params.colour)
    // Each light's shadow counts for as much as the light does in the rig now.
    const strengths = lights.map(({ colour }) => Math.max(...colour))
    const total = strengths.reduce((a, v) => a + v, 0) || 1
    for (let i = 0; i < count; i++) {
      let lost = 0
      for (let k = 0; k < strengths.length; k++) {
        const hard = planes[2 * k][i]
        lost += (strengths[k] / total) * (hard + (planes[2 * k + 1][i] - hard) * params.softness)
      }
      out[4 * i] = r
      out[4 * i + 1] = g
      out[4 * i + 2] = b
      out[4 * i + 3] = alpha[i] * params.density * Math.pow(lost, 1 / params.gamma)
    }
  },
})
