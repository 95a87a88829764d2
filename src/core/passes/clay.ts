import { z } from 'zod'
import { linearToSrgbFast, parseHex, srgbToLinear } from '../math/colour'
import type { Vec3 } from '../math/vec3'
import { colourParam, numberParam } from '../params'
import { lightChannels } from '../scene/rendered-light'
import { lightSamplers } from './light-sampler'
import { definePass } from './pass-kind'
import { shadeSamples } from './shade-samples'

/** Keeps highlights from clipping: linear below the knee, then a smooth approach to 1. Linear light in and out. */
function shoulder(value: number): number {
  const knee = 0.6
  if (value <= knee) return value
  return knee + (1 - knee) * (1 - Math.exp(-(value - knee) / (1 - knee)))
}

const linearOf = (hex: string): Vec3 => {
  const [r, g, b] = parseHex(hex)
  return [srgbToLinear(r), srgbToLinear(g), srgbToLinear(b)]
}

/** Rays for a light that comes from somewhere: its shadow is smoother than a dome's, a quarter does. */
const directRays = (rays: number): number => Math.max(1, rays >> 2)

/**
 * One matte material for all, under the shot's rig. Each light keeps channels of its own, so that its strength and
 * colour stay live: irradiance and highlight, or a dome's light from above and from below.
 */
export const clay = definePass({
  kind: 'clay',
  label: 'Clay',
  summary: 'The form in one material, under the lights of the rig: the base of a picture.',
  renderSchema: z.object({
    roughness: numberParam({ label: 'Highlight width', min: 0.1, max: 1, step: 0.01, default: 0.5 }),
  }),
  lookSchema: z.object({
    colour: colourParam({ label: 'Clay', default: '#d8cfc2' }),
    sheen: numberParam({ label: 'Sheen', min: 0, max: 1, step: 0.01, default: 0.06 }),
    exposure: numberParam({ label: 'Exposure', unit: 'EV', min: -4, max: 4, step: 0.05, default: 0 }),
  }),
  channels: (lights) => [...lightChannels(lights), { name: 'A', format: 'half' }],
  usesLights: true,
  efforts: { draft: { samples: 2, rays: 4 }, final: { samples: 8, rays: 8 } },
  layer: { mode: 'normal', opacity: 1 },

  createRenderer(context, params) {
    const { effort } = context
    const lights = context.rig.lights.filter((light) => light.on)
    const samplers = lightSamplers(lights, { ...context, roughness: params.roughness })
    const rays = lights.map((light) => (light.kind === 'dome' ? effort.rays : directRays(effort.rays)))
    const planes = samplers.reduce((sum, sampler) => sum + sampler.planes, 0)
    return (tile) =>
      shadeSamples(context, tile, planes, (point, ray, run, sums) => {
        let at = 0
        for (let i = 0; i < samplers.length; i++) {
          samplers[i].add(point, ray, run, Math.max(1, rays[i]), sums, at)
          at += samplers[i].planes
        }
      })
  },

  look({ count, planes, lights }, params, out) {
    const clayColour = linearOf(params.colour)
    const gain = 2 ** params.exposure
    const alpha = planes[planes.length - 1]
    // 1. Light of all, in linear colour, and what shines on top of it.
    const light = new Float32Array(3 * count)
    const shine = new Float32Array(3 * count)
    let at = 0
    const gather = (plane: Float32Array, colour: readonly number[], to: Float32Array) => {
      const [r, g, b] = colour
      if (r === 0 && g === 0 && b === 0) return
      for (let i = 0; i < count; i++) {
        const value = plane[i]
        to[3 * i] += value * r
        to[3 * i + 1] += value * g
        to[3 * i + 2] += value * b
      }
    }
    for (const { planes: kind, colour, below } of lights) {
      if (kind === 'light') {
        gather(planes[at], colour, light)
        gather(planes[at + 1], colour, shine)
        at += 2
      } else if (kind === 'dome') {
        gather(planes[at], colour, light)
        gather(planes[at + 1], below, light)
        at += 2
      } else {
        for (let c = 0; c < 3; c++)
          gather(
            planes[at + c],
            [0, 1, 2].map((k) => (k === c ? colour[c] : 0)),
            light,
          )
        at += 3
      }
    }
    // 2. On clay.
    for (let i = 0; i < count; i++) {
      for (let c = 0; c < 3; c++) {
        const value = clayColour[c] * light[3 * i + c] + params.sheen * shine[3 * i + c]
        out[4 * i + c] = linearToSrgbFast(shoulder(value * gain))
      }
      out[4 * i + 3] = alpha[i]
    }
  },
})
