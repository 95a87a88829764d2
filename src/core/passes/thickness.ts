import { z } from 'zod'
import { colourParam, numberParam } from '../params'
import { parseHex } from '../math/colour'
import { concentricDisc, hash32, sobolPair } from '../math/sampling'
import { BLOCKS_LIGHT } from '../scene/part-role'
import { definePass } from './pass-kind'
import { ClosestRays } from './ray-queue'
import { shadeSamples } from './shade-samples'
import { CLEARANCE } from './surface-point'

const INWARD = hash32(0x7ac1e55)

/**
 * Mean length of the way through the form, of cosine-weighted rays into it from the visible surface, each at most the
 * reach; as a share of the reach. Through a slab of thickness d seen head on, a ray at angle θ runs d / cos θ: without a
 * reach the mean is 2d.
 */
export const thickness = definePass({
  kind: 'thickness',
  label: 'Thickness',
  summary: 'Where light would shine through: ears, leaves, wax, thin shells.',
  renderSchema: z.object({
    reach: numberParam({
      label: 'Reach',
      unit: '%D',
      min: 0.1,
      max: 200,
      step: 0.5,
      default: 15,
      logarithmic: true,
    }),
    coneDeg: numberParam({ label: 'Cone', unit: '°', min: 1, max: 90, step: 1, default: 60 }),
  }),
  lookSchema: z.object({
    curve: numberParam({ label: 'Curve', min: 0.1, max: 8, step: 0.05, default: 1, logarithmic: true }),
    through: numberParam({ label: 'Thin up to', unit: '%', min: 1, max: 100, step: 1, default: 60 }),
    thin: colourParam({ label: 'Thin', default: '#ff7a4d' }),
    thick: colourParam({ label: 'Thick', default: '#000000' }),
  }),
  channels: [
    { name: 'T', format: 'half' },
    { name: 'A', format: 'half' },
  ],
  efforts: {
    draft: { samples: 4, rays: 2 },
    good: { samples: 8, rays: 4 },
    final: { samples: 16, rays: 8 },
  },
  denoised: ['T'],
  layer: { mode: 'normal', opacity: 1 },

  createRenderer(context, params) {
    const { kernel, effort, scene, blockers } = context
    const reach = (params.reach / 100) * scene.figureDiagonal
    const sine = Math.sin((params.coneDeg * Math.PI) / 180)
    const unit = new Float64Array(2)
    const disc = new Float64Array(2)
    let plane: Float64Array = new Float64Array(0)
    const rays = new ClosestRays(kernel, { mask: BLOCKS_LIGHT, parts: blockers }, 2, (at, slot, distance) => {
      plane[rays.kept[at]] += rays.kept[at + 1] * (slot < 0 ? 1 : Math.min(1, distance / reach))
    })
    return (tile) =>
      shadeSamples(context, tile, 1, {
        begin: ([empty]) => void (plane = empty),
        shade: (sample) => {
          const { point } = sample
          const count = sample.raysOf(effort.rays)
          const first = sample.first(count)
          // Begins under the surface: as far in as secondary rays begin outside.
          const far = Math.max(Math.abs(point.onX), Math.abs(point.onY), Math.abs(point.onZ))
          const inside = CLEARANCE * (scene.figureDiagonal + far)
          const x = point.onX - inside * point.gx
          const y = point.onY - inside * point.gy
          const z0 = point.onZ - inside * point.gz
          for (let r = 0; r < count; r++) {
            sobolPair(first + r, sample.seed ^ INWARD, unit)
            concentricDisc(unit[0], unit[1], disc)
            const a = disc[0] * sine
            const b = disc[1] * sine
            const c = Math.sqrt(Math.max(0, 1 - a * a - b * b))
            const dx = a * point.ux + b * point.vx - c * point.nx
            const dy = a * point.uy + b * point.vy - c * point.ny
            const dz = a * point.uz + b * point.vz - c * point.nz
            const at = rays.put(x, y, z0, dx, dy, dz, reach)
            rays.kept[at] = sample.pixel
            rays.kept[at + 1] = sample.share / count
          }
        },
        settle: () => rays.flush(),
      })
  },

  look({ count, planes }, params, out) {
    const [way, alpha] = planes
    const thin = parseHex(params.thin)
    const thick = parseHex(params.thick)
    const limit = params.through / 100
    for (let i = 0; i < count; i++) {
      const t = Math.pow(Math.min(1, way[i] / limit), params.curve)
      for (let c = 0; c < 3; c++) out[4 * i + c] = thin[c] + (thick[c] - thin[c]) * t
      out[4 * i + 3] = alpha[i]
    }
  },
})
