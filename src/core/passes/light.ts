import { z } from 'zod'
import { colourParam, numberParam } from '../params'
import { parseHex, linearToSrgbFast } from '../math/colour'
import { BLOCKS_LIGHT } from '../scene/part-role'
import { LightQueue, raysFor } from './light-planes'
import { lightSamplers } from './light-sampler'
import { definePass } from './pass-kind'
import { shadeSamples } from './shade-samples'

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
    const samplers = lightSamplers(context.rig.lights, {
      ...context,
      blockers: { mask: BLOCKS_LIGHT, parts: blockers },
    })
    const queues = samplers.map((s, i) => new LightQueue(context, s, i, 1))
    return (tile) =>
      shadeSamples(context, tile, Math.max(1, samplers.length), {
        begin: (planes) => queues.forEach((queue) => queue.bind(planes)),
        shade: (sample) => {
          const { point, pixel, share } = sample
          samplers.forEach((sampler, i) => {
            if (sampler.lit && !sampler.lit[point.part]) return
            const rays = sample.raysOf(raysFor(sampler, effort.rays))
            const part = share / rays
            sampler.draw(sample, rays, (ray) => {
              const value =
                sampler.values === 1
                  ? ray.a
                  : sampler.values === 2
                    ? ray.a + ray.b
                    : 0.2126 * ray.a + 0.7152 * ray.b + 0.0722 * ray.c
              queues[i].put(point.x, point.y, point.z, ray, pixel, value * part)
            })
          })
        },
        settle: () => queues.forEach((queue) => queue.flush()),
      })
  },

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
