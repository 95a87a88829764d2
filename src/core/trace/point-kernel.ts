import { isShared, PAGE_BYTES, pagesFor, type LinearMemory } from '../wasm/linear-memory'
import type { KernelExports } from './kernel-memory'
import {
  LIGHT_BYTES,
  writeLight,
  type LightPicture,
  type LightRecord,
  type PicturePlace,
} from './light-record'
import { BLOCK_POINTS, POINT_BYTES, PointBlock } from './point-block'
import type { RayFilter } from './ray-filter'

/** Rays drawn at once for one point; kernel/layout.ts, DRAW_MOST. */
const DRAW_MOST = 1024
/** … and room for them, which are read four at a time from anywhere. */
const DRAW_ROOM = DRAW_MOST + 16
/** Parts that a light's list can speak of; further ones are lit. */
const LIT_BYTES = 131072
/** Pictures of surroundings kept: as many as a rig has lights. */
const MOST_PICTURES = 16

const align = (bytes: number): number => (bytes + 63) & ~63

const SIZES = {
  desk: 64,
  light: align(LIGHT_BYTES),
  draws: 2 * 4 * DRAW_ROOM,
  brings: 16 * DRAW_MOST,
  lit: LIT_BYTES,
  primary: POINT_BYTES * BLOCK_POINTS,
  secondary: POINT_BYTES * BLOCK_POINTS,
  values: 16 * BLOCK_POINTS,
  whole: 16 * BLOCK_POINTS,
  widths: 4 * BLOCK_POINTS,
  shares: 4 * BLOCK_POINTS,
  spreads: 4 * BLOCK_POINTS,
  ways: 4 * BLOCK_POINTS,
} as const
/** Bytes a {@link PointKernel} takes. */
export const POINT_KERNEL_BYTES = Object.values(SIZES).reduce((sum, bytes) => sum + align(bytes), 0)

/** Points of a block that are asked about: `count` of them from `from` on. */
export interface PointRange {
  readonly block: PointBlock
  readonly from: number
  readonly count: number
}

/** How many rays a point has and what they may meet. */
export interface PointRays {
  /** For each sample of a full pixel; a point of a pixel with fewer samples has as many more. */
  readonly rays: number
  /** Samples of a full pixel; 0: every point has as many rays. */
  readonly most: number
  readonly filter: RayFilter
}

/** A light, placed, and what it is asked by. */
export interface PointLight {
  readonly record: LightRecord
  /** Makes its numbers its own. */
  readonly salt: number
  readonly throwsShadow: boolean
  /** One byte a scene part, 0 leaves it dark; null: all are lit. */
  readonly lit: Uint8Array | null
}

/**
 * Asks about points of surfaces: the kernel draws the rays of each, traces and sums them (kernel/gather.ts, light.ts,
 * scatter.ts). Answers are read from `values` before the next question; answer i belongs to point i of the block.
 */
export class PointKernel {
  /** Two blocks: what the camera sees, and what lies behind or is met from there. */
  readonly primary: PointBlock
  readonly secondary: PointBlock
  /** Float32Array, 4 a point. */
  values!: Float32Array
  /** Float32Array, 4 a point: what would come if nothing were in the way, where that is asked. */
  whole!: Float32Array
  /** Float32Array, one a point, written by the caller: fourth power of its roughness, 0 for no highlight. */
  widths!: Float32Array
  /** Float32Array, one a point, written by the caller: what scattered rays count for together. */
  shares!: Float32Array
  /** Float32Array, one a point, written by the caller: how far mirrored rays spread, as a sine. */
  spreads!: Float32Array
  /** Float32Array, one a point of the secondary block: how far scattered rays went to it, in world units. */
  ways!: Float32Array

  private readonly at: Readonly<Record<keyof typeof SIZES, number>>
  private litTable!: Uint8Array
  private light!: DataView
  private litList: Uint8Array | null = null
  private readonly pictures: { picture: LightPicture; at: number; bytes: number }[] = []

  /** @param renew makes all views of the memory again, these included, after memory that is not shared has grown. */
  constructor(
    private readonly kernel: KernelExports,
    private readonly memory: LinearMemory,
    start: number,
    batch: { readonly rays: number; readonly hits: number; readonly blocked: number; readonly stack: number },
    private readonly useParts: (parts: Uint8Array | null) => number,
    private readonly renewAll: () => void,
  ) {
    let next = start
    this.at = Object.fromEntries(
      Object.entries(SIZES).map(([name, bytes]) => {
        const at = next
        next += align(bytes)
        return [name, at]
      }),
    ) as Record<keyof typeof SIZES, number>
    this.primary = new PointBlock(this.at.primary, memory.buffer)
    this.secondary = new PointBlock(this.at.secondary, memory.buffer)
    this.renew()
    const { draws, brings } = this.at
    new Uint32Array(memory.buffer, this.at.desk, 7).set([
      batch.rays,
      batch.hits,
      batch.blocked,
      batch.stack,
      draws,
      draws + 4 * DRAW_ROOM,
      brings,
    ])
  }

  /** Address of the desk that kernel/layout.ts describes. */
  get desk(): number {
    return this.at.desk
  }

  /** Makes the views again. */
  renew(): void {
    const { buffer } = this.memory
    const { at } = this
    this.primary.view(buffer)
    this.secondary.view(buffer)
    this.values = new Float32Array(buffer, at.values, 4 * BLOCK_POINTS)
    this.whole = new Float32Array(buffer, at.whole, 4 * BLOCK_POINTS)
    this.widths = new Float32Array(buffer, at.widths, BLOCK_POINTS)
    this.shares = new Float32Array(buffer, at.shares, BLOCK_POINTS)
    this.spreads = new Float32Array(buffer, at.spreads, BLOCK_POINTS)
    this.ways = new Float32Array(buffer, at.ways, BLOCK_POINTS)
    this.litTable = new Uint8Array(buffer, at.lit, LIT_BYTES)
    this.light = new DataView(buffer, at.light, LIGHT_BYTES)
  }

  /**
   * Completes the first `count` points of a block.
   * @param least how far rays start off surfaces near the origin, in world units.
   */
  load(block: PointBlock, count: number, least: number): void {
    block.count = count
    block.stamp++
    this.kernel.loadPoints(block.address, count, least)
  }

  /** Share of open directions within a cone at a reach, a half, a quarter and an eighth of it: four values a point. */
  occlusion(range: PointRange, { rays, most, filter }: PointRays, reachWorld: number, sine: number): void {
    this.kernel.occlusionOf(
      pointAt(range),
      range.count,
      rays,
      most,
      reachWorld,
      sine,
      filter.mask,
      this.useParts(filter.parts),
      this.at.desk,
      this.at.values + 16 * range.from,
    )
  }

  /** Share of rays round the normal that meet the backs of surfaces first: one value a point. */
  backs(range: PointRange, { rays, filter }: Pick<PointRays, 'rays' | 'filter'>, reachWorld: number): void {
    this.kernel.backsOf(
      pointAt(range),
      range.count,
      rays,
      reachWorld,
      filter.mask,
      this.useParts(filter.parts),
      this.at.desk,
      this.at.values + 4 * range.from,
    )
  }

  /** Mean height of the surface over a disc in the tangent plane, in radii: one value a point. */
  cavity(range: PointRange, { rays, most, filter }: PointRays, radiusWorld: number): void {
    this.kernel.cavityOf(
      pointAt(range),
      range.count,
      rays,
      most,
      radiusWorld,
      filter.mask,
      this.useParts(filter.parts),
      this.at.desk,
      this.at.values + 4 * range.from,
    )
  }

  /** Mean way through the form, as a share of the reach: one value a point. */
  thickness(
    range: PointRange,
    { rays, most, filter }: PointRays,
    reachWorld: number,
    sine: number,
    salt: number,
    least: number,
  ): void {
    this.kernel.thicknessOf(
      pointAt(range),
      range.count,
      rays,
      most,
      salt,
      reachWorld,
      sine,
      least,
      filter.mask,
      this.useParts(filter.parts),
      this.at.desk,
      this.at.values + 4 * range.from,
    )
  }

  /**
   * What a light brings: four values a point, its one to three numbers and, at 3, its highlight.
   * @param wants `highlight`: by `widths`; `whole`: also what would come if nothing were in the way.
   */
  lightFrom(
    range: PointRange,
    { rays, most, filter }: PointRays,
    light: PointLight,
    wants: { readonly highlight: boolean; readonly whole: boolean },
  ): void {
    this.tell(light)
    this.kernel.lightOf(
      this.at.light,
      pointAt(range),
      range.count,
      rays,
      most,
      wants.highlight ? this.at.widths + 4 * range.from : 0,
      filter.mask,
      this.useParts(filter.parts),
      this.at.desk,
      this.at.values + 16 * range.from,
      wants.whole ? this.at.whole + 16 * range.from : 0,
    )
  }

  /** What a light looks like where views of a block end in nothing: four values a point, 0 elsewhere. */
  sky(block: PointBlock, light: PointLight): void {
    this.tell(light)
    this.kernel.skyOf(this.at.light, block.address, block.count, this.at.values)
  }

  /**
   * Sends rays from points and makes the secondary block of what they meet, as many as there is room for.
   * @param way `bounced` round the normal, or `mirrored` by `spreads`; each point's rays count for its number in `shares`.
   * @returns how many points were taken.
   */
  scatter(
    range: PointRange,
    { rays, most, filter }: PointRays,
    way: 'bounced' | 'mirrored',
    salt: number,
    least: number,
  ): number {
    this.secondary.count = this.kernel.scatter(
      pointAt(range),
      range.count,
      rays,
      most,
      salt,
      this.at.shares + 4 * range.from,
      way === 'mirrored' ? this.at.spreads + 4 * range.from : 0,
      least,
      filter.mask,
      this.useParts(filter.parts),
      this.at.desk,
      this.at.secondary,
      this.at.ways,
      BLOCK_POINTS,
    )
    return this.kernel.scattered()
  }

  private tell({ record, salt, throwsShadow, lit }: PointLight): void {
    if (lit && lit !== this.litList) {
      this.litTable.fill(1)
      this.litTable.set(lit.subarray(0, LIT_BYTES))
      this.litList = lit
    }
    const picture = record.kind === 'picture' ? this.placeOf(record.picture) : null
    writeLight(this.light, record, salt, throwsShadow, lit ? this.at.lit : 0, picture)
  }

  /** Where a picture is in this memory; brought there when it is first asked for. */
  private placeOf(picture: LightPicture): PicturePlace {
    const { rows, columns, pixels } = picture
    const bytes = 4 * (rows.length + columns.length + pixels.length)
    let held = this.pictures.findIndex((p) => p.picture === picture)
    if (held < 0) {
      // The one that was longest not asked for gives up its room, where that is enough.
      const full = this.pictures.length >= MOST_PICTURES
      const old = full ? this.pictures.findIndex((p) => p.bytes >= bytes) : -1
      const room = old >= 0 ? this.pictures.splice(old, 1)[0] : { at: this.grow(bytes), bytes }
      held = this.pictures.push({ ...room, picture }) - 1
      const floats = new Float32Array(this.memory.buffer, room.at, bytes >> 2)
      floats.set(rows)
      floats.set(columns, rows.length)
      floats.set(pixels, rows.length + columns.length)
    }
    const [entry] = this.pictures.splice(held, 1)
    this.pictures.push(entry)
    return {
      rows: entry.at,
      columns: entry.at + 4 * rows.length,
      pixels: entry.at + 4 * (rows.length + columns.length),
    }
  }

  private grow(bytes: number): number {
    const at = this.memory.grow(pagesFor(bytes)) * PAGE_BYTES
    if (!isShared(this.memory)) this.renewAll()
    return at
  }
}

const pointAt = ({ block, from }: PointRange): number => block.address + POINT_BYTES * from
