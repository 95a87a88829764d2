// One file: every source of tiles in every form, side by side.
import { CancelledError } from '../../errors'
import { FLOAT_TILE_BYTES, inBlocks, KEPT_TILE_BYTES, TILE, TILE_PIXELS } from '../../picture/tile-form'
import type { EffectWork } from '../../effects/effect-kind'
import type { Tile } from '../../passes/tile'
import { paintContent } from '../contents/registry'
import { frameWindow } from '../contents/sheet'
import type { RenderSize } from '../sheet-resources'
import { blurTile, LEAST_SIGMA } from './blur-tile'
import { areaTile } from './area-tile'
import type { Beside, EffectTiles } from './effect-tiles'
import { EMPTY, type KeptTile } from './kept-tiles'
import type { MaskTiles } from './mask-tiles'
import { MapTiles, type ReadLayer } from './map-tiles'
import type { BeneathSource, Composition, Finer, ReadyEffect, ShownSheet, Source } from './sheet-plan'
import { PaintedTiles } from './painted-tiles'
import { CastTiles } from './cast-tiles'
import { PrintTiles } from './print-tiles'
import type { SheetTiles } from './sheet-tiles'
import { tileNumber, type Workbench } from './workbench'

type SourceOf<K extends Source['kind']> = Extract<Source, { kind: K }>

/** What the first steps of a composition make of a tile: premultiplied, in the blend space. */
export type Compose = (composition: Composition, count: number, tx: number, ty: number, to: number) => void

/** Makes and keeps tiles of what layers are made of: contents, effects over them, groups, what lies beneath a wash. */
export class SourceTiles {
  constructor(
    private readonly bench: Workbench,
    private readonly effects: EffectTiles,
    private readonly compose: Compose,
    readLayer: ReadLayer,
    private readonly masks: MaskTiles,
    private readonly sheets: SheetTiles,
  ) {
    this.painted = new PaintedTiles(bench)
    this.prints = new PrintTiles(bench, sheets)
    this.casts = new CastTiles(bench, (source, tx, ty, to) => this.read(source, tx, ty, to))
    const read = (source: Source, tx: number, ty: number, to: number) => void this.read(source, tx, ty, to)
    this.beside = { read, maps: new MapTiles(bench, readLayer, (step, tx, ty) => masks.tile(step, tx, ty)) }
  }

  /** The maps that effects and masks ask for. */
  get maps(): MapTiles {
    return this.beside.maps
  }

  /** A source as layers are blended from it: straight, 16 bits, in the blend space. */
  kept(source: Source, tx: number, ty: number): KeptTile {
    const { kernel, planned } = this.bench
    const { isLinear } = planned.root
    if (source.kind === 'content' && !isLinear) return this.content(source, tx, ty)
    if (source.kind === 'sheet' && !isLinear) return this.shown(source, tx, ty)
    if (source.kind === 'print' && !isLinear) return this.printed(source, tx, ty)
    if (source.kind === 'cast' && !isLinear) return this.cast(source, tx, ty)
    const key = this.bench.tileKey(isLinear ? 'linear' : 'shown', source, tx, ty)
    return this.bench.tiles.obtain(key, tileNumber(tx, ty), KEPT_TILE_BYTES, (address) => {
      const made = this.bench.room()
      if (source.kind === 'group') {
        const { composition } = source
        this.compose(composition, composition.steps.length, tx, ty, made)
        kernel.straighten(made, made, TILE_PIXELS)
      } else {
        const flags = this.read(source, tx, ty, made)
        if (flags & EMPTY) {
          this.bench.release(made)
          return EMPTY
        }
        if (isLinear) kernel.decode(made, TILE_PIXELS)
      }
      kernel.keep(made, address, TILE_PIXELS)
      this.bench.release(made)
      return kernel.keptFlags(address, TILE_PIXELS)
    })
  }

  /** A content: straight, 16 bits, display values. */
  private content(source: SourceOf<'content'>, tx: number, ty: number): KeptTile {
    const { tiles } = this.bench
    const { content, finer } = source
    const name = this.bench.tileKey('content', source, tx, ty)
    return tiles.obtain(name, tileNumber(tx, ty), KEPT_TILE_BYTES, (address) => {
      if (this.bench.isCancelled()) throw new CancelledError('The picture')
      if (finer && quarters(finer, tx, ty).every(([x, y]) => this.isAtHand(finer, x, y)))
        return this.halve(finer, tx, ty, this.bench.lastOf(tx, ty), address)
      if (content.kind === 'painted') return this.painted.make(content, tx, ty, address)
      const target = this.bench.target(tx, ty)
      const painted = paintContent(content, target)
      return painted ? this.keepPainted(painted, target.window, address) : EMPTY
    })
  }

  /** Keeps a window of straight display RGBA as a tile. @returns its flags. */
  private keepPainted(painted: Float32Array, { width, height }: Tile, address: number): number {
    const { kernel, tiles } = this.bench
    const [rows, blocks] = [this.bench.room(), this.bench.room()]
    const into = tiles.floats(rows, 4 * TILE_PIXELS)
    if (width === TILE) into.set(painted)
    else
      for (let y = 0; y < height; y++)
        into.set(painted.subarray(4 * width * y, 4 * width * (y + 1)), 4 * TILE * y)
    kernel.rowsToBlocks(rows, blocks, TILE_PIXELS)
    kernel.keep(blocks, address, TILE_PIXELS)
    this.bench.release(rows, blocks)
    this.clearBeyond(address, width, height)
    return kernel.keptFlags(address, TILE_PIXELS)
  }

  /** A tile of another sheet in its frame: straight, 16 bits, display values. */
  private shown(source: SourceOf<'sheet'>, tx: number, ty: number): KeptTile {
    const { key, shown, name, finer } = source
    const own: Finer = { key, shown, finer, size: this.bench.planned.size }
    return this.shownAt(own, name, tx, ty)
  }

  /**
   * The same of a view of any size. Where some of it is there more finely the rest is made as fine: what the sheet looks at about
   * a pixel is there already then, of a coarser picture nothing is.
   */
  private shownAt(own: Finer, name: string, tx: number, ty: number): KeptTile {
    const { key, shown, finer, size } = own
    const { bench } = this
    if (!shown) throw new Error('a sheet is to be made that is not planned')
    return bench.tiles.obtain(bench.key('content', key), tileNumber(tx, ty), KEPT_TILE_BYTES, (address) => {
      if (bench.isCancelled()) throw new CancelledError('The picture')
      const window = windowOf(size, tx, ty)
      if (finer && this.isPartlyAtHand(finer, tx, ty)) {
        const last = { x: window.width - 1, y: window.height - 1 }
        return this.halve(finer, tx, ty, last, address, (x, y) => this.shownAt(finer, name, x, y))
      }
      return this.keepPainted(this.paintShown(shown, name, size, window), window, address)
    })
  }

  private paintShown(
    { plan, lies, frame, scale }: ShownSheet,
    name: string,
    view: RenderSize,
    window: Tile,
  ): Float32Array {
    const { tiles } = this.bench
    const painted = new Float32Array(4 * window.width * window.height)
    const right = Math.min(window.x + window.width, lies.x + lies.width)
    const below = Math.min(window.y + window.height, lies.y + lies.height)
    const left = Math.max(window.x, lies.x)
    const top = Math.max(window.y, lies.y)
    for (let y = Math.floor((top - lies.y) / TILE); y * TILE + lies.y < below && top < below; y++)
      for (let x = Math.floor((left - lies.x) / TILE); x * TILE + lies.x < right && left < right; x++)
        this.sheets.tile(name, plan, x, y, (at) =>
          pasteTile(
            tiles.floats(at, 4 * TILE_PIXELS),
            x * TILE + lies.x,
            y * TILE + lies.y,
            lies,
            window,
            painted,
          ),
        )
    frameWindow(frame, painted, window, view, scale)
    return painted
  }

  /** A tile of another sheet that is printed on something: straight, 16 bits, display values. */
  private printed(source: SourceOf<'print'>, tx: number, ty: number): KeptTile {
    const name = this.bench.tileKey('content', source, tx, ty)
    return this.bench.tiles.obtain(name, tileNumber(tx, ty), KEPT_TILE_BYTES, (address) => {
      if (this.bench.isCancelled()) throw new CancelledError('The picture')
      const { finer, beneath } = source
      if (finer && quarters(finer, tx, ty).every(([x, y]) => this.isAtHand(finer, x, y)))
        return this.halve(finer, tx, ty, this.bench.lastOf(tx, ty), address)
      const below = beneath && this.beneath(beneath, tx, ty).address
      const painted = this.prints.make(source, tx, ty, below)
      return painted ? this.keepPainted(painted, this.bench.target(tx, ty).window, address) : EMPTY
    })
  }

  /** A tile of what a layer throws on the surfaces of the shot: straight, 16 bits, display values. */
  private cast(source: SourceOf<'cast'>, tx: number, ty: number): KeptTile {
    const name = this.bench.tileKey('content', source, tx, ty)
    return this.bench.tiles.obtain(name, tileNumber(tx, ty), KEPT_TILE_BYTES, (address) => {
      if (this.bench.isCancelled()) throw new CancelledError('The picture')
      const painted = this.casts.make(source, tx, ty)
      return painted ? this.keepPainted(painted, this.bench.target(tx, ty).window, address) : EMPTY
    })
  }

  /** Whether any of what a tile of a coarser view can be made of is kept. */
  private isPartlyAtHand(finer: Finer, tx: number, ty: number): boolean {
    const { bench } = this
    const name = bench.key('content', finer.key)
    return quarters(finer, tx, ty).some(
      ([x, y]) =>
        bench.tiles.find(name, tileNumber(x, y)) ||
        (finer.finer !== null && this.isPartlyAtHand(finer.finer, x, y)),
    )
  }

  /** Whether a tile of a content is kept, or those that it can be made of. */
  private isAtHand({ key, finer }: Finer, tx: number, ty: number): boolean {
    if (this.bench.tiles.find(this.bench.key('content', key), tileNumber(tx, ty))) return true
    return finer !== null && quarters(finer, tx, ty).every(([x, y]) => this.isAtHand(finer, x, y))
  }

  /** A tile of a content that {@link isAtHand}. */
  private atHand({ key, finer, size }: Finer, tx: number, ty: number): KeptTile {
    const name = this.bench.key('content', key)
    return this.bench.tiles.obtain(name, tileNumber(tx, ty), KEPT_TILE_BYTES, (address) => {
      if (!finer) throw new Error('a tile that was at hand is gone')
      const last = { x: size.width - tx * TILE - 1, y: size.height - ty * TILE - 1 }
      return this.halve(finer, tx, ty, last, address)
    })
  }

  /**
   * Writes a tile of means of the tiles of a view twice as large.
   * @param last its last column and row within the picture. @param partOf gives those.
   */
  private halve(
    finer: Finer,
    tx: number,
    ty: number,
    last: { readonly x: number; readonly y: number },
    address: number,
    partOf = (x: number, y: number): KeptTile => this.atHand(finer, x, y),
  ): number {
    const { kernel, tiles } = this.bench
    tiles.bytes(address, KEPT_TILE_BYTES).fill(0)
    for (const [x, y] of quarters(finer, tx, ty)) {
      const part = partOf(x, y)
      if (!(part.flags & EMPTY)) kernel.halve(part.address, address, x - 2 * tx, y - 2 * ty)
    }
    this.clearBeyond(address, Math.min(TILE, last.x + 1), Math.min(TILE, last.y + 1))
    return kernel.keptFlags(address, TILE_PIXELS)
  }

  /** Pixels of a border tile that lie beyond the picture become clear: they held what was there before. */
  private clearBeyond(kept: number, width: number, height: number): void {
    if (width === TILE && height === TILE) return
    const words = new Uint16Array(this.bench.tiles.memory.buffer, kept, 4 * TILE_PIXELS)
    for (let y = 0; y < height; y++)
      for (let x = width; x < TILE; x++) for (let c = 0; c < 4; c++) words[inBlocks(y * TILE + x, c)] = 0
    words.fill(0, 4 * TILE * height)
  }

  /**
   * A tile of a source: straight display values, blocks of f32.
   * @param under what lies beneath a wash in this very tile: premultiplied, in the blend space.
   * @returns flags: EMPTY where it is known to be wholly clear.
   */
  read(source: Source, tx: number, ty: number, to: number, under?: number): number {
    const { kernel, planned } = this.bench
    switch (source.kind) {
      case 'content': {
        const { flags, address } = this.content(source, tx, ty)
        if (flags & EMPTY) kernel.fill(to, TILE_PIXELS, 0, 0, 0, 0)
        else kernel.open(address, to, TILE_PIXELS)
        return flags
      }
      case 'sheet':
      case 'print':
      case 'cast': {
        const { flags, address } =
          source.kind === 'sheet'
            ? this.shown(source, tx, ty)
            : source.kind === 'print'
              ? this.printed(source, tx, ty)
              : this.cast(source, tx, ty)
        if (flags & EMPTY) kernel.fill(to, TILE_PIXELS, 0, 0, 0, 0)
        else kernel.open(address, to, TILE_PIXELS)
        return flags
      }
      case 'effect':
        return this.readEffects(source, tx, ty, to, under)
      case 'mask': {
        const { flags, address } = this.masks.tile(source.mask, tx, ty)
        if (flags & EMPTY) kernel.fill(to, TILE_PIXELS, 0, 0, 0, 1)
        else {
          kernel.maskToBlocks(address, to, TILE_PIXELS)
          kernel.makeOpaque(to, TILE_PIXELS)
        }
        return 0
      }
      case 'group': {
        const { flags, address } = this.kept(source, tx, ty)
        if (flags & EMPTY) {
          kernel.fill(to, TILE_PIXELS, 0, 0, 0, 0)
          return flags
        }
        kernel.open(address, to, TILE_PIXELS)
        break
      }
      case 'beneath':
        if (under === undefined) this.bench.copy(this.beneath(source, tx, ty).address, to)
        else this.bench.copy(under, to)
        kernel.straighten(to, to, TILE_PIXELS)
    }
    if (planned.root.isLinear) kernel.encode(to, TILE_PIXELS)
    return 0
  }

  /**
   * Effects of each pixel alone that follow each other work on one tile; others read what lies about it. What took long is
   * kept where more effects follow: they are what a hand then moves.
   */
  private readEffects(
    source: SourceOf<'effect'>,
    tx: number,
    ty: number,
    to: number,
    under?: number,
  ): number {
    const chain: ReadyEffect[] = []
    let input: Source = source
    while (
      input.kind === 'effect' &&
      isOfPixels(input.effect.work) &&
      (chain.length === 0 || input.effect.work.by !== 'point')
    ) {
      chain.unshift(input.effect)
      input = input.input
    }
    if (chain.length === 0) return this.readMade(source, tx, ty, to)
    const flags =
      input.kind === 'effect' ? this.readKept(input, tx, ty, to, under) : this.read(input, tx, ty, to, under)
    const makes = chain.some(({ work }) => work.by === 'point')
    if (flags & EMPTY && !makes) return EMPTY
    this.effects.apply(chain, tx, ty, to, this.beside)
    return 0
  }

  /** A tile of an effect that others follow, by way of what is kept of it: straight display values, blocks of f32. */
  private readKept(
    source: SourceOf<'effect'>,
    tx: number,
    ty: number,
    to: number,
    under: number | undefined,
  ): number {
    const { kernel, tiles, planned } = this.bench
    // As a layer would be blended from it, where that is of display values too.
    const key = this.bench.tileKey(planned.root.isLinear ? 'made' : 'shown', source, tx, ty)
    const { address, flags } = tiles.obtain(key, tileNumber(tx, ty), KEPT_TILE_BYTES, (at) => {
      const made = this.bench.room()
      const read = this.readEffects(source, tx, ty, made, under)
      if (!(read & EMPTY)) kernel.keep(made, at, TILE_PIXELS)
      this.bench.release(made)
      return read & EMPTY ? EMPTY : kernel.keptFlags(at, TILE_PIXELS)
    })
    if (flags & EMPTY) kernel.fill(to, TILE_PIXELS, 0, 0, 0, 0)
    else kernel.open(address, to, TILE_PIXELS)
    return flags
  }

  private readonly beside: Beside
  readonly painted: PaintedTiles
  private readonly prints: PrintTiles
  private readonly casts: CastTiles

  private readMade({ effect, input }: SourceOf<'effect'>, tx: number, ty: number, to: number): number {
    const { kernel, planned } = this.bench
    const { work } = effect
    const sigmaPx = work.by === 'blur' ? work.sigmaPx * planned.scale : 0
    if (work.by === 'blur' && sigmaPx < LEAST_SIGMA) return this.read(input, tx, ty, to)
    const read = (x: number, y: number, at: number): number => {
      const flags = this.read(input, x, y, at)
      if (!(flags & EMPTY)) kernel.premultiply(at, at, TILE_PIXELS)
      return flags
    }
    const { maps } = this.beside
    if (work.by === 'blur') blurTile(this.bench, { of: input, read }, sigmaPx, tx, ty, to)
    else if (work.by === 'area')
      areaTile(this.bench, maps, { of: input, read }, work, effect.maps, tx, ty, to)
    kernel.straighten(to, to, TILE_PIXELS)
    if (effect.opacity < 1 || effect.mask) {
      const before = this.bench.room()
      this.read(input, tx, ty, before)
      this.effects.mix(before, to, effect, tx, ty)
      this.bench.release(before)
    }
    return 0
  }

  /** What the first steps of a composition make, kept: what a wash reads beyond its own tile. */
  private beneath({ composition, before }: BeneathSource, tx: number, ty: number): KeptTile {
    const key = this.bench.tileKey('beneath', composition.prefixes[before], tx, ty)
    return this.bench.tiles.obtain(key, tileNumber(tx, ty), FLOAT_TILE_BYTES, (address) => {
      const made = this.bench.room()
      this.compose(composition, before, tx, ty, made)
      this.bench.copy(made, address)
      this.bench.release(made)
      return 0
    })
  }
}

/** Puts what of a tile of a sheet lies in a window into it, straight. @param blocks of the tile, premultiplied. */
function pasteTile(
  blocks: Float32Array,
  tileX: number,
  tileY: number,
  lies: Tile,
  window: Tile,
  painted: Float32Array,
): void {
  const fromX = Math.max(window.x, tileX)
  const toX = Math.min(window.x + window.width, tileX + TILE, lies.x + lies.width)
  const fromY = Math.max(window.y, tileY)
  const toY = Math.min(window.y + window.height, tileY + TILE, lies.y + lies.height)
  for (let y = fromY; y < toY; y++)
    for (let x = fromX; x < toX; x++) {
      const from = inBlocks((y - tileY) * TILE + x - tileX, 0)
      const alpha = blocks[from + 12]
      if (alpha <= 0) continue
      const to = 4 * ((y - window.y) * window.width + x - window.x)
      for (let c = 0; c < 3; c++) painted[to + c] = blocks[from + 4 * c] / alpha
      painted[to + 3] = alpha
    }
}

/** A tile as far as it lies within a picture. */
function windowOf({ width, height }: RenderSize, tx: number, ty: number): Tile {
  const [x, y] = [tx * TILE, ty * TILE]
  return { x, y, width: Math.min(TILE, width - x), height: Math.min(TILE, height - y) }
}

/** The tiles of a view twice as large that make up a tile: those that lie in it. */
function quarters({ size }: Finer, tx: number, ty: number): (readonly [number, number])[] {
  const own: (readonly [number, number])[] = []
  for (const y of [2 * ty, 2 * ty + 1])
    for (const x of [2 * tx, 2 * tx + 1])
      if (x * TILE < size.width && y * TILE < size.height) own.push([x, y])
  return own
}

/** Whether a work looks at each pixel alone. */
const isOfPixels = ({ by }: EffectWork): boolean => by === 'tone' || by === 'colour' || by === 'point'
