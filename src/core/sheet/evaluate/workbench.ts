import { hashText } from '../../math/stable-hash'
import type { PictureExports } from '../../picture/picture-kernel'
import { FLOAT_TILE_BYTES, TILE, TILE_PIXELS, tileGrid } from '../../picture/tile-form'
import type { PaintTarget } from '../contents/content-kind'
import type { SheetResources } from '../sheet-resources'
import { stepKey, type KeptTiles, type StepKey } from './kept-tiles'
import type { Keyed, SheetPlan } from './sheet-plan'
import { liveAddress, regionName } from '../../paint/paint-grid'
import type { PaintUse } from '../../paint/paint-use'

/** Of a painted mask's tile: what is painted now is asked for in words of masks alone, layers' tiles are read where they lie. */
const MASK_TILE_WORDS = TILE_PIXELS

/** Numbers a tile; those around the picture too, which blurs ask for. */
export const tileNumber = (tx: number, ty: number): number => (ty + 2048) * 8192 + tx + 2048

/** What evaluators work with: the plan in hand, kept tiles, room for tiles at work. */
export class Workbench {
  private free: number[] = []
  private readonly rooms: number[] = []
  private readonly keys = new Map<string, { readonly salt: number; readonly known: Map<string, StepKey> }>()
  private plan: SheetPlan | null = null
  readonly resources: SheetResources
  /** Tiles of the picture. */
  across = 0
  down = 0

  constructor(
    readonly tiles: KeptTiles,
    resources: SheetResources,
    readonly isCancelled: () => boolean,
  ) {
    // What is being painted now lies in the memory that pictures are made in.
    const paintTile = (name: string): Uint16Array | null => {
      const address = liveAddress(name)
      return address === null
        ? resources.paintTile(name)
        : new Uint16Array(tiles.memory.buffer, address, MASK_TILE_WORDS)
    }
    this.resources = { ...resources, paintTile }
  }

  get kernel(): PictureExports {
    return this.tiles.kernel
  }

  get planned(): SheetPlan {
    if (!this.plan) throw new Error('no picture was begun')
    return this.plan
  }

  takeUp(plan: SheetPlan): void {
    // Uses of what is painted outlast a plan: in another view they lie elsewhere.
    const before = this.plan?.size
    if (before?.width !== plan.size.width || before.height !== plan.size.height) this.painted = new WeakMap()
    this.plan = plan
    const grid = tileGrid(plan.size.width, plan.size.height)
    this.across = grid.across
    this.down = grid.down
  }

  /** Last column and row of a tile that lie within the picture. */
  lastOf(tx: number, ty: number): { readonly x: number; readonly y: number } {
    const { width, height } = this.planned.size
    return { x: Math.min(TILE, width - tx * TILE) - 1, y: Math.min(TILE, height - ty * TILE) - 1 }
  }

  /** What is to be painted of a tile. */
  target(tx: number, ty: number): PaintTarget {
    const { size, sheet } = this.planned
    const last = this.lastOf(tx, ty)
    const window = { x: tx * TILE, y: ty * TILE, width: last.x + 1, height: last.y + 1 }
    return { window, view: size, sheet, resources: this.resources }
  }

  /** Room for a tile of f32 at work; given back by {@link release}. */
  room(): number {
    const own = this.free.pop()
    if (own !== undefined) return own
    const made = this.tiles.take(FLOAT_TILE_BYTES)
    this.rooms.push(made)
    return made
  }
  release(...addresses: number[]): void {
    this.free.push(...addresses)
  }
  /** All rooms are free again: nothing is at work, however it ended. */
  clear(): void {
    this.free = [...this.rooms]
  }

  /** Copies a tile of f32. */
  copy(from: number, to: number): void {
    this.kernel.copy(from, to, TILE_PIXELS)
  }

  /** The name of something that is made of a tile of a step: of what was painted by hand, only what lies about it counts. */
  tileKey(what: string, { key, paints }: Keyed, tx: number, ty: number): StepKey {
    const own = this.key(what, key)
    if (paints.length === 0) return own
    let { a, b } = own
    for (const use of paints) {
      const painted = this.paintedAbout(use, tx, ty)
      a = Math.imul(a ^ painted.a, 0x85ebca6b)
      a ^= a >>> 13
      b = Math.imul(b ^ painted.b ^ a, 0xc2b2ae35)
      b ^= b >>> 16
    }
    return { a, b }
  }

  private painted = new WeakMap<PaintUse, Map<number, StepKey>>()

  private paintedAbout(use: PaintUse, tx: number, ty: number): StepKey {
    let known = this.painted.get(use)
    if (!known) this.painted.set(use, (known = new Map()))
    const number = tileNumber(tx, ty)
    const found = known.get(number)
    if (found) return found
    const { grid, reach } = use
    const { width, height } = this.planned.size
    const [kx, ky] = [grid.width / width, grid.height / height]
    // A pixel more: what lies between two is mixed of both.
    const [left, top] = [(tx * TILE - reach) * kx - 1, (ty * TILE - reach) * ky - 1]
    const [right, bottom] = [((tx + 1) * TILE + reach) * kx + 1, ((ty + 1) * TILE + reach) * ky + 1]
    // Tiles beyond the picture repeat its border.
    const inside = (v: number, most: number) => Math.min(most - 1, Math.max(0, v))
    const name = regionName(
      grid,
      inside(left, grid.width),
      inside(top, grid.height),
      inside(right, grid.width + 1),
      inside(bottom, grid.height + 1),
    )
    known.set(number, name)
    return name
  }

  /** The name of something that is made of a step. */
  key(what: string, key: string): StepKey {
    let names = this.keys.get(what)
    if (!names) this.keys.set(what, (names = { salt: stepKey(hashText(what)).a, known: new Map() }))
    const found = names.known.get(key)
    if (found) return found
    // Names are made anew with every edit: what is not asked for again is forgotten.
    if (names.known.size > 20_000) names.known.clear()
    const { a, b } = stepKey(key)
    const made = { a: a ^ names.salt, b: b ^ (names.salt >>> 7) }
    names.known.set(key, made)
    return made
  }
}
