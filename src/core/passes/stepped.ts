import { z } from 'zod'
import { colourParam, numberParam, toggleParam } from '../params'
import { parseHex } from '../math/colour'
import type { Light } from '../scene/light-rig'
import { BLOCKS_LIGHT } from '../scene/part-role'
import type { RenderedLight } from '../scene/rendered-light'
import { POINT, POINT_NUMBERS } from '../trace/point-block'
import { lightOnPoints, raysFor } from './light-planes'
import { idleWhere, NO_GROUND } from './idle-params'
import { definePass } from './pass-kind'
import { placeLights } from './placed-light'
import { LEAST_LIGHT } from './shadow'
import { addShares, shadePoints } from './shade-points'

/** A sky has no side that is away from it: it makes no bands. */
const banded = <T extends { readonly planes: RenderedLight['planes'] }>(lights: readonly T[]): T[] =>
  lights.filter((light) => light.planes === 'light')

/** The same light from its middle alone: its shadow has an edge. */
function hardened(light: Light): Light {
  switch (light.kind) {
    case 'sun':
      return { ...light, sizeDeg: 0 }
    case 'area':
      return { ...light, widthD: 0.001, heightD: 0.001 }
    case 'point':
    case 'spot':
      return { ...light, radiusD: 0 }
    case 'dome':
      return light
  }
}

/**
 * Light in bands. For each light that comes from somewhere: how far the form turns to it (N), whether it gets there, with
 * a hard edge (V), and what the ground keeps of it, softly (G). Where the bands begin is live.
 */
export const stepped = definePass({
  kind: 'stepped',
  label: 'Stepped',
  summary: 'Light in flat bands with hard shadows on the form, soft ones on the ground.',
  renderSchema: z.object({}),
  lookSchema: z.object({
    first: numberParam({ label: 'Shadow to middle', min: 0, max: 1, step: 0.01, default: 0.08 }),
    second: numberParam({ label: 'Middle to light', min: 0, max: 1, step: 0.01, default: 0.5 }),
    softness: numberParam({ label: 'Softness', min: 0.005, max: 0.5, step: 0.005, default: 0.02 }),
    light: colourParam({ label: 'Light', default: '#f6e7cf' }),
    middle: colourParam({ label: 'Middle', default: '#c99f7a' }),
    shadow: colourParam({ label: 'Shadow', default: '#6a5a6e' }),
    groundLight: colourParam({ label: 'Ground', default: '#efe6d8' }),
    groundShadow: colourParam({ label: 'Ground shadow', default: '#7c7288' }),
    groundClear: toggleParam({ label: 'Ground is clear', default: false }),
  }),
  channels: (lights) => [
    ...(banded(lights).length > 0 ? banded(lights) : [null]).flatMap((_, i) =>
      ['N', 'V', 'G'].map((name) => ({ name: `${name}${i}`, format: 'half' as const })),
    ),
    { name: 'g', format: 'unorm8' },
    { name: 'A', format: 'half' },
  ],
  usesLights: true,
  efforts: {
    draft: { samples: 4, rays: 8 },
    good: { samples: 8, rays: 16 },
    final: { samples: 16, rays: 24 },
  },
  layer: { mode: 'normal', opacity: 1 },

  idleLook: ({ groundClear }, { scene }) =>
    idleWhere(
      [!scene.hasGround, ['groundLight', 'groundShadow', 'groundClear'], NO_GROUND],
      [groundClear, ['groundLight'], 'The ground is clear'],
    ),

  createRenderer(context) {
    const { effort, scene, kernel } = context
    const isGround = Uint8Array.from(scene.parts, (part) => (part.role === 'ground' ? 1 : 0))
    const isForm = isGround.map((flag) => 1 - flag)
    const lights = context.rig.lights.filter((light) => light.kind !== 'dome')
    const setting = { ...context, blockers: { mask: BLOCKS_LIGHT, parts: context.blockers } }
    const hard = placeLights(lights.map(hardened), { ...setting, receivers: isForm })
    const soft = placeLights(lights, { ...setting, receivers: isGround })
    const many = lights.length
    const SUMS = 4
    // Planes at work of each light: N, V (what gets through), ground through, ground in all; then the ground's share.
    return (tile) => {
      const planes = shadePoints(tile, SUMS * many + 1, (block, sums) => {
        const { count, floats, ints } = block
        for (let i = 0; i < count; i++) {
          const at = POINT_NUMBERS * i
          if (isGround[ints[at + POINT.part]])
            sums[SUMS * many][ints[at + POINT.pixel]] += floats[at + POINT.share]
        }
        hard.forEach((light, k) => {
          if (!light.asked) return
          // One ray a point: what comes is all or nothing.
          lightOnPoints(context, tile, light, 1, { whole: true, single: true })
          const { values, whole } = kernel.points
          for (let i = 0; i < count; i++) {
            const at = POINT_NUMBERS * i
            const share = floats[at + POINT.share]
            sums[SUMS * k][ints[at + POINT.pixel]] += share * whole[4 * i]
            if (values[4 * i] > 0) sums[SUMS * k + 1][ints[at + POINT.pixel]] += share
          }
        })
        soft.forEach((light, k) => {
          if (!light.asked) return
          lightOnPoints(context, tile, light, raysFor(light, effort.rays), { whole: true })
          addShares(block, kernel.points.values, 4, 0, sums[SUMS * k + 2])
          addShares(block, kernel.points.whole, 4, 0, sums[SUMS * k + 3])
        })
      })
      const ground = planes[SUMS * many]
      const alpha = planes[SUMS * many + 1]
      // Means over the form's own share of the pixel, and over the ground's.
      const ofForm = (plane: Float32Array) =>
        plane.map((value, p) => (ground[p] < 1 ? value / (1 - ground[p]) : 0))
      if (many === 0) return [alpha.map(() => 0), alpha.map(() => 0), alpha.map(() => 0), ground, alpha]
      return [
        ...lights.flatMap((_, i) => [
          ofForm(planes[SUMS * i]),
          ofForm(planes[SUMS * i + 1]),
          planes[SUMS * i + 2].map((through, p) => {
            const all = planes[SUMS * i + 3][p]
            return Math.min(1, 1 - (all - through) / Math.max(all, LEAST_LIGHT))
          }),
        ]),
        ground,
        alpha,
      ]
    }
  },

  look({ count, planes, lights }, params, out) {
    const [light, middle, dark] = [params.light, params.middle, params.shadow].map(parseHex)
    const groundLight = parseHex(params.groundLight)
    const groundShadow = parseHex(params.groundShadow)
    const ground = planes[planes.length - 2]
    const alpha = planes[planes.length - 1]
    const strengths = banded(lights).map(({ colour }) => Math.max(...colour))
    const strongest = Math.max(1e-6, ...strengths)
    const total = strengths.reduce((a, b) => a + b, 0) || 1
    const step = (value: number, at: number) => {
      const t = Math.min(1, Math.max(0, (value - at) / params.softness + 0.5))
      return t * t * (3 - 2 * t)
    }
    for (let i = 0; i < count; i++) {
      let level = 0
      let open = 0
      for (let k = 0; k < strengths.length; k++) {
        const n = planes[3 * k][i]
        const band = 0.5 * step(n, params.first) + 0.5 * step(n, params.second)
        level += (strengths[k] / strongest) * band * Math.min(1, planes[3 * k + 1][i])
        open += (strengths[k] / total) * planes[3 * k + 2][i]
      }
      level = Math.min(1, level)
      const g = ground[i]
      // A clear ground keeps its shadow alone.
      const groundAlpha = params.groundClear ? 1 - open : 1
      const cover = 1 - g + g * groundAlpha
      for (let c = 0; c < 3; c++) {
        const form =
          level < 0.5
            ? dark[c] + (middle[c] - dark[c]) * 2 * level
            : middle[c] + (light[c] - middle[c]) * (2 * level - 1)
        const floor = params.groundClear
          ? groundShadow[c]
          : groundShadow[c] + (groundLight[c] - groundShadow[c]) * open
        out[4 * i + c] = cover > 0 ? (form * (1 - g) + floor * g * groundAlpha) / cover : form
      }
      out[4 * i + 3] = alpha[i] * cover
    }
  },
})
