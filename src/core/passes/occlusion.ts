import { z } from 'zod'
import { parseHex } from '../math/colour'
import { colourParam, numberParam, toggleParam } from '../params'
import { BLOCKS_LIGHT } from '../scene/part-role'
import { idleWhere, NO_GROUND } from './idle-params'
import type { SceneGeometry } from '../scene/scene-geometry'
import { askPoints, texelRays } from './kept-answers'
import { definePass, type PassContext } from './pass-kind'
import { addShares, shadePoints } from './shade-points'

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
    ground: toggleParam({ label: 'Ground occludes', default: true }),
  }),
  lookSchema: z.object({
    reach: numberParam({
      label: 'Reach used',
      unit: '%',
      min: 12.5,
      max: 100,
      step: 0.5,
      default: 100,
      logarithmic: true,
    }),
    falloff: numberParam({ label: 'Falloff', min: 0, max: 1, step: 0.01, default: 0 }),
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
  efforts: {
    draft: { samples: 4, rays: 2 },
    good: { samples: 8, rays: 8 },
    final: { samples: 16, rays: 16 },
  },
  denoised: ['V', 'V2', 'V4', 'V8'],
  layer: { mode: 'multiply', opacity: 0.7 },

  idleRender: (_params, { hasGround }) => idleWhere([!hasGround, ['ground'], NO_GROUND]),

  createRenderer(context, params) {
    const { kernel, effort } = context
    const { points } = kernel
    const { reach, sine, filter, key } = askedOf(context, params)
    return (tile) =>
      shadePoints(tile, 4, (block, planes) => {
        const asked = { key, stride: 4, rays: effort.rays, most: tile.points.most }
        askPoints(context, tile, block, asked, (range, rays, most) =>
          points.occlusion(range, { rays, most, filter }, reach, sine),
        )
        planes.forEach((plane, k) => addShares(block, points.values, 4, k, plane))
      })
  },
  keeps: (context, params) => [
    { key: askedOf(context, params).key, values: 4, dark: 1, rays: texelRays(context.effort) },
  ],

  look({ count, planes }, params, out) {
    const alpha = planes[4]
    // Reaches lie a factor of two apart: between two of them, a share of each.
    const octave = Math.min(3, Math.max(0, -Math.log2(params.reach / 100)))
    const low = Math.min(2, Math.floor(octave))
    const weights = [0, 0, 0, 0]
    weights[low] = 1 - (octave - low)
    weights[low + 1] = octave - low
    // Falling off with distance: what is near counts at every reach, what is far only at the longest.
    const mixed = weights.map(
      (weight, k) => weight * (1 - params.falloff) + (k < low ? 0 : params.falloff / (4 - low)),
    )
    const [tr, tg, tb] = parseHex(params.tint)
    const range = Math.max(1e-3, params.white - params.black)
    for (let i = 0; i < count; i++) {
      const open =
        mixed[0] * planes[0][i] + mixed[1] * planes[1][i] + mixed[2] * planes[2][i] + mixed[3] * planes[3][i]
      let v = Math.min(1, Math.max(0, (open - params.black) / range))
      v = Math.max(0, 1 - (1 - v) * params.strength)
      if (params.invert) v = 1 - v
      out[4 * i] = tr + (1 - tr) * v
      out[4 * i + 1] = tg + (1 - tg) * v
      out[4 * i + 2] = tb + (1 - tb) * v
      out[4 * i + 3] = alpha[i]
    }
  },
})

interface Asked {
  readonly reach: number
  readonly coneDeg: number
  readonly ground: boolean
}

/** What points are asked, in the world. */
function askedOf({ scene, blockers }: Pick<PassContext, 'scene' | 'blockers'>, params: Asked) {
  const reach = (params.reach / 100) * scene.figureDiagonal
  const sine = Math.sin((params.coneDeg * Math.PI) / 180)
  const filter = { mask: BLOCKS_LIGHT, parts: params.ground ? blockers : withoutGround(scene, blockers) }
  return { reach, sine, filter, key: `open ${reach} ${sine} ${filter.parts?.join('') ?? ''}` }
}

/** Blockers less the parts that are ground. */
function withoutGround({ parts }: SceneGeometry, blockers: Uint8Array | null): Uint8Array {
  return Uint8Array.from(parts, (part, i) => (part.role === 'ground' || blockers?.[i] === 0 ? 0 : 1))
}
