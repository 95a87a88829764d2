import { GrowingFloats } from '../geometry/growing-array'
import { CellLists } from './cell-lists'

/**
 * What noise does to lines that are found as zeros of a field: a limb comes apart into pieces that lie end to end, with
 * scraps beside it. Both are mended in the picture, where they are seen.
 */

/** A line in the picture while it is put together. */
export interface LoosePolyline {
  /** Lines with different keys have nothing to do with each other. */
  readonly key: number
  /** 2·n, shares of the picture's height. */
  readonly xy: Float64Array
  /** Whatever belongs to each point, n; kept beside it. */
  readonly tags: Float64Array
  readonly closed: boolean
  /** Kept as it is found: only joined to, never taken for a scrap. */
  readonly isSure: boolean
}

/** Ends this near each other, in shares of the picture's height, are one line that goes on. */
const GAP = 0.012
/** … if neither turns by more than this there. */
const GOES_ON = Math.cos((50 * Math.PI) / 180)
/** … and, across a real gap, points at the other: cosine. */
const AIMS = 0.8
/** A line is a scrap where all of it lies this near to a longer one … */
const BESIDE = 0.0025
/** … and it is shorter than this. */
const SCRAP = 0.03

export function tidyLines(lines: readonly LoosePolyline[]): LoosePolyline[] {
  return joinEnds(withoutScraps(lines))
}

/** Shares of the picture's height. */
export const lengthOf = ({ xy }: LoosePolyline): number => {
  let length = 0
  for (let i = 2; i < xy.length; i += 2) length += Math.hypot(xy[i] - xy[i - 2], xy[i + 1] - xy[i - 1])
  return length
}

/** Leaves out short lines that run beside longer ones of the same key. */
function withoutScraps(lines: readonly LoosePolyline[]): LoosePolyline[] {
  const lengths = lines.map(lengthOf)
  const maybe = lines.map(({ isSure }, i) => !isSure && lengths[i] < SCRAP)
  // Lines of a key that has no short ones need not be looked at.
  const keys = new Set(lines.filter((_, i) => maybe[i]).map(({ key }) => key))
  const order = lines.map((_, i) => i).filter((i) => keys.has(lines[i].key))
  order.sort((a, b) => lengths[b] - lengths[a] || a - b)
  /** Points of kept lines; cells are as wide as what counts as beside. */
  const cells = new CellLists()
  const points = new GrowingFloats()
  const isNear = (key: number, x: number, y: number): boolean => {
    const [cx, cy] = [Math.floor(x / BESIDE), Math.floor(y / BESIDE)]
    for (let dy = -1; dy <= 1; dy++) {
      for (let dx = -1; dx <= 1; dx++) {
        for (let p = cells.last(key, cx + dx, cy + dy); p >= 0; p = cells.previous(p)) {
          const [ax, ay] = [points.at(2 * p) - x, points.at(2 * p + 1) - y]
          if (ax * ax + ay * ay < BESIDE * BESIDE) return true
        }
      }
    }
    return false
  }
  const dropped = new Uint8Array(lines.length)
  for (const i of order) {
    const { key } = lines[i]
    const along = spread(lines[i].xy, BESIDE / 2)
    let isScrap = maybe[i]
    for (let p = 0; p < along.length && isScrap; p += 2) isScrap = isNear(key, along[p], along[p + 1])
    if (isScrap) {
      dropped[i] = 1
      continue
    }
    for (let p = 0; p < along.length; p += 2) {
      cells.add(key, Math.floor(along[p] / BESIDE), Math.floor(along[p + 1] / BESIDE))
      points.push2(along[p], along[p + 1])
    }
  }
  return lines.filter((_, i) => !dropped[i])
}

/** Points along a polyline no farther apart than a step. */
function spread(xy: Float64Array, step: number): number[] {
  const out = [xy[0], xy[1]]
  for (let i = 2; i < xy.length; i += 2) {
    const [dx, dy] = [xy[i] - xy[i - 2], xy[i + 1] - xy[i - 1]]
    const pieces = Math.max(1, Math.ceil(Math.hypot(dx, dy) / step))
    for (let k = 1; k <= pieces; k++) out.push(xy[i - 2] + (dx * k) / pieces, xy[i - 1] + (dy * k) / pieces)
  }
  return out
}

/** Joins open lines of the same key whose ends lie near each other and go the same way, the nearest first. */
function joinEnds(lines: readonly LoosePolyline[]): LoosePolyline[] {
  // 1. Ends, and pairs of them that fit.
  const open = lines.flatMap(({ closed }, i) => (closed ? [] : [2 * i, 2 * i + 1]))
  /** Per end: where it is, and the direction in which its line would go on; worked out when first asked for. */
  const places = new Float64Array(4 * lines.length)
  const ways = new Float64Array(4 * lines.length).fill(NaN)
  const wayOf = (end: number) => {
    if (Number.isNaN(ways[2 * end])) ways.set(outward(lines[end >> 1].xy, end & 1), 2 * end)
    return 2 * end
  }
  const cells = new CellLists()
  for (const end of open) {
    const { xy, key } = lines[end >> 1]
    const at = end & 1 ? xy.length - 2 : 0
    places[2 * end] = xy[at]
    places[2 * end + 1] = xy[at + 1]
    cells.add(key, Math.floor(xy[at] / GAP), Math.floor(xy[at + 1] / GAP))
  }
  const pairs: { a: number; b: number; cost: number }[] = []
  const look = (a: number, b: number) => {
    const [dx, dy] = [places[2 * b] - places[2 * a], places[2 * b + 1] - places[2 * a + 1]]
    const gap = Math.sqrt(dx * dx + dy * dy)
    if (gap > GAP) return
    const [wa, wb] = [wayOf(a), wayOf(b)]
    if (-(ways[wa] * ways[wb] + ways[wa + 1] * ways[wb + 1]) < GOES_ON) return
    // Not back over itself: across a real gap both ends point at each other.
    if (gap > GAP / 8 && (dx * ways[wa] + dy * ways[wa + 1]) / gap < AIMS) return
    pairs.push({ a, b, cost: gap })
  }
  for (const a of open) {
    const { key } = lines[a >> 1]
    const [cx, cy] = [Math.floor(places[2 * a] / GAP), Math.floor(places[2 * a + 1] / GAP)]
    for (let dy = -1; dy <= 1; dy++)
      for (let dx = -1; dx <= 1; dx++)
        for (let item = cells.last(key, cx + dx, cy + dy); item >= 0; item = cells.previous(item))
          if (open[item] > a) look(a, open[item])
  }
  pairs.sort((p, q) => p.cost - q.cost || p.a - q.a || p.b - q.b)
  const links = new Int32Array(2 * lines.length).fill(-1)
  for (const { a, b } of pairs) {
    if (links[a] >= 0 || links[b] >= 0 || (a ^ 1) === b) continue
    links[a] = b
    links[b] = a
  }

  // 2. Walk.
  const used = new Uint8Array(lines.length)
  const out: LoosePolyline[] = []
  const walk = (start: number, isRound: boolean) => {
    const xy: number[] = []
    const tags: number[] = []
    for (let end = start; ;) {
      const line = lines[end >> 1]
      used[end >> 1] = 1
      const count = line.tags.length
      for (let k = 0; k < count; k++) {
        const i = end & 1 ? count - 1 - k : k
        xy.push(line.xy[2 * i], line.xy[2 * i + 1])
        tags.push(line.tags[i])
      }
      const next = links[end ^ 1]
      if (next < 0 || used[next >> 1]) break
      end = next
    }
    if (isRound) {
      xy.push(xy[0], xy[1])
      tags.push(tags[0])
    }
    const { key, closed, isSure } = lines[start >> 1]
    out.push({
      key,
      xy: Float64Array.from(xy),
      tags: Float64Array.from(tags),
      closed: closed || isRound,
      isSure,
    })
  }
  for (let end = 0; end < links.length; end++) if (links[end] < 0 && !used[end >> 1]) walk(end, false)
  for (let end = 0; end < links.length; end += 2) if (!used[end >> 1]) walk(end, true)
  return out
}

/** Unit direction in which a line would go on at an end, over its last few thousandths. */
function outward(xy: Float64Array, end: number): [number, number] {
  const count = xy.length / 2
  const at = end ? count - 1 : 0
  const step = end ? -1 : 1
  let i = at + step
  while (
    i + step >= 0 &&
    i + step < count &&
    Math.hypot(xy[2 * i] - xy[2 * at], xy[2 * i + 1] - xy[2 * at + 1]) < GAP / 2
  )
    i += step
  const dx = xy[2 * at] - xy[2 * i]
  const dy = xy[2 * at + 1] - xy[2 * i + 1]
  const length = Math.hypot(dx, dy) || 1
  return [dx / length, dy / length]
}
