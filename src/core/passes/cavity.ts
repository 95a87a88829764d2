import { z } from 'zod'
import { parseHex } from '../math/colour'
import { colourParam, numberParam } from '../params'
import { idleWhere } from './idle-params'
import { BLOCKS_LIGHT } from '../scene/part-role'
import { askPoints, texelRays } from './kept-answers'
import { definePass, type PassContext } from './pass-kind'
import { addShares, shadePoints } from './shade-points'

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
    const { kernel, effort } = context
    const { points } = kernel
    const { radius, filter, key } = askedOf(context, params)
    return (tile) =>
      shadePoints(tile, 1, (block, [heights]) => {
        const asked = { key, stride: 1, rays: effort.rays, most: tile.points.most }
        askPoints(context, tile, block, asked, (range, rays, most) =>
          points.cavity(range, { rays, most, filter }, radius),
        )
        addShares(block, points.values, 1, 0, heights)
      })
  },
  keeps: (context, params) => [
    { key: askedOf(context, params).key, values: 1, dark: 0, rays: texelRays(context.effort) },
  ],

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

/** What points are asked, in the world. */
function askedOf(
  { scene, blockers }: Pick<PassContext, 'scene' | 'blockers'>,
  params: { readonly radius: number },
) {
  const radius = (params.radius / 100) * scene.figureDiagonal
  const filter = { mask: BLOCKS_LIGHT, parts: blockers }
  return { radius, filter, key: `height ${radius} ${blockers?.join('') ?? ''}` }
}
