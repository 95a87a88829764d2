import { hashPair } from '../math/sampling'
import type { CameraBasis, Frame } from '../scene/camera'
import { projectPoint } from '../scene/camera'
import { FACT_NUMBERS, ID_NUMBERS, PLACE_NUMBERS, type SegmentList } from './segment-list'

/** Lines farther outside the picture than this share of its height are not followed. */
const MARGIN = 0.05
/** Those that run out of it are cut this many of its heights beyond its border: close to the eye a short line is endless in the picture. */
const BEYOND = 1
/** Where more than two lines meet, one goes on into another only if it turns by less than this. */
const GOES_ON = Math.cos((50 * Math.PI) / 180)
/** Two that meet alone are one line unless it all but turns back. */
const TURNS_BACK = Math.cos((160 * Math.PI) / 180)

/**
 * Segments joined into long lines. Points of chain c: starts[c] … starts[c + 1] − 1; a closed chain's last point is its
 * first again.
 */
export interface Chains {
  readonly count: number
  /** Uint32Array, C + 1. */
  readonly starts: Uint32Array
  /** Uint8Array, C: {@link import('./line-kinds').LINE_KINDS}. */
  readonly kinds: Uint8Array
  /** Uint32Array, C. */
  readonly parts: Uint32Array
  readonly otherParts: Uint32Array
  /** Float32Array, 3·P, world. */
  readonly places: Float32Array
  /** Float64Array, 2·P: pixels from the top left. */
  readonly pixels: Float64Array
  /** Float64Array, P: distance along the view axis. */
  readonly depths: Float64Array
  /** Float32Array, 3·P: unit normals of the surface. */
  readonly normals: Float32Array
  /** Float32Array, P. @see SegmentList */
  readonly lifts: Float32Array
  readonly strengths: Float32Array
  readonly reaches: Float32Array
  /** Uint32Array, P: of the segment that begins there. */
  readonly patches: Uint32Array
}

/** Joins segments at their nodes: with what goes on straightest, of the same kind and parts. */
export function chainSegments(list: SegmentList, camera: CameraBasis, frame: Frame, nearest: number): Chains {
  const { places, facts, ids } = list

  // 1. Project; what is behind the eye or far outside is left out, and the second of two in the same place.
  const kept: number[] = []
  const ends = new Float64Array(6 * list.count)
  /** World shares of a segment between which it is before the eye. */
  const shares = new Float32Array(2 * list.count)
  const seen = new PairTable(list.count)
  const at = new Float64Array(3)
  const margin = MARGIN * frame.height
  const beyond = BEYOND * frame.height
  for (let s = 0; s < list.count; s++) {
    const i = PLACE_NUMBERS * s
    const project = (share: number, end: number) => {
      projectPoint(
        camera,
        frame,
        places[i] + (places[i + 3] - places[i]) * share,
        places[i + 1] + (places[i + 4] - places[i + 1]) * share,
        places[i + 2] + (places[i + 5] - places[i + 2]) * share,
        at,
      )
      ends.set(at, 6 * s + 3 * end)
    }
    project(0, 0)
    project(1, 1)
    shares[2 * s + 1] = 1
    if (!camera.parallel) {
      const z0 = ends[6 * s + 2]
      const z1 = ends[6 * s + 5]
      if (z0 < nearest && z1 < nearest) continue
      if (z0 < nearest || z1 < nearest) {
        const cut = (nearest - z0) / (z1 - z0)
        const end = z0 < nearest ? 0 : 1
        shares[2 * s + end] = cut
        project(cut, end)
      }
    }
    for (let axis = 0; axis < 2; axis++) {
      const most = (axis === 0 ? frame.width : frame.height) + beyond
      const here = ends[6 * s + axis]
      const there = ends[6 * s + 3 + axis]
      if (here >= -beyond && there >= -beyond && here <= most && there <= most) continue
      for (const border of [-beyond, most]) {
        const side = border < 0 ? 1 : -1
        // How far within an end is, times its depth: even along the line, where places in the picture are not.
        const within = (end: number): number =>
          side * (ends[6 * s + 3 * end + axis] - border) * (camera.parallel ? 1 : ends[6 * s + 3 * end + 2])
        const [a, b] = [within(0), within(1)]
        if (a < 0 === b < 0) continue
        const end = a < 0 ? 0 : 1
        const cut = shares[2 * s] + ((shares[2 * s + 1] - shares[2 * s]) * a) / (a - b)
        shares[2 * s + end] = cut
        project(cut, end)
      }
    }
    if (Math.max(ends[6 * s], ends[6 * s + 3]) < -margin) continue
    if (Math.min(ends[6 * s], ends[6 * s + 3]) > frame.width + margin) continue
    if (Math.max(ends[6 * s + 1], ends[6 * s + 4]) < -margin) continue
    if (Math.min(ends[6 * s + 1], ends[6 * s + 4]) > frame.height + margin) continue
    const a = ids[ID_NUMBERS * s]
    const b = ids[ID_NUMBERS * s + 1]
    const before = seen.find(Math.min(a, b), Math.max(a, b), kept.length)
    if (before < kept.length) {
      if (ids[ID_NUMBERS * kept[before] + 2] > ids[ID_NUMBERS * s + 2]) kept[before] = s
      continue
    }
    kept.push(s)
  }

  // 2. Ends by node.
  const count = kept.length
  const endNodes = new Uint32Array(2 * count)
  let nodes = 0
  kept.forEach((s, k) => {
    for (let end = 0; end < 2; end++) {
      // A cut end is nobody's neighbour.
      const isCut = shares[2 * s + end] !== end
      const node = isCut ? 0xffffffff : ids[ID_NUMBERS * s + end]
      endNodes[2 * k + end] = node
      if (!isCut && node + 1 > nodes) nodes = node + 1
    }
  })
  const nodeStarts = new Uint32Array(nodes + 1)
  for (const node of endNodes) if (node !== 0xffffffff) nodeStarts[node + 1]++
  for (let n = 0; n < nodes; n++) nodeStarts[n + 1] += nodeStarts[n]
  const byNode = new Uint32Array(nodeStarts[nodes])
  const fill = nodeStarts.slice()
  endNodes.forEach((node, end) => {
    if (node !== 0xffffffff) byNode[fill[node]++] = end
  })

  // 3. Links.
  const links = new Int32Array(2 * count).fill(-1)
  const dx = (end: number): number => directionOf(ends, kept, end, 0)
  const dy = (end: number): number => directionOf(ends, kept, end, 1)
  const isAlike = (a: number, b: number): boolean => {
    const i = ID_NUMBERS * kept[a >> 1]
    const j = ID_NUMBERS * kept[b >> 1]
    return ids[i + 2] === ids[j + 2] && ids[i + 3] === ids[j + 3] && ids[i + 4] === ids[j + 4]
  }
  const pairs: { a: number; b: number; straight: number }[] = []
  for (let n = 0; n < nodes; n++) {
    const first = nodeStarts[n]
    const last = nodeStarts[n + 1]
    if (last - first < 2) continue
    if (last - first === 2) {
      // As nearly all are.
      const a = byNode[first]
      const b = byNode[first + 1]
      if (a >> 1 === b >> 1 || !isAlike(a, b)) continue
      if (-(dx(a) * dx(b) + dy(a) * dy(b)) < TURNS_BACK) continue
      links[a] = b
      links[b] = a
      continue
    }
    pairs.length = 0
    for (let i = first; i < last; i++) {
      for (let j = i + 1; j < last; j++) {
        const a = byNode[i]
        const b = byNode[j]
        if (a >> 1 === b >> 1 || !isAlike(a, b)) continue
        pairs.push({ a, b, straight: -(dx(a) * dx(b) + dy(a) * dy(b)) })
      }
    }
    const least = pairs.length === 1 ? TURNS_BACK : GOES_ON
    pairs.sort((p, q) => q.straight - p.straight || p.a - q.a || p.b - q.b)
    for (const { a, b, straight } of pairs) {
      if (straight < least || links[a] >= 0 || links[b] >= 0) continue
      links[a] = b
      links[b] = a
    }
  }

  // 4. Walk: open chains from their ends, then what goes round.
  const starts = [0]
  const order: number[] = []
  const used = new Uint8Array(count)
  const closed: boolean[] = []
  const walk = (from: number, isClosed: boolean) => {
    for (let end = from; ;) {
      used[end >> 1] = 1
      order.push(end)
      const next = links[end ^ 1]
      if (next < 0 || used[next >> 1]) break
      end = next
    }
    starts.push(order.length)
    closed.push(isClosed)
  }
  for (let end = 0; end < 2 * count; end++) if (links[end] < 0 && !used[end >> 1]) walk(end, false)
  for (let end = 0; end < 2 * count; end += 2) if (!used[end >> 1]) walk(end, true)

  // 5. Points.
  const chainCount = closed.length
  const pointCount = order.length + chainCount
  const chains = {
    count: chainCount,
    starts: new Uint32Array(chainCount + 1),
    kinds: new Uint8Array(chainCount),
    parts: new Uint32Array(chainCount),
    otherParts: new Uint32Array(chainCount),
    places: new Float32Array(3 * pointCount),
    pixels: new Float64Array(2 * pointCount),
    depths: new Float64Array(pointCount),
    normals: new Float32Array(3 * pointCount),
    lifts: new Float32Array(pointCount),
    strengths: new Float32Array(pointCount),
    reaches: new Float32Array(pointCount),
    patches: new Uint32Array(pointCount),
  }
  let p = 0
  for (let c = 0; c < chainCount; c++) {
    chains.starts[c] = p
    const head = kept[order[starts[c]] >> 1]
    chains.kinds[c] = ids[ID_NUMBERS * head + 2]
    chains.parts[c] = ids[ID_NUMBERS * head + 3]
    chains.otherParts[c] = ids[ID_NUMBERS * head + 4]
    for (let k = starts[c]; k <= starts[c + 1]; k++) {
      const isLast = k === starts[c + 1]
      const end = isLast ? order[k - 1] ^ 1 : order[k]
      const s = kept[end >> 1]
      const side = end & 1
      const share = shares[2 * s + side]
      for (let axis = 0; axis < 3; axis++) {
        const from = places[PLACE_NUMBERS * s + axis]
        chains.places[3 * p + axis] = from + (places[PLACE_NUMBERS * s + 3 + axis] - from) * share
      }
      chains.pixels[2 * p] = ends[6 * s + 3 * side]
      chains.pixels[2 * p + 1] = ends[6 * s + 3 * side + 1]
      chains.depths[p] = ends[6 * s + 3 * side + 2]
      // Facts lie in the middles of segments: a point has the mean of its two.
      const before =
        k > starts[c] ? kept[order[k - 1] >> 1] : closed[c] ? kept[order[starts[c + 1] - 1] >> 1] : s
      const after = isLast ? (closed[c] ? head : before) : s
      meanFacts(facts, before, after, chains, p)
      chains.patches[p] = ids[ID_NUMBERS * after + 5]
      p++
    }
  }
  chains.starts[chainCount] = p
  return chains
}

/** Numbers pairs of numbers in the order in which they are first asked for. */
class PairTable {
  private readonly places: Int32Array
  private readonly pairs: Uint32Array

  /** @param most pairs that there may be. */
  constructor(most: number) {
    this.places = new Int32Array(2 ** Math.ceil(Math.log2(2 * most + 2))).fill(-1)
    this.pairs = new Uint32Array(2 * most)
  }

  /** The number of a pair; `next` for one that is new. */
  find(a: number, b: number, next: number): number {
    const { places, pairs } = this
    for (let at = hashPair(a, b); ; at++) {
      at &= places.length - 1
      const found = places[at]
      if (found < 0) {
        places[at] = next
        pairs[2 * next] = a
        pairs[2 * next + 1] = b
        return next
      }
      if (pairs[2 * found] === a && pairs[2 * found + 1] === b) return found
    }
  }
}

/** Unit direction in the picture from an end of a segment to its other end; 0 where they fall together. */
function directionOf(ends: Float64Array, kept: readonly number[], end: number, axis: 0 | 1): number {
  const here = 6 * kept[end >> 1] + 3 * (end & 1)
  const there = 6 * kept[end >> 1] + 3 * ((end & 1) ^ 1)
  const x = ends[there] - ends[here]
  const y = ends[there + 1] - ends[here + 1]
  const length = Math.sqrt(x * x + y * y)
  return length < 1e-6 ? 0 : (axis === 0 ? x : y) / length
}

function meanFacts(
  facts: Float32Array,
  before: number,
  after: number,
  to: Pick<Chains, 'normals' | 'lifts' | 'strengths' | 'reaches'>,
  p: number,
): void {
  const i = FACT_NUMBERS * before
  const j = FACT_NUMBERS * after
  const x = facts[i] + facts[j]
  const y = facts[i + 1] + facts[j + 1]
  const z = facts[i + 2] + facts[j + 2]
  const length = Math.sqrt(x * x + y * y + z * z)
  const inverse = length > 1e-6 ? 1 / length : 0
  to.normals[3 * p] = inverse > 0 ? x * inverse : facts[j]
  to.normals[3 * p + 1] = inverse > 0 ? y * inverse : facts[j + 1]
  to.normals[3 * p + 2] = inverse > 0 ? z * inverse : facts[j + 2]
  to.lifts[p] = Math.max(facts[i + 3], facts[j + 3])
  to.strengths[p] = (facts[i + 4] + facts[j + 4]) / 2
  to.reaches[p] = Math.max(facts[i + 5], facts[j + 5])
}
