// One file: one stroke from its first point to its last: stamps, smudging and edges share its tiles.
import { inBlocks, MASK_TILE_BYTES as WITHIN_BYTES, TILE, TILE_PIXELS } from '../picture/tile-form'
import { EMPTY, FULL, type KeptTile, type KeptTiles } from '../sheet/evaluate/kept-tiles'
import type { BrushUse } from './brush'
import { formedDab, leaning, type Form, type FormedDab } from './formed-dab'
import { GRAIN_SIDE, type BrushMemory } from './brush-memory'
import { LAYER_TILE_BYTES, MASK_TILE_BYTES } from './cut-paint'
import { liveName, placeName, readPlace, type PaintGrid } from './paint-grid'
import { StrokeWalker, type Dab, type PenSample } from './stroke-walker'

/** What a stroke does where its tip is pressed. Colours are display values, 0…1. */
export type StrokeAct =
  /** Lays a colour over what is there. */
  | { readonly kind: 'paint'; readonly rgb: readonly [number, number, number] }
  /** Lays what the ground's `source` shows over what is there. */
  | { readonly kind: 'clone' }
  /** Takes away what is there. */
  | { readonly kind: 'erase' }
  /** Changes tones within a range of brightness; alpha stays. */
  | {
      readonly kind: 'lighten' | 'darken' | 'tint'
      readonly rgb: readonly [number, number, number]
      readonly range: readonly [number, number, number, number]
    }
  /** Drags what is there along, or brings neighbours closer together or farther apart, press by press. */
  | { readonly kind: 'smudge' | 'soften' | 'sharpen' }
  /** Brings a mask towards a value: 0 hides, 1 shows. */
  | { readonly kind: 'mask'; readonly value: number }

/** What lies beneath a stroke. */
export interface StrokeGround {
  readonly grid: PaintGrid
  /** Of a mask: what it is where nothing was painted, 0…1. */
  readonly outside: number
  /** A tile as it was before the stroke. */
  readonly base: (tx: number, ty: number) => KeptTile
  /** What a stroke that clones paints with, tile by tile: an address of premultiplied display values, blocks of f32; 0 for nothing. */
  readonly source?: ((tx: number, ty: number) => number) | null
  /** What the stroke stays in: a byte a pixel of the grid; null for everywhere. */
  readonly within: ((tx: number, ty: number) => KeptTile) | null
  /** Pixels of the grid per sheet pixel. */
  readonly scale: number
  /**
   * Which way the form faces at a place of the sheet, in its pixels: a unit vector to the right, up, and towards the viewer;
   * null where nothing is. Null for a stroke that does not follow the form.
   */
  readonly form?: Form | null
  /** Axes of the sheet about which it is mirrored, in sheet pixels. */
  readonly mirrors: { readonly x: number | null; readonly y: number | null }
}

/** A tile that a stroke is on; addresses in the kernel's memory, 0 for what it does not have. */
interface Touched {
  readonly cover: number
  readonly made: number
  readonly base: number
  readonly within: number
}

const COVER_BYTES = 4 * TILE_PIXELS
/** Kinds of work over what lies about each pixel, as the kernel numbers them. */
const WORKS = { smudge: 0, soften: 1, sharpen: 2 } as const
/** Softening and sharpening look so far about a pixel. */
const NEAR = 2
/** The longest step that is dragged along. Pixels. */
const MOST_DRAG = 400
/** Where a tip looks for colour, in radians about its way. */
const AHEAD = [-0.8, 0, 0.8]
const AROUND = [0, 1.57, 3.14, 4.71]
type Rgb = readonly [number, number, number]
const mixed = (a: Rgb, b: Rgb, share: number): Rgb => [
  a[0] + share * (b[0] - a[0]),
  a[1] + share * (b[1] - a[1]),
  a[2] + share * (b[2] - a[2]),
]
const NONE: ReadonlyMap<string, number> = new Map()
const TOWARDS = { lighten: 0, darken: 1, tint: 2 } as const

/** A stroke while it is painted: it follows the pen, and holds the tiles that it changes. The same samples give the same bits. */
export class StrokePainter {
  private readonly walker: StrokeWalker
  private readonly touched = new Map<string, Touched>()
  /** Those of them that it changed: it may come near others. */
  private readonly laid = new Set<string>()
  /** Tiles that the stroke would change if it did not stay elsewhere. */
  private readonly untouched = new Set<string>()
  private revision = 0
  private readonly tileBytes: number
  /** Where the tip, and each of its mirrors, was pressed last, in pixels of the grid: smudging drags from there. */
  private readonly lastPresses: (readonly [number, number])[] = []

  /** What colour the tip, and each of its mirrors, has taken up. */
  private readonly carried: Rgb[] = []

  constructor(
    private readonly tiles: KeptTiles,
    private readonly memory: BrushMemory,
    private readonly brush: BrushUse,
    private readonly act: StrokeAct,
    private readonly ground: StrokeGround,
    seed: number,
  ) {
    this.walker = new StrokeWalker(brush.params, seed)
    this.tileBytes = act.kind === 'mask' ? MASK_TILE_BYTES : LAYER_TILE_BYTES
  }

  /** Where the tip is led to, in sheet pixels; null before it was. */
  get tip(): StrokeWalker['tip'] {
    return this.walker.tip
  }

  /** Follows the pen. @returns the tiles that changed: their places, and the names they have now. @throws {NoRoomError} */
  add(samples: readonly PenSample[]): Record<string, string> {
    return this.press(samples.flatMap((sample) => this.walker.add(sample)))
  }

  /** The pen is lifted. See {@link add}. */
  finish(last: PenSample | null): Record<string, string> {
    return this.press(this.walker.finish(last))
  }

  /** The tiles that the stroke changed, as they are now: copies; null for one that holds nothing any more. */
  *results(): Generator<{ readonly place: string; readonly bytes: Uint8Array<ArrayBuffer> | null }> {
    const { kernel } = this.tiles
    for (const [place, { made }] of this.touched) {
      if (!this.laid.has(place)) continue
      const isNothing =
        this.act.kind === 'mask'
          ? isEven(this.words(made), Math.round(65535 * this.ground.outside))
          : (kernel.keptFlags(made, TILE_PIXELS) & EMPTY) !== 0
      yield {
        place,
        bytes: isNothing ? null : (this.tiles.bytes(made, this.tileBytes).slice() as Uint8Array<ArrayBuffer>),
      }
    }
  }

  /** Gives its memory back: the tiles it held are shown no more. */
  close(): void {
    for (const { cover, made, base, within } of this.touched.values()) {
      this.tiles.giveBack(cover, COVER_BYTES)
      this.tiles.giveBack(made, this.tileBytes)
      if (base !== 0) this.tiles.giveBack(base, this.tileBytes)
      if (within !== 0) this.tiles.giveBack(within, WITHIN_BYTES)
    }
    this.touched.clear()
  }

  private words(address: number): Uint16Array {
    return new Uint16Array(this.tiles.memory.buffer, address, this.tileBytes / 2)
  }

  private press(dabs: readonly Dab[]): Record<string, string> {
    const changed = new Set<string>()
    const { act } = this
    const isWork = act.kind === 'smudge' || act.kind === 'soften' || act.kind === 'sharpen'
    const takesUp = act.kind === 'paint' && this.brush.params.takesUp > 0
    const isByPress = isWork || takesUp
    for (const dab of dabs)
      this.mirrored(dab).forEach((own, which) => {
        const one = this.onForm(own)
        if (isWork) this.workOnce(one, which, WORKS[act.kind], changed)
        else if (takesUp) this.layOnce(one, which, act.rgb, changed)
        else this.pressOnce(one, changed)
        if (isByPress) for (const place of changed) this.laid.add(place)
      })
    if (changed.size === 0) return {}
    this.revision++
    const names: Record<string, string> = {}
    for (const place of changed) {
      const tile = this.touched.get(place)
      if (!tile) continue
      if (!isByPress) this.lay(tile, ...readPlace(place))
      this.laid.add(place)
      names[place] = liveName(tile.made, this.revision)
    }
    return names
  }

  private mirrored(dab: Dab): Dab[] {
    const { x, y } = this.ground.mirrors
    const all = [dab]
    if (x !== null) all.push(...all.map((one) => ({ ...one, x: 2 * x - one.x, angle: Math.PI - one.angle })))
    if (y !== null) all.push(...all.map((one) => ({ ...one, y: 2 * y - one.y, angle: -one.angle })))
    return all
  }

  /** A press as the form beneath it turns it. */
  private onForm(dab: Dab): FormedDab {
    const { form, scale } = this.ground
    const { params } = this.brush
    if (!form) return dab
    return formedDab(dab, form, params, 2 / scale)
  }

  private pressOnce(dab: FormedDab, changed: Set<string>): void {
    const { grid, scale } = this.ground
    const { params, tip, seed } = this.brush
    const [x, y, rx] = [dab.x * scale, dab.y * scale, Math.max(0.3, dab.radius * scale)]
    const ry = Math.max(0.3, rx * dab.roundness)
    // What is thinner than a pixel covers as much less of it.
    const thin = Math.min(1, (dab.radius * scale) / 0.3)
    const [cos, sin] = [Math.cos(dab.angle), Math.sin(dab.angle)]
    const [ux, uy, vx, vy] = leaning([cos / rx, sin / rx, -sin / ry, cos / ry], dab.lean)
    const plane = this.memory.tip(tip, seed, Math.sqrt(rx * ry))
    const grain = this.memory.grain(params.grain)
    const step = 1 / (scale * params.grainSize)
    const reachX = Math.hypot(rx * cos, ry * sin) + Math.abs(rx * cos) + Math.abs(ry * sin)
    const reachY = Math.hypot(rx * sin, ry * cos) + Math.abs(rx * sin) + Math.abs(ry * cos)
    const [left, right] = [Math.floor((x - reachX) / TILE), Math.floor((x + reachX) / TILE)]
    const [top, bottom] = [Math.floor((y - reachY) / TILE), Math.floor((y + reachY) / TILE)]
    const across = Math.ceil(grid.width / TILE)
    const down = Math.ceil(grid.height / TILE)
    const [originX, originY] = params.holds === 'stroke' ? [dab.originX, dab.originY] : [0, 0]
    for (let ty = Math.max(0, top); ty <= Math.min(down - 1, bottom); ty++)
      for (let tx = Math.max(0, left); tx <= Math.min(across - 1, right); tx++) {
        const place = placeName(tx, ty)
        const tile = this.touch(place, tx, ty)
        if (!tile) continue
        const wrapped = (at: number, origin: number) => {
          const g = (at * TILE + 0.5 - origin * scale) * step
          return g - Math.floor(g / GRAIN_SIDE) * GRAIN_SIDE
        }
        const isPressed = this.tiles.kernel.pressTip(
          tile.cover,
          x - tx * TILE,
          y - ty * TILE,
          ux,
          uy,
          vx,
          vy,
          plane.address,
          plane.side,
          Math.min(1, dab.flow * thin),
          grain,
          GRAIN_SIDE,
          wrapped(tx, originX),
          wrapped(ty, originY),
          step,
          params.bite,
        )
        if (isPressed) changed.add(place)
      }
  }

  /**
   * Works over what lies beneath one press, from what lay there before it.
   * @param which of the mirrored presses it is: each drags from where it was pressed before.
   */
  private workOnce(dab: FormedDab, which: number, kind: number, changed: Set<string>): void {
    const { scale } = this.ground
    const [x, y] = [dab.x * scale, dab.y * scale]
    const from = this.lastPresses[which] as readonly [number, number] | undefined
    this.lastPresses[which] = [x, y]
    if (kind === WORKS.smudge && !from) return
    const [ax, ay] = kind === WORKS.smudge && from ? [x - from[0], y - from[1]] : [NEAR, 0]
    // Room for what lies about a tile is bounded: a longer step drags from nearer by.
    const shorter = Math.min(1, MOST_DRAG / Math.max(1e-9, Math.hypot(ax, ay)))
    const [dx, dy] = [ax * shorter, ay * shorter]
    // 1. How much the tip covers, tile by tile, and what lay there.
    const pressed = new Set<string>()
    this.pressOnce(dab, pressed)
    const before = new Map<string, number>()
    for (const place of pressed) {
      const tile = this.touched.get(place)
      if (!tile) continue
      if (!this.laid.has(place) && !changed.has(place)) this.copyBase(tile)
      changed.add(place)
      before.set(place, this.copied(tile.made, this.tileBytes))
    }
    // 2. Each tile from the picture about it.
    const margin = Math.ceil(Math.max(NEAR, Math.hypot(dx, dy))) + 2
    const side = TILE + 2 * margin
    const bytes = 16 * side * side
    const region = this.tiles.take(bytes)
    const { kernel } = this.tiles
    try {
      for (const place of before.keys()) {
        const tile = this.touched.get(place)
        if (!tile) continue
        const [tx, ty] = readPlace(place)
        this.gather(tx, ty, margin, before, region)
        this.cutBeyond(tile.cover, tx, ty)
        const { whole } = this.brush.params
        const at = [margin, margin, kind, dx, dy, whole] as const
        kernel.workOver(tile.made, tile.cover, tile.within, region, side, side, ...at)
        this.tiles.floats(tile.cover, TILE_PIXELS).fill(0)
      }
    } finally {
      this.tiles.giveBack(region, bytes)
      for (const address of before.values()) this.tiles.giveBack(address, this.tileBytes)
    }
  }

  /**
   * Lays one press of a colour that the tip has taken up where it went: press by press, what is there now counts.
   * @param which see {@link workOnce}.
   */
  private layOnce(dab: FormedDab, which: number, own: Rgb, changed: Set<string>): void {
    const { takesUp, whole } = this.brush.params
    const held = (this.carried[which] as Rgb | undefined) ?? own
    const under = this.colourBefore(dab, which)
    // It gives off what it holds, and takes up what it touches; a tip that takes up little keeps its own colour.
    const kept = mixed(held, own, 0.12 * (1 - takesUp))
    const carried = under ? mixed(kept, under.rgb, 0.4 * takesUp * under.alpha) : kept
    this.carried[which] = carried
    const pressed = new Set<string>()
    this.pressOnce(dab, pressed)
    for (const place of pressed) {
      const tile = this.touched.get(place)
      if (!tile) continue
      if (!this.laid.has(place) && !changed.has(place)) this.copyBase(tile)
      changed.add(place)
      const { cover, made, within } = tile
      this.cutBeyond(cover, ...readPlace(place))
      this.tiles.kernel.layColour(made, cover, within, made, TILE_PIXELS, ...carried, whole)
      this.tiles.floats(cover, TILE_PIXELS).fill(0)
    }
  }

  /** The colour that a tip comes upon, and how opaque it is; null where nothing is. */
  private colourBefore(
    { x, y, radius }: FormedDab,
    which: number,
  ): { readonly rgb: Rgb; readonly alpha: number } | null {
    const { scale, grid } = this.ground
    const from = this.lastPresses[which] as readonly [number, number] | undefined
    this.lastPresses[which] = [x, y]
    const way = from ? Math.atan2(y - from[1], x - from[0]) : 0
    // Before the tip, where it has not painted yet; a first press, all about it.
    const spread = from ? AHEAD : AROUND
    const sum = [0, 0, 0, 0]
    for (const turn of spread) {
      const [dx, dy] = [Math.cos(way + turn), Math.sin(way + turn)]
      const [px, py] = [
        Math.floor((x + 0.8 * radius * dx) * scale),
        Math.floor((y + 0.8 * radius * dy) * scale),
      ]
      if (px < 0 || py < 0 || px >= grid.width || py >= grid.height) continue
      const [tx, ty] = [Math.floor(px / TILE), Math.floor(py / TILE)]
      const address = this.addressOf(tx, ty, NONE)
      if (address === 0) continue
      const words = this.words(address)
      const at = inBlocks((py - ty * TILE) * TILE + px - tx * TILE, 0)
      const alpha = words[at + 12] / 65535
      for (let c = 0; c < 3; c++) sum[c] += (alpha * words[at + 4 * c]) / 65535
      sum[3] += alpha
    }
    if (sum[3] === 0) return null
    return { rgb: [sum[0] / sum[3], sum[1] / sum[3], sum[2] / sum[3]], alpha: sum[3] / spread.length }
  }

  /** What lies about a tile, as it was before a press. @param before copies of the tiles that the press is on. */
  private gather(
    tx: number,
    ty: number,
    margin: number,
    before: ReadonlyMap<string, number>,
    region: number,
  ): void {
    const { grid } = this.ground
    const side = TILE + 2 * margin
    const [left, top] = [tx * TILE - margin, ty * TILE - margin]
    this.tiles.bytes(region, 16 * side * side).fill(0)
    const last = (v: number, most: number) => Math.min(Math.ceil(most / TILE) - 1, Math.floor(v / TILE))
    for (let y = Math.max(0, Math.floor(top / TILE)); y <= last(top + side - 1, grid.height); y++)
      for (let x = Math.max(0, Math.floor(left / TILE)); x <= last(left + side - 1, grid.width); x++) {
        const address = this.addressOf(x, y, before)
        if (address !== 0)
          this.tiles.kernel.gatherKept(address, region, side, side, x * TILE - left, y * TILE - top)
      }
  }

  /** Where a tile lies as it is now, or was before a press; 0 for a clear one. */
  private addressOf(tx: number, ty: number, before: ReadonlyMap<string, number>): number {
    const place = placeName(tx, ty)
    const kept = before.get(place) ?? (this.laid.has(place) ? this.touched.get(place)?.made : undefined)
    if (kept !== undefined) return kept
    const base = this.ground.base(tx, ty)
    return base.flags & EMPTY ? 0 : base.address
  }

  /** A tile that is worked on begins as it was. */
  private copyBase({ made, base }: Touched): void {
    const to = this.tiles.bytes(made, this.tileBytes)
    if (base === 0) to.fill(0)
    else to.set(this.tiles.bytes(base, this.tileBytes))
  }

  /** A tile that the stroke comes to; null where it may not. */
  private touch(place: string, tx: number, ty: number): Touched | null {
    const known = this.touched.get(place)
    if (known) return known
    if (this.untouched.has(place)) return null
    const { tiles, ground, tileBytes } = this
    const within = ground.within?.(tx, ty) ?? null
    const before = ground.base(tx, ty)
    // There is nothing to take away, and nothing whose tone could be changed.
    const needs = !['paint', 'clone', 'mask', 'smudge', 'soften'].includes(this.act.kind)
    if ((within && within.flags & EMPTY) || (needs && before.flags & EMPTY)) {
      this.untouched.add(place)
      return null
    }
    const cover = tiles.take(COVER_BYTES)
    tiles.floats(cover, TILE_PIXELS).fill(0)
    const own: Touched = {
      cover,
      made: tiles.take(tileBytes),
      base: before.flags & EMPTY ? 0 : this.copied(before.address, tileBytes),
      within: within && !(within.flags & FULL) ? this.copied(within.address, WITHIN_BYTES) : 0,
    }
    this.touched.set(place, own)
    return own
  }

  private copied(from: number, bytes: number): number {
    const at = this.tiles.take(bytes)
    this.tiles.bytes(at, bytes).set(this.tiles.bytes(from, bytes))
    return at
  }

  /** Makes a tile from what was there and what the stroke has covered. */
  private lay({ cover, made, base, within }: Touched, tx: number, ty: number): void {
    const { kernel } = this.tiles
    const { act } = this
    const { whole } = this.brush.params
    this.cutBeyond(cover, tx, ty)
    switch (act.kind) {
      case 'paint':
        kernel.layColour(base, cover, within, made, TILE_PIXELS, ...act.rgb, whole)
        return
      case 'clone': {
        const source = this.ground.source?.(tx, ty) ?? 0
        if (source !== 0) kernel.layPicture(base, cover, within, source, made, TILE_PIXELS, whole)
        else this.copyBase({ cover, made, base, within })
        return
      }
      case 'erase':
        kernel.takeAway(base, cover, within, made, TILE_PIXELS, whole)
        return
      case 'mask':
        kernel.layMask(base, this.ground.outside, cover, within, made, TILE_PIXELS, act.value, whole)
        return
      case 'smudge':
      case 'soften':
      case 'sharpen':
        return
      default:
        kernel.turnTone(
          ...([base, cover, within, made, TILE_PIXELS, TOWARDS[act.kind]] as const),
          ...act.rgb,
          whole,
          ...act.range,
        )
    }
  }

  /** Nothing is covered beyond the grid's border. */
  private cutBeyond(cover: number, tx: number, ty: number): void {
    const { width, height } = this.ground.grid
    const [right, bottom] = [width - tx * TILE, height - ty * TILE]
    if (right >= TILE && bottom >= TILE) return
    const plane = this.tiles.floats(cover, TILE_PIXELS)
    for (let y = 0; y < TILE; y++)
      plane.fill(0, y * TILE + (y < bottom ? Math.max(0, Math.min(TILE, right)) : 0), (y + 1) * TILE)
  }
}

const isEven = (words: Uint16Array, value: number): boolean => words.every((word) => word === value)
