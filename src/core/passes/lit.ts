import { z } from 'zod'
import { hash32 } from '../math/sampling'
import { numberParam, toggleParam } from '../params'
import type { ChannelSpec } from '../picture/channel'
import { BLOCKS_LIGHT, SOLID } from '../scene/part-role'
import type { RenderedLight } from '../scene/rendered-light'
import { OPAQUE, type SceneGeometry } from '../scene/scene-geometry'
import { BLOCK_POINTS, NOTHING, POINT, POINT_NUMBERS, type PointBlock } from '../trace/point-block'
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
import { definePass } from './pass-kind'
import { type PassFacts } from './pass-facts'
import { type Tile } from './tile'
import { lobeWidth, placeLights, type PlacedLight } from './placed-light'
import { addShares, shadePoints, type TilePlanes } from './shade-points'
import { toDisplay } from './tone'

const MIRROR = hash32(0x19d3c0de)
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

/** Names of a light's colour planes of one kind: `D0r` …, `D1upr` … */
const colourNames = (lights: readonly RenderedLight[], kind: string): ChannelSpec[] =>
  lights.flatMap(({ planes }, i) =>
    (planes === 'dome' ? ['up', 'down'] : ['']).flatMap((side) =>
      ['r', 'g', 'b'].map((c) => ({ name: `${kind}${i}${side}${c}`, format: 'half' as const })),
    ),
  )

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

/** Which tile shows which material, as one number. */
const touchOf = ({ x, y }: Pick<Tile, 'x' | 'y'>, material: number): number =>
  ((y >> 5) * 512 + (x >> 5)) * 65536 + material
const listOf = ({ touched = [] }: PassFacts): readonly number[] =>
  Array.isArray(touched) ? touched : [touched]

/**
 * Whether a tile of a lit pass shows one of some materials; true where the pass does not know.
 * @param facts of the pass.
 */
export function showsMaterial(facts: PassFacts, materials: readonly number[]): (tile: Tile) => boolean {
  const known = new Set(listOf(facts))
  return (tile) => known.size === 0 || materials.some((m) => known.has(touchOf(tile, m)))
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
    const material = new MaterialLook(scene)
    const lobeWidths = scene.materials.map(({ highlight = 0, roughness = MaterialLook.ROUGHNESS }) =>
      highlight > 0 ? lobeWidth(roughness) : 0,
    )
    const { keeps, behind } = glassPanes(context)

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
    /** Materials that rays of the tile met and that its pixels show, straight, mirrored or through glass. */
    const touched = new Set<number>()

    /** Linear colours of a block's points, three a point. */
    const colours = new Float32Array(3 * BLOCK_POINTS)
    const strengths = new Float32Array(BLOCK_POINTS)

    /** Looks a block's materials up, and adds what glows. @param each is told of every point. */
    const lookUp = (
      { count, ints, doubles, floats }: PointBlock,
      planes: TilePlanes,
      each?: (i: number, at: number) => void,
    ) => {
      for (let i = 0; i < count; i++) {
        const at = POINT_NUMBERS * i
        if (ints[at + POINT.slot] === NOTHING) continue
        const corners = at / 2 + POINT.weights
        material.load(ints[at + POINT.triangle], doubles[corners], doubles[corners + 1])
        touched.add(material.material)
        colours[3 * i] = material.r
        colours[3 * i + 1] = material.g
        colours[3 * i + 2] = material.b
        each?.(i, at)
        if (material.glowR + material.glowG + material.glowB === 0) continue
        const pixel = ints[at + POINT.pixel]
        const share = floats[at + POINT.share] * (each ? keeps(material.material) : 1)
        planes[glowAt][pixel] += material.glowR * share
        planes[glowAt + 1][pixel] += material.glowG * share
        planes[glowAt + 2][pixel] += material.glowB * share
      }
    }

    /** Adds what a light brings in the materials' colours: three planes for each of its colours. */
    const addLight = (
      { count, floats, ints }: PointBlock,
      { values }: PlacedLight,
      brought: Float32Array,
      planes: TilePlanes,
      first: number,
      kept?: Float32Array,
    ) => {
      for (let i = 0; i < count; i++) {
        const at = POINT_NUMBERS * i
        const pixel = ints[at + POINT.pixel]
        const share = floats[at + POINT.share] * (kept ? kept[i] : 1)
        for (let c = 0; c < 3; c++) {
          const colour = colours[3 * i + c] * share
          planes[first + c][pixel] += brought[4 * i + (values === 3 ? c : 0)] * colour
          if (values === 2) planes[first + 3 + c][pixel] += brought[4 * i + 1] * colour
        }
      }
    }

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
        lookUp(secondary, planes)
        lights.forEach((light, i) => {
          const first = reflections.offsets[i]
          addLight(secondary, light, lightOnSecondary(context, light, 1), planes, first)
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
      touched.clear()
      const rendered = shadePoints(tileContext, glowAt + 3, (block, planes) => {
        const { floats } = block
        const { widths, shares, spreads } = points
        lookUp(block, planes, (i, at) => {
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
          addLight(block, light, brought, planes, diffuse.offsets[i], kept)
          if (light.values === 1) addHighlights(block, brought, strengths, planes[highlights.offsets[i]])
        })
        if (params.reflection) mirror(block, visible.most, planes, cancelled)
        if (!params.transmission) return
        behind(block, (pane) => {
          lookUp(pane, planes)
          lights.forEach((light, i) => {
            const brought = lightOnSecondary(context, light, raysFor(light, effort.rays))
            addLight(pane, light, brought, planes, transmissions.offsets[i])
          })
        })
      })
      if (touched.size > 0) tileContext.tell({ touched: [...touched].map((m) => touchOf(tile, m)) })
      return rendered
    }
  },
  facts: {
    merge(a, b) {
      // Thousands of tiles are joined one after the other: in place.
      const all = Array.isArray(a.touched) ? a.touched : []
      for (const touch of listOf(b)) all.push(touch)
      return { touched: all }
    },
    finish: (told) => told,
  },

  keeps: (context, _params, lightsStay) => lightKeeps(context, lightsStay, solidMask(context.scene)),

  look({ count, planes, lights, rendered }, params, out) {
    const gain = 2 ** params.exposure
    const alpha = planes[planes.length - 1]
    const sum = new Float32Array(3 * count)
    let at = 0
    /** Adds three planes, each in its own part of a colour. */
    const addRgb = (colour: readonly number[], strength: number) => {
      for (let c = 0; c < 3; c++) {
        const factor = colour[c] * strength
        const plane = planes[at + c]
        if (factor !== 0) for (let i = 0; i < count; i++) sum[3 * i + c] += plane[i] * factor
      }
      at += 3
    }
    const addLights = (strength: number) => {
      for (const { planes: kind, colour, below } of lights) {
        addRgb(colour, strength)
        if (kind === 'dome') addRgb(below, strength)
      }
    }
    addLights(params.diffuse)
    for (const { planes: kind, colour } of lights) {
      if (kind !== 'light') continue
      addPlane(
        sum,
        planes[at++],
        count,
        colour.map((c) => c * params.highlight),
      )
    }
    if (rendered.reflection !== false) addLights(params.reflection)
    if (rendered.transmission !== false) addLights(params.transmission)
    addRgb([1, 1, 1], params.glow)
    for (let i = 0; i < count; i++) {
      for (let c = 0; c < 3; c++) out[4 * i + c] = toDisplay(sum[3 * i + c] * gain)
      out[4 * i + 3] = alpha[i]
    }
  },
})

/** What throws shadows: without glass both masks name the same triangles, and passes that ask the same share the answer. */
function solidMask({ materials }: Pick<SceneGeometry, 'materials'>): number {
  return materials.some(({ opacity = 1 }) => opacity < OPAQUE) ? SOLID.light : BLOCKS_LIGHT
}
