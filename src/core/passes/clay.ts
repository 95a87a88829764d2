import { z } from 'zod'
import { concentricDisc, hash32, sobolPair } from '../math/sampling'
import { colourParam, numberParam, toggleParam } from '../params'
import { BLOCKS_LIGHT } from '../scene/part-role'
import { lightChannels } from '../scene/rendered-light'
import { addPlane, LightQueue, litPlanes, raysFor } from './light-planes'
import { idleWhere } from './idle-params'
import { highlightLobe, lightSamplers, lobeWidth } from './light-sampler'
import { definePass } from './pass-kind'
import { FAR } from './primary-hits'
import { ClosestRays } from './ray-queue'
import { ShadeSample, shadeSamples } from './shade-samples'
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
    const { effort, kernel, blockers } = context
    const filter = { mask: BLOCKS_LIGHT, parts: blockers }
    const samplers = lightSamplers(context.rig.lights, { ...context, blockers: filter })
    const width = lobeWidth(params.roughness)
    // Planes of each light, then, with a bounce, as many again without highlights.
    const planesOf = samplers.map((s) => (s.values === 1 ? 2 : s.values))
    const firsts = planesOf.map((_, i) => planesOf.slice(0, i).reduce((a, b) => a + b, 0))
    const direct = planesOf.reduce((a, b) => a + b, 0)
    const bounceFirsts = samplers.map((_, i) =>
      samplers.slice(0, i).reduce((sum, s) => sum + s.values, direct),
    )
    const total = direct + (params.bounce ? samplers.reduce((sum, s) => sum + s.values, 0) : 0)
    const unit = new Float64Array(2)
    const disc = new Float64Array(2)

    const queues = samplers.map((s, i) => new LightQueue(context, s, firsts[i], planesOf[i]))
    const bounced = params.bounce
      ? samplers.map((s, i) => new LightQueue(context, s, bounceFirsts[i], s.values))
      : []
    /** A place that throws light on. */
    const there = new ShadeSample(context)
    // Kept with each: direction, pixel and what it counts for, the pixel's x and y, its number in the sequence.
    const bounceRays = new ClosestRays(kernel, filter, 8, (at, slot, _distance, u, v) => {
      if (slot < 0) return
      const k = bounceRays.kept
      there.point.load(slot, u, v, k[at], k[at + 1], k[at + 2])
      there.start(k[at + 5], k[at + 6], k[at + 3], 1, 1)
      there.index = k[at + 7]
      const { point, pixel } = there
      const part = k[at + 4]
      samplers.forEach((sampler, i) => {
        if (sampler.lit && !sampler.lit[point.part]) return
        sampler.draw(there, 1, (ray) =>
          bounced[i].put(point.x, point.y, point.z, ray, pixel, ray.a * part, ray.b * part, ray.c * part),
        )
      })
    })

    return (tile) =>
      shadeSamples(context, tile, total, {
        begin: (planes) => {
          for (const queue of [...queues, ...bounced]) queue.bind(planes)
        },
        shade: (sample) => {
          const { point, pixel, share } = sample
          for (let i = 0; i < samplers.length; i++) {
            const sampler = samplers[i]
            if (sampler.lit && !sampler.lit[point.part]) continue
            const rays = sample.raysOf(raysFor(sampler, effort.rays))
            const part = share / rays
            const queue = queues[i]
            if (sampler.values === 1)
              sampler.draw(sample, rays, (ray) => {
                const lobe = highlightLobe(point, sample.ray, ray.dx, ray.dy, ray.dz, width)
                queue.put(point.x, point.y, point.z, ray, pixel, ray.a * part, ray.a * part * lobe)
              })
            else
              sampler.draw(sample, rays, (ray) =>
                queue.put(point.x, point.y, point.z, ray, pixel, ray.a * part, ray.b * part, ray.c * part),
              )
          }
          if (!params.bounce) return
          const rays = sample.raysOf(Math.max(1, effort.rays >> 1))
          const first = sample.first(rays)
          for (let r = 0; r < rays; r++) {
            sobolPair(first + r, sample.seed ^ BOUNCE, unit)
            concentricDisc(unit[0], unit[1], disc)
            const [a, b] = disc
            const c = Math.sqrt(Math.max(0, 1 - a * a - b * b))
            const dx = a * point.ux + b * point.vx + c * point.nx
            const dy = a * point.uy + b * point.vy + c * point.ny
            const dz = a * point.uz + b * point.vz + c * point.nz
            if (dx * point.gx + dy * point.gy + dz * point.gz <= 0) continue
            const at = bounceRays.put(point.x, point.y, point.z, dx, dy, dz, FAR)
            const { kept } = bounceRays
            kept[at] = dx
            kept[at + 1] = dy
            kept[at + 2] = dz
            kept[at + 3] = pixel
            kept[at + 4] = share / rays
            kept[at + 5] = tile.tile.x + (pixel % tile.tile.width)
            kept[at + 6] = tile.tile.y + Math.floor(pixel / tile.tile.width)
            kept[at + 7] = first + r
          }
        },
        settle: () => {
          for (const queue of queues) queue.flush()
          bounceRays.flush()
          for (const queue of bounced) queue.flush()
        },
      })
  },

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
