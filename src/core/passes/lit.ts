import { z } from 'zod'
import { hash32 } from '../math/sampling'
import { numberParam, toggleParam } from '../params'
import { BLOCKS_LIGHT } from '../scene/part-role'
import { BLOCK_POINTS, POINT, POINT_NUMBERS, type PointBlock } from '../trace/point-block'
import { leastClearance } from './clearance'
import { glassPanes } from './glass-panes'
import { idleWhere, NO_GLASS } from './idle-params'
import {
  addPlane,
  colourPlaneCount,
  lightKeeps,
  lightOnPoints,
  lightOnSecondary,
  planeOffsets,
  raysFor,
} from './light-planes'
import { MaterialLook } from './material-look'
import { touchFacts, touchRules } from './material-touches'
import { addColouredLights, addRgb, colourNames, OwnColours } from './own-colours'
import { definePass } from './pass-kind'
import { lobeWidth, placeLights, solidMask } from './placed-light'
import { addShares, shadePoints, type TilePlanes } from './shade-points'
import { toDisplay } from './tone'

const MIRROR = hash32(0x19d3c0de)
/** From this share on nothing of a view is lost: panes that hold next to nothing are not followed. */
const ALL_HELD = 0.999
/** Reflections that count for less of a pixel are not followed. */
const LEAST_MIRRORED = 1e-4

/** Adds each point's highlight, as strong as its material has it. */
function addHighlights(
  { count, floats, ints }: PointBlock,
  brought: Float32Array,
  strengths: Float32Array,
  plane: Float64Array,
): void {
  for (let i = 0; i < count; i++) {
    const at = POINT_NUMBERS * i
    plane[ints[at + POINT.pixel]] += floats[at + POINT.share] * strengths[i] * brought[4 * i + 3]
  }
}

/**
 * How much a surface mirrors, 0…1: by its gloss, and more at a glancing angle (Schlick 1994, "An Inexpensive BRDF Model
 * for Physically-based Rendering", with the gloss as its reflectance at normal incidence).
 */
export function mirrorShare(highlight: number, roughness: number, cosine: number): number {
  const smooth = (1 - roughness) * (1 - roughness)
  const head = highlight * highlight * smooth
  const aside = 1 - Math.min(1, Math.max(0, cosine))
  const aside2 = aside * aside
  return head + (1 - head) * highlight * smooth * aside2 * aside2 * aside
}

/**
 * The parts in their own materials under the rig. Each light keeps, apart and in linear colour: what it brings as diffuse
 * light (D), as highlight (H, without colour), in reflections (R) and through glass (T); what glows by itself is E. All
 * stay live.
 */
export const lit = definePass({
  kind: 'lit',
  label: 'Lit',
  summary: 'The model in its own materials under the rig, with reflections and glass.',
  renderSchema: z.object({
    reflection: toggleParam({ label: 'Reflections', default: true }),
    transmission: toggleParam({ label: 'Through glass', default: true }),
  }),
  lookSchema: z.object({
    exposure: numberParam({ label: 'Exposure', unit: 'EV', min: -4, max: 4, step: 0.05, default: 0 }),
    diffuse: numberParam({ label: 'Diffuse', min: 0, max: 4, step: 0.05, default: 1 }),
    highlight: numberParam({ label: 'Highlights', min: 0, max: 4, step: 0.05, default: 1 }),
    reflection: numberParam({ label: 'Reflections', min: 0, max: 4, step: 0.05, default: 1 }),
    transmission: numberParam({ label: 'Through glass', min: 0, max: 4, step: 0.05, default: 1 }),
    glow: numberParam({ label: 'Glow', min: 0, max: 8, step: 0.05, default: 1 }),
  }),
  channels: (lights, { reflection, transmission }) => [
    ...colourNames(lights, 'D'),
    ...lights.flatMap(({ planes }, i) =>
      planes === 'light' ? [{ name: `H${i}`, format: 'half' as const }] : [],
    ),
    ...(reflection ? colourNames(lights, 'R') : []),
    ...(transmission ? colourNames(lights, 'T') : []),
    ...['Er', 'Eg', 'Eb'].map((name) => ({ name, format: 'half' as const })),
    { name: 'A', format: 'half' },
  ],
  usesLights: true,
  denoised: (lights) => colourNames(lights, 'D').map((c) => c.name),
  reads: ['colour', 'finish', 'transparency', 'texture'],
  efforts: {
    draft: { samples: 4, rays: 2 },
    good: { samples: 8, rays: 4 },
    final: { samples: 16, rays: 8 },
  },
  layer: { mode: 'normal', opacity: 1 },

  idleRender: (_params, { hasGlass }) => idleWhere([!hasGlass, ['transmission'], NO_GLASS]),
  idleLook: (_look, { rendered, scene }) =>
    idleWhere(
      [rendered.reflection === false, ['reflection'], 'Render it with reflections'],
      [!scene.hasGlass, ['transmission'], NO_GLASS],
      [rendered.transmission === false, ['transmission'], 'Render it with what shows through glass'],
      [!scene.hasGlow, ['glow'], 'No material glows of itself'],
    ),

  createRenderer(context, params) {
    const { effort, kernel, scene, blockers, rig } = context
    const { points } = kernel
    const least = leastClearance(scene)
    const solid = { mask: solidMask(scene), parts: blockers }
    const mirrors = { mask: BLOCKS_LIGHT, parts: blockers }
    const lights = placeLights(rig.lights, { ...context, blockers: solid })
    const own = new OwnColours(scene)
    const { material } = own
    const lobeWidths = scene.materials.map(({ highlight = 0, roughness = MaterialLook.ROUGHNESS }) =>
      highlight > 0 ? lobeWidth(roughness) : 0,
    )
    const { keeps, behind, isClear } = glassPanes(context)

    // Planes: D of all lights, H of those that come from somewhere, R, T, E.
    const counts = lights.map(({ values }) => colourPlaneCount(values))
    const diffuse = planeOffsets(counts)
    const highlights = planeOffsets(
      lights.map(({ values }) => (values === 1 ? 1 : 0)),
      diffuse.end,
    )
    const reflections = planeOffsets(params.reflection ? counts : [], highlights.end)
    const transmissions = planeOffsets(params.transmission ? counts : [], reflections.end)
    const glowAt = transmissions.end
    const strengths = new Float32Array(BLOCK_POINTS)

    /** Reflections, from `shares` and `spreads` of the block's points. */
    const mirror = (block: PointBlock, most: number, planes: TilePlanes, cancelled: () => boolean) => {
      const { secondary } = points
      for (let from = 0; from < block.count && !cancelled();) {
        from += points.scatter(
          { block, from, count: block.count - from },
          { rays: Math.max(1, effort.rays >> 2), most, filter: mirrors },
          'mirrored',
          MIRROR,
          least,
        )
        own.lookUp(secondary, planes, glowAt)
        lights.forEach((light, i) => {
          const first = reflections.offsets[i]
          own.addLight(secondary, light, lightOnSecondary(context, light, 1), planes, first)
          if (light.values === 1 || !light.asked) return
          // Past everything only a sky is seen.
          points.sky(secondary, light.asked)
          for (let k = 0; k < 3; k++) {
            addShares(secondary, points.values, 4, light.values === 2 ? 0 : k, planes[first + k])
            if (light.values === 2) addShares(secondary, points.values, 4, 1, planes[first + 3 + k])
          }
        })
      }
    }

    const kept = new Float32Array(BLOCK_POINTS)
    return (tileContext) => {
      const { tile, points: visible, cancelled } = tileContext
      own.met.clear()
      /** Share of each pixel's views that ends on something. */
      const held =
        isClear && params.transmission ? tileContext.memory.doubles(tile.width * tile.height) : null
      const hold = ({ count, ints, floats }: PointBlock, share: (i: number) => number) => {
        if (!held) return
        for (let i = 0; i < count; i++) {
          const at = POINT_NUMBERS * i
          held[ints[at + POINT.pixel]] += floats[at + POINT.share] * share(i)
        }
      }
      const rendered = shadePoints(tileContext, glowAt + 3, (block, planes) => {
        const { floats } = block
        const { widths, shares, spreads } = points
        own.lookUp(block, planes, glowAt, keeps, (i, at) => {
          const { highlight, roughness } = material
          kept[i] = keeps(material.material)
          strengths[i] = highlight
          widths[i] = lobeWidths[material.material]
          const cosine = -(
            floats[at + POINT.view] * floats[at + POINT.normal] +
            floats[at + POINT.view + 1] * floats[at + POINT.normal + 1] +
            floats[at + POINT.view + 2] * floats[at + POINT.normal + 2]
          )
          const strength = floats[at + POINT.share] * mirrorShare(highlight, roughness, cosine)
          shares[i] = strength < LEAST_MIRRORED ? 0 : strength
          spreads[i] = roughness * roughness
        })
        lights.forEach((light, i) => {
          const rays = raysFor(light, effort.rays)
          const brought = lightOnPoints(context, tileContext, light, rays, { highlight: true })
          own.addLight(block, light, brought, planes, diffuse.offsets[i], kept)
          if (light.values === 1) addHighlights(block, brought, strengths, planes[highlights.offsets[i]])
        })
        if (params.reflection) mirror(block, visible.most, planes, cancelled)
        if (!params.transmission) return
        hold(block, (i) => kept[i])
        behind(block, (pane) => {
          hold(pane, () => 1)
          own.lookUp(pane, planes, glowAt)
          lights.forEach((light, i) => {
            const brought = lightOnSecondary(context, light, raysFor(light, effort.rays))
            own.addLight(pane, light, brought, planes, transmissions.offsets[i])
          })
        })
      })
      if (own.met.size > 0) tileContext.tell(touchFacts(tile, own.met))
      if (held) leaveClear(rendered, held)
      return rendered
    }
  },
  facts: touchRules,

  keeps: (context, _params, lightsStay) => lightKeeps(context, lightsStay, solidMask(context.scene)),

  look({ count, planes, lights, rendered }, params, out) {
    const gain = 2 ** params.exposure
    const alpha = planes[planes.length - 1]
    const sum = new Float32Array(3 * count)
    let at = addColouredLights(sum, planes, 0, count, lights, params.diffuse)
    for (const { planes: kind, colour } of lights) {
      if (kind !== 'light') continue
      addPlane(
        sum,
        planes[at++],
        count,
        colour.map((c) => c * params.highlight),
      )
    }
    if (rendered.reflection !== false)
      at = addColouredLights(sum, planes, at, count, lights, params.reflection)
    if (rendered.transmission !== false)
      at = addColouredLights(sum, planes, at, count, lights, params.transmission)
    addRgb(sum, planes, at, count, [1, 1, 1], params.glow)
    for (let i = 0; i < count; i++) {
      for (let c = 0; c < 3; c++) out[4 * i + c] = toDisplay(sum[3 * i + c] * gain)
      out[4 * i + 3] = alpha[i]
    }
  },
})

/** Views that end in nothing behind glass leave their pixel clear: what is there is of all that is held. In place. */
function leaveClear(planes: readonly Float32Array[], held: Float64Array): void {
  const alpha = planes[planes.length - 1]
  for (let p = 0; p < held.length; p++) {
    if (alpha[p] === 0 || held[p] > ALL_HELD) continue
    for (const plane of planes) if (plane !== alpha && held[p] > 0) plane[p] /= held[p]
    alpha[p] *= held[p]
  }
}
