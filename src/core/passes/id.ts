import { z } from 'zod'
import { InvalidValueError } from '../errors'
import { oklchToRgb } from '../math/oklab'
import { choiceParam, numberParam } from '../params'
import type { SceneGeometry } from '../scene/scene-geometry'
import type { Surface } from './pass-kind'
import { definePass } from './pass-kind'
import { tracePrimaryHits } from './primary-hits'

/** Surfaces kept per pixel; what is covered by still more goes to the largest. */
export const ID_PAIRS = 6
/** Stored where a pair is empty. */
export const NO_SURFACE = 0xffff

/**
 * The pairs of part and material that occur in a scene, in a stable order, and each triangle's number in that list.
 */
export function sceneSurfaces(scene: SceneGeometry): { surfaces: Surface[]; ofTriangle: Uint16Array } {
  const index = new Map<number, number>()
  const found: { part: number; material: number }[] = []
  const total = scene.triangleParts.length
  for (let t = 0; t < total; t++) {
    const key = scene.triangleParts[t] * scene.materials.length + scene.triangleMaterials[t]
    if (!index.has(key))
      index.set(key, found.push({ part: scene.triangleParts[t], material: scene.triangleMaterials[t] }) - 1)
  }
  // Surfaces are numbered with 16 bits, and one number says that there is none.
  if (found.length > NO_SURFACE)
    throw new InvalidValueError(
      'scene',
      `must hold at most ${NO_SURFACE} pairs of part and material`,
      found.length,
    )
  const order = found.map((_, i) => i)
  order.sort((a, b) => found[a].part - found[b].part || found[a].material - found[b].material)
  const place = new Uint16Array(found.length)
  order.forEach((from, to) => (place[from] = to))
  const ofTriangle = new Uint16Array(total)
  for (let t = 0; t < total; t++) {
    const key = scene.triangleParts[t] * scene.materials.length + scene.triangleMaterials[t]
    ofTriangle[t] = place[index.get(key) ?? 0]
  }
  const surfaces = order.map((i): Surface => {
    const part = scene.parts[found[i].part]
    const material = scene.materials[found[i].material]
    return {
      part: part.key,
      material: material.key,
      partName: part.name,
      materialName: material.name,
      baseColour: material.baseColour,
    }
  })
  return { surfaces, ofTriangle }
}

/** Colours for a list of ids, far apart: hue by the golden angle, lightness and chroma in three steps (OKLCh). */
export function distinctColour(index: number): readonly [number, number, number] {
  const hue = index * 2.399963229728653
  const lightness = [0.72, 0.55, 0.84][index % 3]
  const chroma = [0.16, 0.13, 0.1][Math.floor(index / 3) % 3]
  return oklchToRgb(lightness, chroma, hue)
}

/**
 * Which surfaces cover each pixel, and by how much: the source of every mask. Each pixel first takes `rays` samples;
 * where they, or those of a neighbour, see more than one surface it takes `samples`.
 */
export const id = definePass({
  kind: 'id',
  label: 'ID',
  summary: 'One flat colour for each part or material, with exact coverage for masks.',
  renderSchema: z.object({}),
  lookSchema: z.object({
    by: choiceParam({
      label: 'One colour per',
      options: { part: 'Part', material: 'Material' },
      default: 'part',
    }),
    colours: choiceParam({
      label: 'Colours',
      options: { distinct: 'Far apart', model: 'From materials' },
      default: 'distinct',
    }),
    edges: choiceParam({ label: 'Edges', options: { smooth: 'Smooth', hard: 'Hard' }, default: 'smooth' }),
    shift: numberParam({ label: 'Shuffle', min: 0, max: 99, step: 1, default: 0 }),
  }),
  channels: [
    ...Array.from({ length: ID_PAIRS }, (_, k) => ({ name: `id${k}`, format: 'uint16' as const })),
    ...Array.from({ length: ID_PAIRS }, (_, k) => ({ name: `w${k}`, format: 'unorm8' as const })),
    { name: 'A', format: 'half' },
  ],
  efforts: { draft: { samples: 16, rays: 4 }, final: { samples: 64, rays: 8 } },
  layer: { mode: 'multiply', opacity: 0.8 },

  createRenderer(context) {
    const { scene, kernel, camera, frame, effort } = context
    const { ofTriangle } = sceneSurfaces(scene)
    const surfaceAt = (triangle: number): number => (triangle < 0 ? NO_SURFACE : ofTriangle[triangle])
    const counts = new Map<number, number>()
    return ({ tile, cancelled }) => {
      const pixels = tile.width * tile.height
      const planes = Array.from({ length: 2 * ID_PAIRS + 1 }, () => new Float32Array(pixels))
      for (let k = 0; k < ID_PAIRS; k++) planes[k].fill(NO_SURFACE)

      // 1. A few samples everywhere, with a border of one pixel so that tiles agree about their seams.
      const wide = { x: tile.x - 1, y: tile.y - 1, width: tile.width + 2, height: tile.height + 2 }
      const scoutSamples = Math.min(effort.samples, Math.max(1, effort.rays))
      const scout = tracePrimaryHits(kernel, camera, frame, wide, scoutSamples)
      /** The one surface of a scouted pixel, or −1 where there are several. */
      const uniform = new Int32Array(wide.width * wide.height)
      for (let p = 0; p < uniform.length; p++) {
        const first = surfaceAt(scout.triangles[p * scoutSamples])
        uniform[p] = first
        for (let s = 1; s < scoutSamples; s++) {
          if (surfaceAt(scout.triangles[p * scoutSamples + s]) !== first) {
            uniform[p] = -1
            break
          }
        }
      }

      // 2. All samples where surfaces meet.
      for (let row = 0; row < tile.height; row++) {
        if (cancelled()) return planes
        for (let column = 0; column < tile.width; column++) {
          const p = row * tile.width + column
          const w = (row + 1) * wide.width + column + 1
          const only = uniform[w]
          let plain = only >= 0
          for (let dy = -1; dy <= 1 && plain; dy++) {
            for (let dx = -1; dx <= 1; dx++) if (uniform[w + dy * wide.width + dx] !== only) plain = false
          }
          if (plain) {
            if (only === NO_SURFACE) continue
            planes[0][p] = only
            planes[ID_PAIRS][p] = 1
            planes[2 * ID_PAIRS][p] = 1
            continue
          }
          const one = { x: tile.x + column, y: tile.y + row, width: 1, height: 1 }
          const hits = tracePrimaryHits(kernel, camera, frame, one, effort.samples)
          counts.clear()
          let covered = 0
          for (const triangle of hits.triangles) {
            const surface = surfaceAt(triangle)
            if (surface === NO_SURFACE) continue
            covered++
            counts.set(surface, (counts.get(surface) ?? 0) + 1)
          }
          const ranked = [...counts].sort((a, b) => b[1] - a[1] || a[0] - b[0])
          const kept = ranked.slice(0, ID_PAIRS)
          const rest = ranked.slice(ID_PAIRS).reduce((sum, [, n]) => sum + n, 0)
          kept.forEach(([surface, n], k) => {
            planes[k][p] = surface
            planes[ID_PAIRS + k][p] = (k === 0 ? n + rest : n) / effort.samples
          })
          planes[2 * ID_PAIRS][p] = covered / effort.samples
        }
      }
      return planes
    }
  },

  look({ count, planes, surfaces }, params, out) {
    const keys = [...new Set(surfaces.map((s) => (params.by === 'part' ? s.part : s.material)))]
    const colours = surfaces.map((s) =>
      params.colours === 'model'
        ? s.baseColour
        : distinctColour(keys.indexOf(params.by === 'part' ? s.part : s.material) + params.shift),
    )
    const hard = params.edges === 'hard'
    const pairs = hard ? 1 : ID_PAIRS
    for (let i = 0; i < count; i++) {
      let r = 0
      let g = 0
      let b = 0
      let total = 0
      for (let k = 0; k < pairs; k++) {
        const weight = planes[ID_PAIRS + k][i]
        const colour = colours[planes[k][i]]
        if (weight === 0 || !colour) continue
        r += colour[0] * weight
        g += colour[1] * weight
        b += colour[2] * weight
        total += weight
      }
      const alpha = planes[2 * ID_PAIRS][i]
      out[4 * i] = total > 0 ? r / total : 0
      out[4 * i + 1] = total > 0 ? g / total : 0
      out[4 * i + 2] = total > 0 ? b / total : 0
      out[4 * i + 3] = hard ? (alpha >= 0.5 ? 1 : 0) : alpha
    }
  },
})
