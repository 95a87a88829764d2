import { z } from 'zod'
import { InvalidValueError } from '../errors'
import { choiceParam, numberParam } from '../params'
import type { SceneGeometry } from '../scene/scene-geometry'
import type { Surface } from './pass-kind'
import { EMPTY_SLOT } from '../trace/ray-tree'
import { idleWhere } from './idle-params'
import { distinctPalette, spreadColours } from './distinct-colours'
import { definePass, type TileContext } from './pass-kind'
import { type Tile } from './tile'
import { traceSlots, type PrimaryHits, type PrimarySetting } from './primary-hits'

/** Surfaces kept per pixel; what is covered by still more goes to the largest. */
export const ID_PAIRS = 6
/** Stored where a pair is empty. */
export const NO_SURFACE = 0xffff

/**
 * The pairs of part and material that occur in a scene, in a stable order, and each slot's number in that list.
 */
export function sceneSurfaces(scene: SceneGeometry): { surfaces: Surface[]; ofSlot: Uint16Array } {
  const index = new Map<number, number>()
  const found: { part: number; material: number }[] = []
  const { ids, tags, slotCount } = scene.tree
  const keyOf = (slot: number) =>
    (tags[slot] & 0xffffff) * scene.materials.length + scene.triangleMaterials[ids[slot]]
  for (let slot = 0; slot < slotCount; slot++) {
    if (ids[slot] === EMPTY_SLOT) continue
    const key = keyOf(slot)
    if (!index.has(key))
      index.set(
        key,
        found.push({ part: tags[slot] & 0xffffff, material: scene.triangleMaterials[ids[slot]] }) - 1,
      )
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
  const ofSlot = new Uint16Array(slotCount)
  for (let slot = 0; slot < slotCount; slot++)
    if (ids[slot] !== EMPTY_SLOT) ofSlot[slot] = place[index.get(keyOf(slot)) ?? 0]
  const surfaces = order.map((i): Surface => {
    const part = scene.parts[found[i].part]
    const material = scene.materials[found[i].material]
    return {
      part: part.key,
      material: material.key,
      partName: part.name,
      materialName: material.name,
      groups: part.group ?? [],
      ...(part.role !== 'subject' && { role: part.role }),
      opacity: material.opacity ?? 1,
      baseColour: material.baseColour,
    }
  })
  return { surfaces, ofSlot }
}

/**
 * Slots that a tile and a border of one pixel round it see.
 * @param wide the tile with its border.
 * @param inside what the tile itself sees, where that is known.
 */
function scoutedSlots(
  setting: Omit<PrimarySetting, 'adaptive'>,
  wide: Tile,
  inside: PrimaryHits | null,
): Int32Array {
  const { samples } = setting
  const out = new Int32Array(wide.width * wide.height * samples)
  const asked: number[] = []
  for (let p = 0; p < wide.width * wide.height; p++) {
    const [column, row] = [p % wide.width, Math.floor(p / wide.width)]
    const isBorder = column === 0 || row === 0 || column === wide.width - 1 || row === wide.height - 1
    if (isBorder || !inside) asked.push(p)
    else {
      const from = ((row - 1) * (wide.width - 2) + column - 1) * samples
      for (let s = 0; s < samples; s++) out[p * samples + s] = inside.slots[from + s]
    }
  }
  const xs = asked.map((p) => wide.x + (p % wide.width))
  const ys = asked.map((p) => wide.y + Math.floor(p / wide.width))
  const found = traceSlots(setting, xs, ys)
  asked.forEach((p, k) => {
    for (let s = 0; s < samples; s++) out[p * samples + s] = found[k * samples + s]
  })
  return out
}

/** Writes a pixel that is filled by one surface, or by none. */
function writeOnly(planes: readonly Float32Array[], p: number, surface: number): void {
  if (surface === NO_SURFACE) return
  planes[0][p] = surface
  planes[ID_PAIRS][p] = 1
  planes[2 * ID_PAIRS][p] = 1
}

/** What the samples of a pixel see, and how often two surfaces met in one. */
class Tally {
  private readonly counts = new Map<number, number>()
  private samples = 0
  /** By first · 65536 + second. */
  private readonly meetings = new Map<number, number>()

  /** @param surface the number of what a sample sees. */
  see(surface: number): void {
    this.samples++
    if (surface !== NO_SURFACE) this.counts.set(surface, (this.counts.get(surface) ?? 0) + 1)
  }

  /** Writes the surfaces of a pixel and their shares, the largest first, and begins the next pixel. */
  write(planes: readonly Float32Array[], p: number): void {
    const { counts, samples, meetings } = this
    const ranked = [...counts].sort((a, b) => b[1] - a[1] || a[0] - b[0])
    const kept = ranked.slice(0, ID_PAIRS)
    const rest = ranked.slice(ID_PAIRS).reduce((sum, [, n]) => sum + n, 0)
    const covered = ranked.reduce((sum, [, n]) => sum + n, 0)
    kept.forEach(([surface, n], k) => {
      planes[k][p] = surface
      planes[ID_PAIRS + k][p] = (k === 0 ? n + rest : n) / samples
      for (let j = 0; j < k; j++) {
        const key = Math.min(surface, kept[j][0]) * 65536 + Math.max(surface, kept[j][0])
        meetings.set(key, (meetings.get(key) ?? 0) + 1)
      }
    })
    planes[2 * ID_PAIRS][p] = covered / samples
    counts.clear()
    this.samples = 0
  }

  /** Tells which surfaces met in the pixels of a tile, and begins the next tile. */
  tellMeetings(tell: TileContext['tell']): void {
    if (this.meetings.size > 0) tell({ meetings: [...this.meetings].flat() })
    this.meetings.clear()
  }
}

/** Which of a surface's names one colour stands for. */
const OWNERS = ['part', 'material', 'group'] as const
export type IdOwner = (typeof OWNERS)[number]
const ownerKey = (surface: Surface, by: IdOwner): string =>
  by === 'part' ? surface.part : by === 'material' ? surface.material : surface.groups.join(' / ')

/** What the surfaces' colours stand for, numbered in the order of the list. */
function owners(
  surfaces: readonly Surface[],
  by: IdOwner,
): { readonly of: number[]; readonly count: number } {
  const numbers = new Map<string, number>()
  const of = surfaces.map((surface) => {
    const key = ownerKey(surface, by)
    const known = numbers.get(key)
    if (known !== undefined) return known
    numbers.set(key, numbers.size)
    return numbers.size - 1
  })
  return { of, count: numbers.size }
}

/** Pure red, green and blue: three masks in one picture. */
const THREE = [
  [1, 0, 0],
  [0, 1, 0],
  [0, 0, 1],
] as const

/**
 * Which surfaces cover each pixel, and by how much: the source of every mask. Each pixel first takes `rays` samples;
 * where they, or those of a neighbour, see more than one surface it takes `samples`. Without `rays` it takes the samples that
 * other passes with as many share.
 */
export const id = definePass({
  kind: 'id',
  label: 'ID',
  summary: 'One flat colour for each part, material or group, with exact coverage for masks.',
  renderSchema: z.object({}),
  lookSchema: z.object({
    by: choiceParam({
      label: 'One colour per',
      options: { part: 'Part', material: 'Material', group: 'Group' },
      default: 'part',
    }),
    colours: choiceParam({
      label: 'Colours',
      options: { distinct: 'Far apart', model: 'From materials', three: 'Three in one' },
      default: 'distinct',
    }),
    set: numberParam({ label: 'Set of three', min: 1, max: 99, step: 1, default: 1 }),
    edges: choiceParam({ label: 'Edges', options: { smooth: 'Smooth', hard: 'Hard' }, default: 'smooth' }),
    shift: numberParam({ label: 'Shuffle', min: 0, max: 99, step: 1, default: 0 }),
  }),
  channels: [
    ...Array.from({ length: ID_PAIRS }, (_, k) => ({ name: `id${k}`, format: 'uint16' as const })),
    ...Array.from({ length: ID_PAIRS }, (_, k) => ({ name: `w${k}`, format: 'unorm8' as const })),
    { name: 'A', format: 'half' },
  ],
  isData: true,
  efforts: {
    draft: { samples: 16, rays: 4 },
    good: { samples: 32, rays: 8 },
    final: { samples: 64, rays: 16 },
  },
  layer: { mode: 'multiply', opacity: 0.8 },

  idleLook: ({ colours }) =>
    idleWhere(
      [colours !== 'three', ['set'], 'Colours are not three in one'],
      [colours !== 'distinct', ['shift'], 'Colours are not the ones far apart'],
      [colours === 'model', ['by'], 'Colours come from materials'],
    ),

  createRenderer(context) {
    const { scene, camera, frame, effort, seen, shown } = context
    const { ofSlot } = sceneSurfaces(scene)
    const { tags } = scene.tree
    const surfaceAt = (slot: number): number =>
      slot < 0 || shown?.[tags[slot] & 0xffffff] === 0 ? NO_SURFACE : ofSlot[slot]
    const setting = { scene, camera, frame, filter: seen }
    const tally = new Tally()
    return (at) => {
      const { tile, cancelled, tell, traced, memory } = at
      const pixels = tile.width * tile.height
      const planes = Array.from({ length: 2 * ID_PAIRS + 1 }, () => memory.floats(pixels))
      for (let k = 0; k < ID_PAIRS; k++) planes[k].fill(NO_SURFACE)

      // Without samples of its own: what the other passes see.
      if (effort.rays === 0) {
        const { starts, slots } = at.hits
        for (let p = 0; p < pixels; p++) {
          const only = surfaceAt(slots[starts[p]])
          let i = starts[p] + 1
          while (i < starts[p + 1] && surfaceAt(slots[i]) === only) i++
          if (i === starts[p + 1]) writeOnly(planes, p, only)
          else {
            for (i = starts[p]; i < starts[p + 1]; i++) tally.see(surfaceAt(slots[i]))
            tally.write(planes, p)
          }
        }
        tally.tellMeetings(tell)
        return planes
      }

      // 1. A few samples everywhere, with a border of one pixel so that tiles agree about their seams.
      const wide = { x: tile.x - 1, y: tile.y - 1, width: tile.width + 2, height: tile.height + 2 }
      const scouts = Math.min(effort.samples, Math.max(1, effort.rays))
      const slots = scoutedSlots({ ...setting, samples: scouts }, wide, traced(scouts))
      /** The one surface of a scouted pixel, or −1 where there are several. */
      const uniform = new Int32Array(wide.width * wide.height)
      for (let p = 0; p < uniform.length; p++) {
        const first = surfaceAt(slots[p * scouts])
        uniform[p] = first
        for (let s = 1; s < scouts; s++) {
          if (surfaceAt(slots[p * scouts + s]) !== first) {
            uniform[p] = -1
            break
          }
        }
      }

      // 2. All samples where surfaces meet.
      const edges: number[] = []
      for (let p = 0; p < pixels; p++) {
        const column = p % tile.width
        const w = (Math.floor(p / tile.width) + 1) * wide.width + column + 1
        const only = uniform[w]
        let plain = only >= 0
        for (let dy = -1; dy <= 1 && plain; dy++) {
          for (let dx = -1; dx <= 1; dx++) if (uniform[w + dy * wide.width + dx] !== only) plain = false
        }
        if (!plain) edges.push(p)
        else writeOnly(planes, p, only)
      }
      if (cancelled()) return planes
      const all = traceSlots(
        { ...setting, samples: effort.samples },
        edges.map((p) => tile.x + (p % tile.width)),
        edges.map((p) => tile.y + Math.floor(p / tile.width)),
      )
      edges.forEach((p, e) => {
        for (let s = 0; s < effort.samples; s++) tally.see(surfaceAt(all[e * effort.samples + s]))
        tally.write(planes, p)
      })
      tally.tellMeetings(tell)
      return planes
    }
  },

  facts: {
    merge(a, b) {
      const sums = new Map<number, number>()
      for (const list of [a.meetings, b.meetings]) {
        if (!Array.isArray(list)) continue
        for (let i = 0; i < list.length; i += 2) sums.set(list[i], (sums.get(list[i]) ?? 0) + list[i + 1])
      }
      return { meetings: [...sums].flat() }
    },
    finish({ meetings = [] }, surfaces) {
      const list = Array.isArray(meetings) ? (meetings as readonly number[]) : []
      return Object.fromEntries(
        OWNERS.map((by) => {
          const { of, count } = owners(surfaces, by)
          const near = new Map<number, Map<number, number>>()
          const meet = (a: number, b: number, n: number) => {
            const row = near.get(a) ?? new Map<number, number>()
            near.set(a, row.set(b, (row.get(b) ?? 0) + n))
          }
          for (let i = 0; i < list.length; i += 2) {
            const a = of[Math.floor(list[i] / 65536)]
            const b = of[list[i] % 65536]
            if (a === undefined || b === undefined || a === b) continue
            meet(a, b, list[i + 1])
            meet(b, a, list[i + 1])
          }
          return [by, spreadColours(count, near)]
        }),
      )
    },
  },

  look({ count, planes, surfaces, facts }, params, out) {
    const { of, count: many } = owners(surfaces, params.by)
    const order = facts[params.by]
    const palette = distinctPalette(many)
    const colours = surfaces.map((s, i): readonly [number, number, number] => {
      if (params.colours === 'model') return s.baseColour
      if (params.colours === 'three') return THREE[of[i] - 3 * (params.set - 1)] ?? [0, 0, 0]
      const place = (Array.isArray(order) ? (order as readonly number[])[of[i]] : of[i]) ?? of[i]
      return palette[(place + params.shift) % palette.length]
    })
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
