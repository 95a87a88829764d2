// One file: one cache: how answers are kept and how they are found again must agree to the bit.
import { hashPair } from '../math/sampling'
import { BLOCKS_LIGHT } from '../scene/part-role'
import type { SceneGeometry } from '../scene/scene-geometry'
import { BLOCK_POINTS, POINT, POINT_NUMBERS, type PointBlock } from '../trace/point-block'
import type { PointKernel, PointRange } from '../trace/point-kernel'
import { TraceKernel } from '../trace/trace-kernel'
import { leastClearance } from './clearance'
import { inSlices } from './in-slices'

import { NOT_KEPT, type SurfaceLayout } from './surface-layout'

/** Something that points of surfaces are asked, whose answer is the same from wherever they are seen. */
export interface KeptAnswer {
  /** The same for what is asked alike. */
  readonly key: string
  /** Numbers a point. */
  readonly values: number
  /** How many of them tell together that a point is dark. */
  readonly dark: number
  /** Rays a texel. */
  readonly rays: number
}

/** Answers of one sort, shared between threads. */
export interface KeptPlane extends KeptAnswer {
  /** `values` numbers a texel. */
  readonly data: Float32Array
  /** Of each texel: 0 not there yet, {@link TELLS}, or {@link SILENT} where it says nothing of what is seen beside it. */
  readonly isThere: Uint8Array
}

/** What threads share of a scene's surfaces. */
export interface KeptSurface {
  readonly layout: SurfaceLayout
  /** Of each texel: 0 not known yet, 1 open, 2 buried in something else. */
  readonly buried: Uint8Array
  readonly planes: readonly KeptPlane[]
}

const TELLS = 1
const SILENT = 2
/** Rays that tell whether a texel is buried. */
const BURIED_RAYS = 8
/** … and the share of them that meet backs first in one that is. */
const BURIED_SHARE = 0.4
const FAR = 1e30
/** What is no lighter than this lies in a crack: it says nothing of what is seen beside it. */
const DARK = 0.03
/** Texels at a border lie off it by this share of their spacing: what stands on it is then on one side of them. */
const INSET = 0.3
/** Taps that count for less are left out. */
const LEAST = 1e-4

/** Asks points; answers lie in the kernel's `values`. @param most see PointRays. */
export type AskPoints = (range: PointRange, rays: number, most: number) => void

/**
 * Answers about points of surfaces that are kept on these, and looked up from wherever they are seen: texels of a
 * {@link SurfaceLayout}, each worked out when it is first needed, a function of where it lies alone. So it does not matter which
 * picture, which thread and which machine asks first.
 */
export class SurfaceCache {
  private readonly points: PointKernel
  private readonly planes: ReadonlyMap<string, KeptPlane>
  /** Texels and weights of the points of a block, four each; −1 first: traced. */
  private readonly taps = new Int32Array(4 * BLOCK_POINTS)
  private readonly weights = new Float32Array(4 * BLOCK_POINTS)
  /** 1 where a point has the texels of the one before it. */
  private readonly follows = new Uint8Array(BLOCK_POINTS)
  /** Weights of the second and third corner where texels are looked for. */
  private readonly place = new Float64Array(2)
  /** The block whose texels these are, and what it held then. */
  private foundIn: PointBlock | null = null
  private foundAt = -1
  /** Texels that are to be made: which, on which slot and side, and where on it. */
  private readonly wanted = new Wanted()
  /** Marks texels that are among them. */
  private readonly asked: Uint8Array
  private readonly least: number
  private readonly grain: number

  constructor(
    private readonly scene: SceneGeometry,
    private readonly surface: KeptSurface,
  ) {
    this.points = TraceKernel.over(scene.tree).points
    this.planes = new Map(surface.planes.map((plane) => [plane.key, plane]))
    this.asked = new Uint8Array(surface.layout.count)
    this.least = leastClearance(scene)
    this.grain = 1e5 / scene.figureDiagonal
  }

  /** What is kept under a key; null where that is not. */
  plane(key: string): KeptPlane | null {
    return this.planes.get(key) ?? null
  }

  /** Texels that are there, of all planes. */
  get filled(): number {
    const there = (sum: number, one: number) => sum + (one === 0 ? 0 : 1)
    return this.surface.planes.reduce((sum, { isThere }) => sum + isThere.reduce(there, 0), 0)
  }

  /**
   * Writes what is kept about the points of a block to the kernel's `values`; what is not there yet is made first, what has no
   * texels is traced.
   * @param stride numbers a point in `values`.
   * @param rays, most of points that are traced.
   */
  lookUp(
    plane: KeptPlane,
    block: PointBlock,
    stride: number,
    { rays, most }: { readonly rays: number; readonly most: number },
    cancelled: () => boolean,
    ask: AskPoints,
  ): void {
    this.find(plane, block)
    this.make(plane, cancelled, ask)
    if (cancelled()) return
    const { taps } = this
    let run = -1
    for (let i = 0; i <= block.count; i++) {
      const isTraced = i < block.count && taps[4 * i] < 0
      if (isTraced && run < 0) run = i
      if (!isTraced && run >= 0) {
        this.trace(block, run, i, rays, most, cancelled, ask)
        run = -1
      }
    }
    this.write(plane, block.count, stride)
  }

  private trace(
    block: PointBlock,
    from: number,
    to: number,
    rays: number,
    most: number,
    cancelled: () => boolean,
    ask: AskPoints,
  ): void {
    inSlices(block, rays, most, cancelled, (range) => ask(range, rays, most), from, to)
  }

  /**
   * Finds the texels of a block's points, once for all planes, and notes those that are not there. Samples of a pixel that lie on
   * one triangle are looked up together, in their middle: between texels answers run evenly, so that this is their mean.
   */
  private find({ isThere }: KeptPlane, block: PointBlock): void {
    const { bases } = this.surface.layout
    const { taps, weights, follows } = this
    const { count, ints, doubles } = block
    const isFound = this.foundIn === block && this.foundAt === block.stamp
    this.foundIn = block
    this.foundAt = block.stamp
    let next = 0
    for (let i = 0; i < count; i = next) {
      const to = 4 * i
      const at = POINT_NUMBERS * i
      const slot = ints[at + POINT.slot]
      next = i + 1
      if (isFound) {
        while (next < count && follows[next] !== 0) next++
        if (taps[to] < 0) continue
        let isWhole = true
        for (let k = to; k < to + 4 && isWhole; k++)
          isWhole = weights[k] <= LEAST || Atomics.load(isThere, taps[k]) !== 0
        if (isWhole) continue
      }
      const side = this.sideOf(block, at, slot)
      const base = bases[2 * slot + side]
      if (!isFound) {
        follows[i] = 0
        if (base === NOT_KEPT) {
          taps[to] = -1
          continue
        }
        const pixel = ints[at + POINT.pixel]
        for (let other = at + POINT_NUMBERS; next < count; other += POINT_NUMBERS, next++) {
          if (ints[other + POINT.slot] !== slot || ints[other + POINT.pixel] !== pixel) break
          // What is seen of a triangle through one pixel is one side of it, but for those seen from right beside them.
          if (this.sideOf(block, other, slot) !== side) break
          follows[next] = 1
          taps[4 * next] = 0
        }
      }
      let u = 0
      let v = 0
      for (let k = i; k < next; k++) {
        const half = (POINT_NUMBERS / 2) * k + POINT.weights
        u += doubles[half]
        v += doubles[half + 1]
      }
      this.place[0] = u / (next - i)
      this.place[1] = v / (next - i)
      this.tap(to, slot, side, base, isThere)
    }
  }

  /** Which side of its triangle a point is seen from: 0 the one its winding tells of. */
  private sideOf({ floats }: PointBlock, at: number, slot: number): 0 | 1 {
    const { normals } = this.surface.layout
    const n = 3 * slot
    return floats[at + POINT.geometric] * normals[n] +
      floats[at + POINT.geometric + 1] * normals[n + 1] +
      floats[at + POINT.geometric + 2] * normals[n + 2] >=
      0
      ? 0
      : 1
  }

  /** The texels about a {@link place} on a triangle. */
  private tap(to: number, slot: number, side: number, base: number, isThere: Uint8Array): void {
    const u = this.place[0]
    const v = this.place[1]
    const { taps, weights } = this
    const { rows, lefts, rights, firsts, feet, corners } = this.surface.layout
    const w = 1 - u - v
    const M = rows[slot]
    if (M === 0) {
      for (let k = 0; k < 3; k++) {
        const texel = 2 * corners[3 * slot + k] + side
        taps[to + k] = texel
        weights[to + k] = k === 0 ? w : k === 1 ? u : v
        if (Atomics.load(isThere, texel) === 0) this.wantCorner(texel, corners[3 * slot + k], side)
      }
      taps[to + 3] = taps[to]
      weights[to + 3] = 0
      return
    }
    // Weights of the end of the longest edge and of the corner across it.
    const first = firsts[slot]
    const b = first === 0 ? u : first === 1 ? v : w
    const c = first === 0 ? v : first === 1 ? w : u
    const foot = feet[slot]
    const along = b + c * foot
    const isLeft = along <= foot
    const N = isLeft ? lefts[slot] : rights[slot]
    const share = isLeft ? (foot > 1e-9 ? along / foot : 1) : foot < 1 - 1e-9 ? (1 - along) / (1 - foot) : 1
    const q = Math.min(1, Math.max(0, share))
    const up = q > 1e-9 ? Math.min(1, c / q) : 0
    const column = Math.min(N - 1, Math.floor(q * N))
    const between = q * N - column
    for (let h = 0; h < 2; h++) {
      const k = column + h
      const high = Math.floor((M * k + N - 1) / N)
      const y = up * high
      const row = Math.min(Math.floor(y), Math.max(0, high - 1))
      const part = high > 0 ? y - row : 0
      const weight = h === 0 ? 1 - between : between
      // Columns lie from the left to the altitude, which both halves have, and from the right towards it.
      const place = isLeft || k === N ? (isLeft ? k : lefts[slot]) : lefts[slot] + N - k
      const from = base + place * (M + 1)
      for (let e = 0; e < 2; e++) {
        const texel = from + Math.min(high, row + e)
        const own = weight * (e === 0 ? 1 - part : part)
        taps[to + 2 * h + e] = texel
        weights[to + 2 * h + e] = own
        if (own > LEAST && Atomics.load(isThere, texel) === 0)
          this.wantOn(texel, slot, side, isLeft, k / N, high > 0 ? Math.min(high, row + e) / high : 0)
      }
    }
  }

  private wantCorner(texel: number, corner: number, side: number): void {
    if (this.asked[texel] !== 0) return
    this.asked[texel] = 1
    const found = this.surface.layout.cornerSlots[corner]
    const k = found & 3
    const near = 1 - 2 * 0.03
    this.wanted.add(texel, found >>> 2, side, k === 1 ? near : 0.03, k === 2 ? near : 0.03)
  }

  /** @param q how far the column lies from its end to the altitude, @param t how high on it the texel is; 0…1. */
  private wantOn(texel: number, slot: number, side: number, isLeft: boolean, q: number, t: number): void {
    if (this.asked[texel] !== 0) return
    this.asked[texel] = 1
    const { rows, lefts, rights, firsts, feet } = this.surface.layout
    const foot = feet[slot]
    const c = t * q
    const along = isLeft ? foot * q : 1 - (1 - foot) * q
    const off = Math.min(0.2, INSET / (Math.max(lefts[slot], rights[slot], rows[slot]) + 1))
    const offUp = Math.min(0.2, INSET / (rows[slot] + 1))
    const b1 = Math.max(off, along - c * foot)
    const a1 = Math.max(off, 1 - Math.max(0, along - c * foot) - c)
    const c1 = Math.max(offUp, c)
    const sum = 1 / (a1 + b1 + c1)
    const [wa, wb, wc] = [a1 * sum, b1 * sum, c1 * sum]
    const first = firsts[slot]
    const u = first === 0 ? wb : first === 1 ? wa : wc
    const v = first === 0 ? wc : first === 1 ? wb : wa
    this.wanted.add(texel, slot, side, u, v)
  }

  /** Makes the texels that are wanted, a block at a time. */
  private make(plane: KeptPlane, cancelled: () => boolean, ask: AskPoints): void {
    const { wanted, asked, points } = this
    const { secondary } = points
    const { buried } = this.surface
    for (let from = 0; from < wanted.count && !cancelled(); from += BLOCK_POINTS) {
      const count = Math.min(BLOCK_POINTS, wanted.count - from)
      this.put(secondary, from, count)
      this.tellBuried(secondary, from, count, cancelled)
      inSlices(secondary, plane.rays, 0, cancelled, (range) => ask(range, plane.rays, 0))
      if (cancelled()) break
      const { values } = points
      const stride = plane.values === 1 ? 1 : 4
      for (let i = 0; i < count; i++) {
        const texel = wanted.texels[from + i]
        let light = 0
        for (let k = 0; k < plane.values; k++) {
          const value = values[stride * i + k]
          plane.data[plane.values * texel + k] = value
          if (k < plane.dark) light += Math.fround(value)
        }
        const tells = buried[texel] !== 2 && (plane.dark === 0 || light > DARK)
        // Seen by other threads only once its numbers are.
        Atomics.store(plane.isThere, texel, tells ? TELLS : SILENT)
      }
    }
    for (let i = 0; i < wanted.count; i++) asked[wanted.texels[i]] = 0
    wanted.count = 0
  }

  /** Puts wanted texels into a block, complete. */
  private put(block: PointBlock, from: number, count: number): void {
    const { wanted, grain } = this
    const { normals } = this.surface.layout
    const { tree } = this.scene
    const f = tree.floats
    for (let i = 0; i < count; i++) {
      const slot = wanted.slots[from + i]
      const u = wanted.us[from + i]
      const v = wanted.vs[from + i]
      const w = 1 - u - v
      const c = tree.cornerBase(slot)
      // The same numbers for the same place, whoever asks.
      const x = Math.round((w * f[c] + u * f[c + 12] + v * f[c + 24]) * grain)
      const y = Math.round((w * f[c + 4] + u * f[c + 16] + v * f[c + 28]) * grain)
      const z = Math.round((w * f[c + 8] + u * f[c + 20] + v * f[c + 32]) * grain)
      const away = wanted.sides[from + i] === 0 ? -1 : 1
      block.put(
        i,
        slot,
        u,
        v,
        away * normals[3 * slot],
        away * normals[3 * slot + 1],
        away * normals[3 * slot + 2],
        0,
        1,
        hashPair(hashPair(x, y), z),
        0,
        0,
      )
    }
    this.points.load(block, count, this.least)
  }

  private tellBuried(block: PointBlock, from: number, count: number, cancelled: () => boolean): void {
    const { buried } = this.surface
    const { wanted, points } = this
    let isKnown = true
    for (let i = 0; i < count && isKnown; i++) isKnown = Atomics.load(buried, wanted.texels[from + i]) !== 0
    if (isKnown) return
    const filter = { mask: BLOCKS_LIGHT, parts: null }
    inSlices(block, BURIED_RAYS, 0, cancelled, (range) =>
      points.backs(range, { rays: BURIED_RAYS, filter }, FAR),
    )
    if (cancelled()) return
    for (let i = 0; i < count; i++)
      Atomics.store(buried, wanted.texels[from + i], points.values[i] > BURIED_SHARE ? 2 : 1)
  }

  /** Writes what texels say to the kernel's `values`. Those that are buried or dark say nothing, unless all are. */
  private write({ data, isThere, values: width }: KeptPlane, count: number, stride: number): void {
    const { taps, weights, follows } = this
    const { values: out } = this.points
    for (let i = 0; i < count; i++) {
      if (follows[i] !== 0) {
        for (let e = 0; e < width; e++) out[stride * i + e] = out[stride * (i - 1) + e]
        continue
      }
      const at = 4 * i
      const a = taps[at]
      if (a < 0) continue
      const b = taps[at + 1]
      const c = taps[at + 2]
      const d = taps[at + 3]
      let wa = counted(weights[at])
      let wb = counted(weights[at + 1])
      let wc = counted(weights[at + 2])
      let wd = counted(weights[at + 3])
      let sum = wa + wb + wc + wd
      const ta = isThere[a] === TELLS ? wa : 0
      const tb = isThere[b] === TELLS ? wb : 0
      const tc = isThere[c] === TELLS ? wc : 0
      const td = isThere[d] === TELLS ? wd : 0
      const telling = ta + tb + tc + td
      if (telling > 1e-3 && telling < sum) {
        sum = telling
        wa = ta
        wb = tb
        wc = tc
        wd = td
      }
      for (let e = 0; e < width; e++)
        out[stride * i + e] =
          (wa * data[width * a + e] +
            wb * data[width * b + e] +
            wc * data[width * c + e] +
            wd * data[width * d + e]) /
          sum
    }
  }
}

/** What a tap counts for. */
const counted = (weight: number): number => (weight > LEAST ? weight : 0)

/** A growing list of texels. */
class Wanted {
  count = 0
  texels = new Uint32Array(BLOCK_POINTS)
  slots = new Uint32Array(BLOCK_POINTS)
  sides = new Uint8Array(BLOCK_POINTS)
  us = new Float64Array(BLOCK_POINTS)
  vs = new Float64Array(BLOCK_POINTS)

  add(texel: number, slot: number, side: number, u: number, v: number): void {
    if (this.count === this.texels.length) this.grow()
    const i = this.count++
    this.texels[i] = texel
    this.slots[i] = slot
    this.sides[i] = side
    this.us[i] = u
    this.vs[i] = v
  }

  private grow(): void {
    const length = 2 * this.texels.length
    const larger = <T extends Uint32Array | Uint8Array | Float64Array>(from: T, to: T): T => {
      to.set(from)
      return to
    }
    this.texels = larger(this.texels, new Uint32Array(length))
    this.slots = larger(this.slots, new Uint32Array(length))
    this.sides = larger(this.sides, new Uint8Array(length))
    this.us = larger(this.us, new Float64Array(length))
    this.vs = larger(this.vs, new Float64Array(length))
  }
}
