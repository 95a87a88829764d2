/**
 * Which of several things lie before which, as a picture sees them: an order from the front to the back in which each may be
 * laid beneath those before it.
 */
export interface FrontOrder {
  /** Their numbers, the frontmost first. */
  readonly order: readonly number[]
  /** Things that hide each other in a ring, so that no order shows them right; each ring from the front. */
  readonly cycles: readonly (readonly number[])[]
  /** Of each, what lies behind it in the order and hides it somewhere nevertheless: that must be cut out of it. */
  readonly cuts: readonly (readonly number[])[]
}

/** Depths of one thing in a rectangle of the picture. */
export interface DepthPlane {
  readonly x: number
  readonly y: number
  readonly width: number
  readonly height: number
  /** One a pixel; what is not there is not finite. */
  readonly depths: ArrayLike<number> & Iterable<number>
}

/** Counts, pixel by pixel, what hides what. */
export class FrontCounts {
  /** Float64Array, count × count: pixels in which the row lies before the column. */
  readonly before: Float64Array
  /** Sums of the depths of each, and of the pixels that show it. */
  private readonly depths: Float64Array
  private readonly pixels: Float64Array

  /**
   * @param count of the things.
   * @param closest two that are no farther apart than this share of their depth lie in one place.
   */
  constructor(
    readonly count: number,
    private readonly closest = 1e-5,
  ) {
    this.before = new Float64Array(count * count)
    this.depths = new Float64Array(count)
    this.pixels = new Float64Array(count)
  }

  /** @param planes depth of each thing alone, where it may be; null where it is nowhere. */
  add(planes: readonly (DepthPlane | null)[]): void {
    const { count, depths, pixels } = this
    for (let k = 0; k < count; k++) {
      for (const depth of planes[k]?.depths ?? []) {
        if (!Number.isFinite(depth)) continue
        depths[k] += depth
        pixels[k]++
      }
    }
    for (let a = 1; a < count; a++)
      for (let b = 0; b < a; b++) {
        const [one, other] = [planes[a], planes[b]]
        if (one && other) this.addPair(a, one, b, other)
      }
  }

  private addPair(a: number, one: DepthPlane, b: number, other: DepthPlane): void {
    const { count, before, closest } = this
    const [left, top] = [Math.max(one.x, other.x), Math.max(one.y, other.y)]
    const right = Math.min(one.x + one.width, other.x + other.width)
    const bottom = Math.min(one.y + one.height, other.y + other.height)
    let [nearer, farther] = [0, 0]
    for (let y = top; y < bottom; y++) {
      const first = (y - one.y) * one.width - one.x
      const second = (y - other.y) * other.width - other.x
      for (let x = left; x < right; x++) {
        const [mine, its] = [one.depths[first + x], other.depths[second + x]]
        const gap = its - mine
        // Where one is not there at all the gap is not finite, or no number.
        if (!(Math.abs(gap) < Infinity) || Math.abs(gap) <= closest * Math.abs(mine)) continue
        if (gap > 0) nearer++
        else farther++
      }
    }
    before[a * count + b] += nearer
    before[b * count + a] += farther
  }

  /** Mean depth of each; Infinity for what is nowhere seen. */
  get meanDepths(): number[] {
    return Array.from(this.depths, (sum, k) => (this.pixels[k] > 0 ? sum / this.pixels[k] : Infinity))
  }
}

/**
 * Brings things into an order. Where they hide each other in a ring, what decides is in how many pixels: pairs are taken up from
 * the plainest on, those that contradict what was taken up before are not (ranked pairs, Tideman 1987, "Independence of clones as
 * a criterion for voting rules"). Things that do not hide each other go by their mean depth.
 */
export function frontOrder(counts: FrontCounts): FrontOrder {
  const { count, before, meanDepths } = counts

  // 1. Pairs that agree, the plainest first.
  const pairs: { readonly front: number; readonly back: number; readonly by: number }[] = []
  for (let a = 0; a < count; a++)
    for (let b = 0; b < count; b++) {
      const by = before[a * count + b] - before[b * count + a]
      if (by > 0 || (by === 0 && a < b && before[a * count + b] > 0)) pairs.push({ front: a, back: b, by })
    }
  pairs.sort((p, q) => q.by - p.by || p.front - q.front || p.back - q.back)
  const lies = new Reached(count)
  const blockers = Array.from({ length: count }, () => new Set<number>())
  for (const { front, back } of pairs) {
    if (lies.has(back, front)) continue
    if (!lies.has(front, back)) lies.add(front, back)
    blockers[back].add(front)
  }

  // 2. The nearest of those that nothing else lies before.
  const waiting = new Set(Array.from({ length: count }, (_, k) => k))
  const order: number[] = []
  while (waiting.size > 0) {
    let next = -1
    for (const k of waiting)
      if (blockers[k].size === 0 && (next < 0 || meanDepths[k] < meanDepths[next])) next = k
    waiting.delete(next)
    order.push(next)
    for (const k of waiting) blockers[k].delete(next)
  }

  // 3. What is on the wrong side, and the rings that it is so for.
  const place = new Array<number>(count)
  order.forEach((k, i) => (place[k] = i))
  const cuts = Array.from({ length: count }, (_, a) =>
    order.filter((b) => place[b] > place[a] && before[b * count + a] > 0),
  )
  const cycles = ringsOf(count, before)
    .filter((ring) => ring.length > 1)
    .map((ring) => ring.sort((a, b) => place[a] - place[b]))
    .sort((a, b) => place[a[0]] - place[b[0]])
  return { order, cycles, cuts }
}

/** Which things lie before which, over others in between: a bit a pair. */
class Reached {
  private readonly words: number
  private readonly bits: Uint32Array

  constructor(private readonly count: number) {
    this.words = (count + 31) >>> 5
    this.bits = new Uint32Array(this.words * count)
  }

  has(front: number, back: number): boolean {
    return ((this.bits[front * this.words + (back >>> 5)] >>> (back & 31)) & 1) === 1
  }

  /** From now on one lies before another, and so do all that lie before the one before all that lie behind the other. */
  add(front: number, back: number): void {
    const { words, bits, count } = this
    const behind = bits.slice(back * words, (back + 1) * words)
    behind[back >>> 5] |= 1 << (back & 31)
    for (let k = 0; k < count; k++) {
      if (k !== front && !this.has(k, front)) continue
      for (let w = 0; w < words; w++) bits[k * words + w] |= behind[w]
    }
  }
}

/** Strongly connected components (Tarjan 1972), without calls that nest as deep as the scene is large. */
function ringsOf(count: number, before: Float64Array): number[][] {
  const found = new Int32Array(count).fill(-1)
  const low = new Int32Array(count)
  const isOpen = new Uint8Array(count)
  const open: number[] = []
  const rings: number[][] = []
  let number = 0
  for (let start = 0; start < count; start++) {
    if (found[start] >= 0) continue
    const path: { readonly node: number; next: number }[] = []
    const enter = (node: number) => {
      found[node] = low[node] = number++
      isOpen[node] = 1
      open.push(node)
      path.push({ node, next: 0 })
    }
    enter(start)
    for (let step = path.at(-1); step; step = path.at(-1)) {
      const { node } = step
      if (step.next < count) {
        const to = step.next++
        if (before[node * count + to] === 0) continue
        if (found[to] < 0) enter(to)
        else if (isOpen[to]) low[node] = Math.min(low[node], found[to])
        continue
      }
      path.pop()
      const parent = path.at(-1)
      if (parent) low[parent.node] = Math.min(low[parent.node], low[node])
      if (low[node] !== found[node]) continue
      const ring: number[] = []
      for (let k = -1; k !== node;) {
        k = open.pop() ?? node
        isOpen[k] = 0
        ring.push(k)
      }
      rings.push(ring)
    }
  }
  return rings
}
