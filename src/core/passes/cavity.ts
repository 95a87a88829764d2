import { z } from 'zod'
import { parseHex } from '../math/colour'
import { concentricDisc, sobolPair } from '../math/sampling'
import { colourParam, numberParam } from '../params'
import { idleWhere } from './idle-params'
import { BLOCKS_LIGHT } from '../scene/part-role'
import { definePass } from './pass-kind'
import { ClosestRays } from './ray-queue'
import { shadeSamples } from './shade-samples'
import { SurfacePoint } from './surface-point'

/**
 * Mean curvature by an integral over the surface neighbourhood: the mean height of the surface over a disc in the
 * tangent plane, divided by the disc's radius (Pottmann et al. 2009, "Integral invariants for robust geometry
 * processing", where the mean height is the leading term). Heights are found by rays from above, so the result does
 * not depend on how the mesh is cut. To first order −r / 4R on a sphere of radius R; 0 on a plane. Negative on ridges,
 * positive in valleys.
 */
export const cavity = definePass({
  kind: 'cavity',
  label: 'Cavity',
  summary: 'Ridges light, valleys dark: overlaid, it sharpens every bevel.',
  renderSchema: z.object({
    radius: numberParam({
      label: 'Radius',
      unit: '%D',
      min: 0.01,
      max: 20,
      step: 0.05,
      default: 0.6,
      logarithmic: true,
    }),
  }),
  lookSchema: z.object({
    ridge: numberParam({ label: 'Ridge gain', min: 0, max: 4, step: 0.05, default: 1 }),
    valley: numberParam({ label: 'Valley gain', min: 0, max: 4, step: 0.05, default: 1 }),
    contrast: numberParam({ label: 'Contrast', min: 0.25, max: 4, step: 0.05, default: 1 }),
    ridgeColour: colourParam({ label: 'Ridge', default: '#ffffff' }),
    valleyColour: colourParam({ label: 'Valley', default: '#000000' }),
  }),
  channels: [
    { name: 'H', format: 'half' },
    { name: 'A', format: 'half' },
  ],
  efforts: {
    draft: { samples: 4, rays: 2 },
    good: { samples: 8, rays: 6 },
    final: { samples: 16, rays: 8 },
  },
  denoised: ['H'],
  layer: { mode: 'overlay', opacity: 0.6 },

  idleLook: ({ ridge, valley }) =>
    idleWhere(
      [ridge === 0, ['ridgeColour'], 'Ridge gain is at 0'],
      [valley === 0, ['valleyColour'], 'Valley gain is at 0'],
    ),

  createRenderer(context, params) {
    const { kernel, effort, blockers } = context
    const radius = (params.radius / 100) * context.scene.figureDiagonal
    const unit = new Float64Array(2)
    const disc = new Float64Array(2)
    /** Where a ray from above meets the neighbourhood. */
    const there = new SurfacePoint(context.scene)
    let heights: Float64Array = new Float64Array(0)
    // Heights are measured between points of the smooth surface, so that the facets of a coarse mesh do not read as
    // ridges where its normals say that it is round. The rays look for the triangles, which may lie deeper below it than
    // a small radius is wide. Kept with each ray: pixel, what it counts for, the smooth point and the normal.
    const rays = new ClosestRays(
      kernel,
      { mask: BLOCKS_LIGHT, parts: blockers },
      8,
      (at, slot, _distance, u, v) => {
        const k = rays.kept
        const pixel = k[at]
        const part = k[at + 1]
        if (slot < 0) {
          heights[pixel] -= part
          return
        }
        const nx = k[at + 5]
        const ny = k[at + 6]
        const nz = k[at + 7]
        there.load(slot, u, v, -nx, -ny, -nz)
        const height =
          (there.smoothX - k[at + 2]) * nx +
          (there.smoothY - k[at + 3]) * ny +
          (there.smoothZ - k[at + 4]) * nz
        heights[pixel] += part * Math.min(1, Math.max(-1, height / radius))
      },
    )
    return (tile) =>
      shadeSamples(context, tile, 1, {
        begin: ([plane]) => void (heights = plane),
        shade: (sample) => {
          const { point } = sample
          const count = sample.raysOf(effort.rays)
          const first = sample.first(count)
          for (let r = 0; r < count; r++) {
            sobolPair(first + r, sample.seed, unit)
            concentricDisc(unit[0], unit[1], disc)
            const a = disc[0] * radius
            const b = disc[1] * radius
            const x = point.onX + a * point.ux + b * point.vx + radius * point.nx
            const y = point.onY + a * point.uy + b * point.vy + radius * point.ny
            const z0 = point.onZ + a * point.uz + b * point.vz + radius * point.nz
            const at = rays.put(x, y, z0, -point.nx, -point.ny, -point.nz, 2 * radius)
            const k = rays.kept
            k[at] = sample.pixel
            k[at + 1] = sample.share / count
            k[at + 2] = point.smoothX
            k[at + 3] = point.smoothY
            k[at + 4] = point.smoothZ
            k[at + 5] = point.nx
            k[at + 6] = point.ny
            k[at + 7] = point.nz
          }
        },
        settle: () => rays.flush(),
      })
  },

  look({ count, planes }, params, out) {
    const [height, alpha] = planes
    const [rr, rg, rb] = parseHex(params.ridgeColour)
    const [vr, vg, vb] = parseHex(params.valleyColour)
    for (let i = 0; i < count; i++) {
      const h = height[i]
      // ±0.25 is a right-angled edge seen from its middle: that is full ridge or valley at gain 1.
      const gain = h < 0 ? params.ridge : params.valley
      const amount = 0.5 * Math.pow(Math.min(1, Math.abs(h) * 4 * gain), 1 / params.contrast)
      const k = 2 * amount
      const r = h < 0 ? rr : vr
      const g = h < 0 ? rg : vg
      const b = h < 0 ? rb : vb
      out[4 * i] = 0.5 + (r - 0.5) * k
      out[4 * i + 1] = 0.5 + (g - 0.5) * k
      out[4 * i + 2] = 0.5 + (b - 0.5) * k
      out[4 * i + 3] = alpha[i]
    }
  },
})
