import { z } from 'zod'
import { hash32 } from '../math/sampling'
import { choiceParam, colourParam, numberParam, toggleParam } from '../params'
import { BLOCKS_LIGHT } from '../scene/part-role'
import { lightChannels } from '../scene/rendered-light'
import { NOTHING, POINT, POINT_NUMBERS, type PointBlock } from '../trace/point-block'
import { leastClearance } from './clearance'
import { idleWhere, NO_GROUND } from './idle-params'
import { addPlane, colourPlaneCount, lightOnSecondary, litPlanes, planeOffsets } from './light-planes'
import { touchFacts, touchRules } from './material-touches'
import { addColouredLights, addRgb, colourNames, OwnColours } from './own-colours'
import { definePass } from './pass-kind'
import { bothOf, placeLights, solidMask } from './placed-light'
import { onParam, receivers } from './receivers'
import { addShares, shadePoints, type TilePlanes } from './shade-points'
import { linearOf, toDisplay } from './tone'

const MIRROR = hash32(0x5a9e11f3)

/** Channels behind the lights': share of the surface that mirrors something, how far that is, and how it is seen. */
const MEASURES = ['M', 'Z', 'F'] as const

/**
 * What a polished surface mirrors, as a picture of its own with alpha: to lay over any ground. Each light keeps what it
 * brings to what is mirrored, in linear colour (D) or without (L); M is the share of views that meet something, Z the mean
 * way there in diagonals of the figure, F the mean cosine to the view.
 */
export const reflection = definePass({
  kind: 'reflection',
  label: 'Reflection',
  summary: 'What the ground or chosen parts would mirror, as a picture with alpha: polish for any ground.',
  renderSchema: z.object({
    on: onParam(),
    mirrored: choiceParam({
      label: 'Mirrors',
      options: { standing: 'What is not ground', all: 'Everything' },
      default: 'standing',
    }),
    shows: choiceParam({
      label: 'Shown in',
      options: { own: 'Own materials', clay: 'Clay' },
      default: 'own',
    }),
    blur: numberParam({ label: 'Blur', min: 0, max: 1, step: 0.01, default: 0.15 }),
    hides: toggleParam({ label: 'Mirrored parts hide it', default: true }),
  }),
  lookSchema: z.object({
    strength: numberParam({ label: 'Strength', min: 0, max: 1, step: 0.01, default: 0.5 }),
    glancing: numberParam({ label: 'More at a glance', min: 0, max: 1, step: 0.01, default: 0.4 }),
    fade: numberParam({ label: 'Fades with distance', min: 0, max: 16, step: 0.1, default: 3 }),
    exposure: numberParam({ label: 'Exposure', unit: 'EV', min: -4, max: 4, step: 0.05, default: 0 }),
    clay: colourParam({ label: 'Clay', default: '#d8cfc2' }),
    glow: numberParam({ label: 'Glow', min: 0, max: 8, step: 0.05, default: 1 }),
  }),
  channels: (lights, { shows }) => [
    ...(shows === 'own'
      ? [
          ...colourNames(lights, 'D'),
          ...['Er', 'Eg', 'Eb'].map((name) => ({ name, format: 'half' as const })),
        ]
      : lightChannels(lights).filter(({ name }) => !name.endsWith('h'))),
    ...[...MEASURES, 'A'].map((name) => ({ name, format: 'half' as const })),
  ],
  usesLights: true,
  // Edges of what is mirrored lie anywhere on a surface.
  adaptive: false,
  reads: ['colour', 'finish', 'transparency', 'texture'],
  efforts: {
    draft: { samples: 4, rays: 4 },
    good: { samples: 8, rays: 16 },
    final: { samples: 16, rays: 24 },
  },
  layer: { mode: 'normal', opacity: 1 },
  view: (scene, { on, hides }) => (hides ? null : receivers(scene, on)),

  idleRender: ({ on }, { hasGround }) =>
    idleWhere([on === 'ground' && !hasGround, ['mirrored', 'shows', 'blur', 'hides'], NO_GROUND]),
  idleLook: (_look, { rendered, scene }) =>
    idleWhere(
      [
        (rendered.on ?? 'ground') === 'ground' && !scene.hasGround,
        ['strength', 'glancing', 'fade', 'exposure', 'clay', 'glow'],
        NO_GROUND,
      ],
      [rendered.shows !== 'clay', ['clay'], 'Render it in clay'],
      [rendered.shows === 'clay', ['glow'], 'Render it in own materials'],
      [!scene.hasGlow, ['glow'], 'No material glows of itself'],
    ),

  createRenderer(context, params) {
    const { effort, kernel, scene, blockers, mirrored, looksPast } = context
    const { points } = kernel
    const own = params.shows === 'own' ? new OwnColours(scene) : null
    const lights = placeLights(context.rig.lights, {
      ...context,
      blockers: { mask: own ? solidMask(scene) : BLOCKS_LIGHT, parts: blockers },
    })
    const on = receivers(scene, params.on)
    const standing = Uint8Array.from(scene.parts, ({ role }) => (role === 'ground' ? 0 : 1))
    const filter = {
      mask: BLOCKS_LIGHT,
      parts: bothOf(
        bothOf(blockers, params.mirrored === 'standing' ? standing : null),
        looksPast ? mirrored : null,
      ),
    }
    const brought = planeOffsets(lights.map(({ values }) => (own ? colourPlaneCount(values) : values)))
    const glowAt = brought.end
    const measuresAt = glowAt + (own ? 3 : 0)
    /** One more at work: the share of what is seen that is taken from. */
    const takenAt = measuresAt + MEASURES.length
    const rays = Math.max(1, effort.rays >> 2)
    const spread = params.blur * params.blur
    const least = leastClearance(scene)

    /** Marks what mirrors in a block, and how it is seen. */
    const begin = ({ count, floats, ints }: PointBlock, planes: TilePlanes) => {
      for (let i = 0; i < count; i++) {
        const at = POINT_NUMBERS * i
        const isTaken = !on || on[ints[at + POINT.part]] !== 0
        const share = floats[at + POINT.share]
        points.shares[i] = isTaken ? share : 0
        if (!isTaken) continue
        const pixel = ints[at + POINT.pixel]
        planes[takenAt][pixel] += share
        const cosine =
          floats[at + POINT.view] * floats[at + POINT.normal] +
          floats[at + POINT.view + 1] * floats[at + POINT.normal + 1] +
          floats[at + POINT.view + 2] * floats[at + POINT.normal + 2]
        planes[measuresAt + 2][pixel] += share * Math.min(1, Math.max(0, -cosine))
      }
      points.spreads.fill(spread, 0, count)
    }
    /** Adds what was met, and how far away. */
    const measure = ({ count, floats, ints }: PointBlock, planes: TilePlanes) => {
      let met = 0
      for (let i = 0; i < count; i++) {
        const at = POINT_NUMBERS * i
        if (ints[at + POINT.slot] === NOTHING) continue
        // What is held out hides what it stands before, and shows nothing.
        if (mirrored && mirrored[ints[at + POINT.part]] === 0) {
          ints[at + POINT.slot] = NOTHING
          continue
        }
        const pixel = ints[at + POINT.pixel]
        const share = floats[at + POINT.share]
        planes[measuresAt][pixel] += share
        planes[measuresAt + 1][pixel] += (share * points.ways[i]) / scene.figureDiagonal
        met++
      }
      return met
    }

    return (tileContext) => {
      const { tile, points: visible, cancelled } = tileContext
      own?.met.clear()
      const planes = shadePoints(tileContext, takenAt + 1, (block, sums) => {
        begin(block, sums)
        for (let from = 0; from < block.count && !cancelled();) {
          const range = { block, from, count: block.count - from }
          from += points.scatter(range, { rays, most: visible.most, filter }, 'mirrored', MIRROR, least)
          const { secondary } = points
          if (measure(secondary, sums) === 0) continue
          own?.lookUp(secondary, sums, glowAt)
          lights.forEach((light, k) => {
            const first = brought.offsets[k]
            const values = lightOnSecondary(context, light, 1)
            if (own) own.addLight(secondary, light, values, sums, first)
            else for (let v = 0; v < light.values; v++) addShares(secondary, values, 4, v, sums[first + v])
          })
        }
      })
      // Means over what mirrors, and over what is mirrored, from sums over all that is seen.
      const [alpha, taken] = [planes[takenAt + 1], planes[takenAt]]
      const [share, way, facing] = MEASURES.map((_, k) => planes[measuresAt + k])
      for (let p = 0; p < alpha.length; p++) {
        for (let k = 0; k < measuresAt; k++) planes[k][p] = share[p] > 0 ? planes[k][p] / share[p] : 0
        way[p] = share[p] > 0 ? way[p] / share[p] : 0
        facing[p] = taken[p] > 0 ? facing[p] / taken[p] : 0
      }
      if (own && own.met.size > 0) tileContext.tell(touchFacts(tile, own.met))
      return [...planes.slice(0, takenAt), alpha]
    }
  },
  facts: touchRules,

  look({ count, planes, lights, rendered }, params, out) {
    const sum = new Float32Array(3 * count)
    let at = 0
    if (rendered.shows === 'clay') {
      const clay = linearOf(params.clay)
      // Planes of the highlights are not there: the others move up.
      for (const { colour, role } of litPlanes(lights)) {
        if (role !== 'light') continue
        addPlane(
          sum,
          planes[at++],
          count,
          colour.map((c, i) => c * clay[i]),
        )
      }
    } else {
      at = addColouredLights(sum, planes, 0, count, lights, 1)
      addRgb(sum, planes, at, count, [1, 1, 1], params.glow)
      at += 3
    }
    const [share, way, facing, alpha] = planes.slice(at)
    const gain = 2 ** params.exposure
    for (let i = 0; i < count; i++) {
      for (let c = 0; c < 3; c++) out[4 * i + c] = toDisplay(sum[3 * i + c] * gain)
      out[4 * i + 3] =
        alpha[i] *
        share[i] *
        params.strength *
        glance(params.glancing, facing[i]) *
        2 ** (-params.fade * way[i])
    }
  },
})

/**
 * Share of a view that is mirrored at a cosine, 1 where it only grazes (Schlick 1994, "An Inexpensive BRDF Model for
 * Physically-based Rendering", with 1 − `more` as the reflectance at normal incidence).
 */
export const glance = (more: number, cosine: number): number => 1 - more + more * (1 - cosine) ** 5
