import { z } from 'zod'
import { concentricDisc, hash32, sobolPair } from '../math/sampling'
import { numberParam, toggleParam } from '../params'
import type { ChannelSpec } from '../picture/channel'
import { BLOCKS_LIGHT, SOLID } from '../scene/part-role'
import type { RenderedLight } from '../scene/rendered-light'
import { addPlane, colourPlaneCount, LightQueue, raysFor } from './light-planes'
import type { LightSampler } from './light-sampler'
import { domeLight, highlightLobe, lightSamplers, lobeWidth } from './light-sampler'
import { MaterialLook } from './material-look'
import { idleWhere, NO_GLASS } from './idle-params'
import { definePass, type PassFacts, type Tile } from './pass-kind'
import { FAR } from './primary-hits'
import { ClosestRays } from './ray-queue'
import { ShadeSample, shadeSamples, type TilePlanes } from './shade-samples'
import { throughGlass } from './through-glass'
import { toDisplay } from './tone'

const MIRROR = hash32(0x19d3c0de)

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
  const smooth = (1 - roughness) ** 2
  const head = highlight * highlight * smooth
  return head + (1 - head) * highlight * smooth * (1 - Math.min(1, Math.max(0, cosine))) ** 5
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
    const solid = { mask: SOLID.light, parts: blockers }
    const samplers = lightSamplers(rig.lights, { ...context, blockers: solid })
    const domes = rig.lights.map((l) => (l.kind === 'dome' ? domeLight(l, context) : null))
    const material = new MaterialLook(scene)
    const glass = throughGlass(context)

    // Planes: D of all lights, H of those that come from somewhere, R, T, E.
    const counts = samplers.map((s) => colourPlaneCount(s.values))
    const perKind = counts.reduce((a, b) => a + b, 0)
    const offsets = counts.map((_, i) => counts.slice(0, i).reduce((a, b) => a + b, 0))
    let next = perKind
    const highlightAt = samplers.map((s) => (s.values === 1 ? next++ : -1))
    const reflectionAt = next
    if (params.reflection) next += perKind
    const transmissionAt = next
    if (params.transmission) next += perKind
    const glowAt = next
    const total = next + 3
    const queuesFrom = (first: number) =>
      samplers.map((s, i) => new LightQueue(context, s, first + offsets[i], counts[i]))
    const diffuse = queuesFrom(0)
    const highlights = samplers.map((s, i) =>
      s.values === 1 ? new LightQueue(context, s, highlightAt[i], 1) : null,
    )
    const reflections = params.reflection ? queuesFrom(reflectionAt) : []
    const transmissions = params.transmission ? queuesFrom(transmissionAt) : []
    let planes: TilePlanes = []
    /** Materials that rays of the tile met and that its pixels show, straight, mirrored or through glass. */
    const touched = new Set<number>()

    /** Sends rays to every light from a shaded point and puts what they bring, in the material's colour. */
    const light = (
      sample: ShadeSample,
      queues: readonly LightQueue[],
      rays: (sampler: LightSampler) => number,
      share: number,
    ) => {
      const { point, pixel } = sample
      const { r, g, b } = material
      samplers.forEach((sampler, i) => {
        if (sampler.lit && !sampler.lit[point.part]) return
        const count = rays(sampler)
        const part = share / count
        const queue = queues[i]
        sampler.draw(sample, count, (ray) => {
          const { x, y, z: depth } = point
          if (sampler.values === 1) {
            const given = ray.a * part
            queue.put(x, y, depth, ray, pixel, given * r, given * g, given * b)
          } else if (sampler.values === 2) {
            const up = ray.a * part
            const down = ray.b * part
            queue.put(x, y, depth, ray, pixel, up * r, up * g, up * b, down * r, down * g, down * b)
          } else queue.put(x, y, depth, ray, pixel, ray.a * part * r, ray.b * part * g, ray.c * part * b)
        })
      })
    }
    const glow = (pixel: number, share: number) => {
      planes[glowAt][pixel] += material.glowR * share
      planes[glowAt + 1][pixel] += material.glowG * share
      planes[glowAt + 2][pixel] += material.glowB * share
    }

    // Mirrored rays. Kept with each: direction, pixel, what it counts for, the pixel's x and y, its number.
    const there = new ShadeSample(context)
    const sky = new Float64Array(3)
    const mirrored = new ClosestRays(
      kernel,
      { mask: BLOCKS_LIGHT, parts: blockers },
      8,
      (at, slot, _distance, u, v) => {
        const k = mirrored.kept
        const pixel = k[at + 3]
        const share = k[at + 4]
        if (slot < 0) {
          // Past everything only a sky is seen.
          domes.forEach((dome, i) => {
            if (!dome) return
            dome(k[at], k[at + 1], k[at + 2], sky)
            const first = reflectionAt + offsets[i]
            for (let c = 0; c < 3; c++) {
              planes[first + c][pixel] += share * (samplers[i].values === 2 ? sky[0] : sky[c])
              if (samplers[i].values === 2) planes[first + 3 + c][pixel] += share * sky[1]
            }
          })
          return
        }
        there.point.load(slot, u, v, k[at], k[at + 1], k[at + 2])
        there.start(k[at + 5], k[at + 6], pixel, 1, 1)
        there.index = k[at + 7]
        material.load(there.point)
        touched.add(material.material)
        glow(pixel, share)
        light(there, reflections, () => 1, share)
      },
    )
    const unit = new Float64Array(2)
    const disc = new Float64Array(2)
    /** Sends mirrored rays from the sample's point, spread by the material's roughness. */
    const mirror = (sample: ShadeSample, tile: { x: number; y: number; width: number }, share: number) => {
      const { point, ray, pixel } = sample
      const cosine = -(ray.dx * point.nx + ray.dy * point.ny + ray.dz * point.nz)
      const strength = share * mirrorShare(material.highlight, material.roughness, cosine)
      if (strength < 1e-4) return
      const count = sample.raysOf(Math.max(1, effort.rays >> 2))
      const first = sample.first(count)
      const spread = material.roughness ** 2
      for (let r = 0; r < count; r++) {
        sobolPair(first + r, sample.seed ^ MIRROR, unit)
        concentricDisc(unit[0], unit[1], disc)
        // A normal tilted within the width of the highlight.
        const a = disc[0] * spread
        const b = disc[1] * spread
        const c = Math.sqrt(Math.max(0, 1 - a * a - b * b))
        const nx = a * point.ux + b * point.vx + c * point.nx
        const ny = a * point.uy + b * point.vy + c * point.ny
        const nz = a * point.uz + b * point.vz + c * point.nz
        const along = 2 * (ray.dx * nx + ray.dy * ny + ray.dz * nz)
        const dx = ray.dx - along * nx
        const dy = ray.dy - along * ny
        const dz = ray.dz - along * nz
        if (dx * point.gx + dy * point.gy + dz * point.gz <= 0) continue
        const at = mirrored.put(point.x, point.y, point.z, dx, dy, dz, FAR)
        const k = mirrored.kept
        k[at] = dx
        k[at + 1] = dy
        k[at + 2] = dz
        k[at + 3] = pixel
        k[at + 4] = strength / count
        k[at + 5] = tile.x + (pixel % tile.width)
        k[at + 6] = tile.y + Math.floor(pixel / tile.width)
        k[at + 7] = first + r
      }
    }
    const behind = new ShadeSample(context)

    return (tileContext) => {
      const { tile } = tileContext
      touched.clear()
      const rendered = shadeSamples(context, tileContext, total, {
        begin: (empty) => {
          planes = empty
          for (const queue of [...diffuse, ...highlights, ...reflections, ...transmissions])
            queue?.bind(empty)
        },
        shade: (sample) => {
          const { pixel, share } = sample
          glass(sample, (point, _slot, part) => {
            material.load(point)
            touched.add(material.material)
            const isFirst = point === sample.point
            if (!isFirst && !params.transmission) return
            glow(pixel, share * part)
            if (!isFirst) {
              behind.point.copy(point)
              behind.start(
                tile.x + (pixel % tile.width),
                tile.y + Math.floor(pixel / tile.width),
                pixel,
                1,
                1,
              )
              behind.index = sample.first(1)
              light(behind, transmissions, (s) => raysFor(s, effort.rays), share * part)
              return
            }
            light(sample, diffuse, (s) => sample.raysOf(raysFor(s, effort.rays)), share * part)
            if (params.reflection) mirror(sample, tile, share)
            if (material.highlight <= 0) return
            const width = lobeWidth(material.roughness)
            samplers.forEach((sampler, i) => {
              const queue = highlights[i]
              if (!queue || (sampler.lit && !sampler.lit[point.part])) return
              const count = sample.raysOf(raysFor(sampler, effort.rays))
              const weight = (share * material.highlight) / count
              sampler.draw(sample, count, (ray) => {
                const lobe = highlightLobe(point, sample.ray, ray.dx, ray.dy, ray.dz, width)
                // Too faint to be worth a ray.
                if (lobe > 0.002) queue.put(point.x, point.y, point.z, ray, pixel, ray.a * lobe * weight)
              })
            })
          })
        },
        settle: () => {
          mirrored.flush()
          for (const queue of [...diffuse, ...highlights, ...reflections, ...transmissions]) queue?.flush()
        },
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
