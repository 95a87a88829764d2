import { z } from 'zod'
import { colourParam, numberParam } from '../params'
import { parseHex } from '../math/colour'
import { hash32 } from '../math/sampling'
import { BLOCKS_LIGHT } from '../scene/part-role'
import { leastClearance } from './clearance'
import { askPoints, texelRays } from './kept-answers'
import { definePass, type PassContext } from './pass-kind'
import { addShares, shadePoints } from './shade-points'

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
    const { kernel, effort, scene } = context
    const { points } = kernel
    const { reach, sine, filter, key } = askedOf(context, params)
    const least = leastClearance(scene)
    return (tile) =>
      shadePoints(tile, 1, (block, [way]) => {
        const asked = { key, stride: 1, rays: effort.rays, most: tile.points.most }
        askPoints(context, tile, block, asked, (range, rays, most) =>
          points.thickness(range, { rays, most, filter }, reach, sine, INWARD, least),
        )
        addShares(block, points.values, 1, 0, way)
      })
  },
  keeps: (context, params) => [
    { key: askedOf(context, params).key, values: 1, dark: 0, rays: texelRays(context.effort) },
  ],

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

/** What points are asked, in the world. */
function askedOf(
  { scene, blockers }: Pick<PassContext, 'scene' | 'blockers'>,
  params: { readonly reach: number; readonly coneDeg: number },
) {
  const reach = (params.reach / 100) * scene.figureDiagonal
  const sine = Math.sin((params.coneDeg * Math.PI) / 180)
  const filter = { mask: BLOCKS_LIGHT, parts: blockers }
  return { reach, sine, filter, key: `way ${reach} ${sine} ${blockers?.join('') ?? ''}` }
}
