import { z } from 'zod'
import { hash32 } from '../math/sampling'
import { colourParam, numberParam, toggleParam } from '../params'
import { BLOCKS_LIGHT } from '../scene/part-role'
import { lightChannels } from '../scene/rendered-light'
import { POINT, POINT_NUMBERS, type PointBlock } from '../trace/point-block'
import { leastClearance } from './clearance'
import { idleWhere } from './idle-params'
import {
  addPlane,
  lightKeeps,
  lightOnPoints,
  lightOnSecondary,
  litPlanes,
  planeOffsets,
  raysFor,
} from './light-planes'
import { definePass } from './pass-kind'
import { lobeWidth, placeLights } from './placed-light'
import { addShares, shadePoints, type TilePlanes } from './shade-points'
import { linearOf, toDisplay } from './tone'

/** Salt of the numbers that choose where bounced light comes from. */
const BOUNCE = hash32(0x2f0b4a11)

/**
 * One matte material for all, under the shot's rig. Each light keeps channels of its own, so that its strength and
 * colour stay live: irradiance and highlight, or a dome's light from above and from below; with a bounce, the light that
 * a white surface would throw on, too.
 */
export const clay = definePass({
  kind: 'clay',
  label: 'Clay',
  summary: 'The form in one material, under the lights of the rig: the base of a picture.',
  renderSchema: z.object({
    roughness: numberParam({ label: 'Highlight width', min: 0.1, max: 1, step: 0.01, default: 0.5 }),
    bounce: toggleParam({ label: 'Bounced light', default: false }),
  }),
  lookSchema: z.object({
    colour: colourParam({ label: 'Clay', default: '#d8cfc2' }),
    sheen: numberParam({ label: 'Sheen', min: 0, max: 1, step: 0.01, default: 0.06 }),
    exposure: numberParam({ label: 'Exposure', unit: 'EV', min: -4, max: 4, step: 0.05, default: 0 }),
    bounce: numberParam({ label: 'Bounce gain', min: 0, max: 4, step: 0.05, default: 1 }),
    bleed: numberParam({ label: 'Warm bleed', min: 0, max: 1, step: 0.01, default: 0 }),
    bleedColour: colourParam({ label: 'Bleed', default: '#c8442a' }),
  }),
  channels: (lights, { bounce }) => [
    ...lightChannels(lights),
    ...(bounce ? lightChannels(lights, 'b').filter((c) => !c.name.endsWith('hb')) : []),
    { name: 'A', format: 'half' },
  ],
  usesLights: true,
  denoised: (lights) => lightChannels(lights).map((c) => c.name),
  efforts: {
    draft: { samples: 4, rays: 2 },
    good: { samples: 8, rays: 4 },
    final: { samples: 16, rays: 8 },
  },
  layer: { mode: 'normal', opacity: 1 },

  idleLook: ({ bleed }, { rendered }) =>
    idleWhere(
      [rendered.bounce !== true, ['bounce'], 'Render it with bounced light'],
      [bleed === 0, ['bleedColour'], 'Warm bleed is at 0'],
    ),

  createRenderer(context, params) {
    const { effort, kernel, blockers, scene } = context
    const { points } = kernel
    const filter = { mask: BLOCKS_LIGHT, parts: blockers }
    const lights = placeLights(context.rig.lights, { ...context, blockers: filter })
    const width = lobeWidth(params.roughness)
    // Planes of each light, then, with a bounce, as many again without highlights.
    const direct = planeOffsets(lights.map(({ values }) => (values === 1 ? 2 : values)))
    const bounced = planeOffsets(
      lights.map(({ values }) => values),
      direct.end,
    )
    const bounceRays = Math.max(1, effort.rays >> 1)
    const least = leastClearance(scene)

    /** Light that the surroundings of a block's points throw on. */
    const bounce = (block: PointBlock, most: number, planes: TilePlanes, cancelled: () => boolean) => {
      for (let i = 0; i < block.count; i++) points.shares[i] = block.floats[POINT_NUMBERS * i + POINT.share]
      for (let from = 0; from < block.count && !cancelled();) {
        from += points.scatter(
          { block, from, count: block.count - from },
          { rays: bounceRays, most, filter },
          'bounced',
          BOUNCE,
          least,
        )
        lights.forEach((light, i) => {
          const values = lightOnSecondary(context, light, 1)
          for (let k = 0; k < light.values; k++)
            addShares(points.secondary, values, 4, k, planes[bounced.offsets[i] + k])
        })
      }
    }

    return (tile) =>
      shadePoints(tile, params.bounce ? bounced.end : direct.end, (block, planes) => {
        points.widths.fill(width, 0, block.count)
        lights.forEach((light, i) => {
          const values = lightOnPoints(context, tile, light, raysFor(light, effort.rays), { highlight: true })
          const first = direct.offsets[i]
          for (let k = 0; k < light.values; k++) addShares(block, values, 4, k, planes[first + k])
          if (light.values === 1) addShares(block, values, 4, 3, planes[first + 1])
        })
        if (params.bounce) bounce(block, tile.points.most, planes, tile.cancelled)
      })
  },

  keeps: (context, _params, lightsStay) => lightKeeps(context, lightsStay),

  look({ count, planes, lights, rendered }, params, out) {
    const clayColour = linearOf(params.colour)
    const bleedColour = linearOf(params.bleedColour)
    const gain = 2 ** params.exposure
    const alpha = planes[planes.length - 1]
    // 1. Light of all, in linear colour, and what shines on top of it; the light without colour tells where its edge is.
    const light = new Float32Array(3 * count)
    const shine = new Float32Array(3 * count)
    const edge = new Float32Array(params.bleed > 0 ? 3 * count : 0)
    let next = 0
    for (const { plane, colour, role } of litPlanes(lights)) {
      addPlane(role === 'light' ? light : shine, planes[plane], count, colour)
      next = plane + 1
    }
    if (edge.length > 0) {
      // A bump where a light is nearly gone: there the deeper layers of skin or wax still glow.
      let plane = 0
      for (const { planes: kind, colour } of lights) {
        if (kind === 'light')
          for (let i = 0; i < count; i++) {
            const e = Math.min(1, planes[plane][i])
            const bump = e * (1 - e) ** 3 * 9.48
            for (let c = 0; c < 3; c++) edge[3 * i + c] += bump * colour[c]
          }
        plane += kind === 'picture' ? 3 : 2
      }
    }
    if (rendered.bounce === true) {
      const bounced = litPlanes(lights).filter((p) => p.role === 'light')
      bounced.forEach(({ colour }, i) =>
        addPlane(
          light,
          planes[next + i],
          count,
          [0, 1, 2].map((c) => colour[c] * clayColour[c] * params.bounce),
        ),
      )
    }
    // 2. On clay.
    for (let i = 0; i < count; i++) {
      for (let c = 0; c < 3; c++) {
        let value = clayColour[c] * light[3 * i + c] + params.sheen * shine[3 * i + c]
        if (edge.length > 0) value += 0.35 * params.bleed * bleedColour[c] * edge[3 * i + c]
        out[4 * i + c] = toDisplay(value * gain)
      }
      out[4 * i + 3] = alpha[i]
    }
  },
})
