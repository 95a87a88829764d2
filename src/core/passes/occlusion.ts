import { z } from 'zod'
import { parseHex } from '../math/colour'
import { concentricDisc, sobolPair } from '../math/sampling'
import { choiceParam, colourParam, numberParam, toggleParam } from '../params'
import { BLOCKS_LIGHT } from '../scene/part-role'
import { definePass } from './pass-kind'
import { shadeSamples } from './shade-samples'

/**
 * Cosine-weighted visibility within a reach (Landis 2002; Zhukov, Iones & Kronin 1998), at four reaches from the same
 * rays: the asked one, a half, a quarter and an eighth. 1 on an open plane, ½ at the foot of an endless wall.
 */
export const occlusion = definePass({
  kind: 'occlusion',
  label: 'Occlusion',
  summary: 'Where light cannot go: darkness gathers in corners and under things.',
  renderSchema: z.object({
    reach: numberParam({
      label: 'Reach',
      unit: '%D',
      min: 0.05,
      max: 1000,
      step: 0.5,
      default: 20,
      logarithmic: true,
    }),
    coneDeg: numberParam({ label: 'Cone', unit: '°', min: 5, max: 90, step: 1, default: 90 }),
  }),
  lookSchema: z.object({
    reach: choiceParam({
      label: 'Reach used',
      options: { '1': 'Whole', '2': 'Half', '4': 'Quarter', '8': 'Eighth' },
      default: '1',
    }),
    strength: numberParam({ label: 'Strength', min: 0, max: 2, step: 0.01, default: 1 }),
    tint: colourParam({ label: 'Dark end', default: '#000000' }),
    black: numberParam({ label: 'Black from', min: 0, max: 0.95, step: 0.01, default: 0 }),
    white: numberParam({ label: 'White from', min: 0.05, max: 1, step: 0.01, default: 1 }),
    invert: toggleParam({ label: 'Invert', default: false }),
  }),
  channels: [
    { name: 'V', format: 'half' },
    { name: 'V2', format: 'half' },
    { name: 'V4', format: 'half' },
    { name: 'V8', format: 'half' },
    { name: 'A', format: 'half' },
  ],
  efforts: { draft: { samples: 2, rays: 6 }, final: { samples: 8, rays: 8 } },
  layer: { mode: 'multiply', opacity: 0.7 },

  createRenderer(context, params) {
    const { kernel, effort } = context
    const reach = (params.reach / 100) * context.scene.figureDiagonal
    const sine = Math.sin((params.coneDeg * Math.PI) / 180)
    const unit = new Float64Array(2)
    const disc = new Float64Array(2)
    return (tile) =>
      shadeSamples(context, tile, 4, (point, _ray, run, sums) => {
        const { seed } = run
        const firstRay = run.first(effort.rays)
        let counted = 0
        let open1 = 0
        let open2 = 0
        let open4 = 0
        let open8 = 0
        for (let r = 0; r < effort.rays; r++) {
          sobolPair(firstRay + r, seed, unit)
          concentricDisc(unit[0], unit[1], disc)
          const a = disc[0] * sine
          const b = disc[1] * sine
          const c = Math.sqrt(Math.max(0, 1 - a * a - b * b))
          const dx = a * point.ux + b * point.vx + c * point.nx
          const dy = a * point.uy + b * point.vy + c * point.ny
          const dz = a * point.uz + b * point.vz + c * point.nz
          // Below the true surface the ray would meet its own triangle's neighbours: it tells nothing.
          if (dx * point.gx + dy * point.gy + dz * point.gz <= 0) continue
          counted++
          if (!kernel.closest(point.x, point.y, point.z, dx, dy, dz, 0, reach, BLOCKS_LIGHT)) {
            open1++
            open2++
            open4++
            open8++
            continue
          }
          const distance = kernel.distance * 2
          if (distance >= reach) open2++
          if (distance * 2 >= reach) open4++
          if (distance * 4 >= reach) open8++
        }
        const weight = counted > 0 ? 1 / counted : 0
        sums[0] += counted > 0 ? open1 * weight : 1
        sums[1] += counted > 0 ? open2 * weight : 1
        sums[2] += counted > 0 ? open4 * weight : 1
        sums[3] += counted > 0 ? open8 * weight : 1
      })
  },

  look({ count, planes }, params, out) {
    const plane = planes[['1', '2', '4', '8'].indexOf(params.reach)]
    const alpha = planes[4]
    const [tr, tg, tb] = parseHex(params.tint)
    const range = Math.max(1e-3, params.white - params.black)
    for (let i = 0; i < count; i++) {
      let v = Math.min(1, Math.max(0, (plane[i] - params.black) / range))
      v = Math.max(0, 1 - (1 - v) * params.strength)
      if (params.invert) v = 1 - v
      out[4 * i] = tr + (1 - tr) * v
      out[4 * i + 1] = tg + (1 - tg) * v
      out[4 * i + 2] = tb + (1 - tb) * v
      out[4 * i + 3] = alpha[i]
    }
  },
})
