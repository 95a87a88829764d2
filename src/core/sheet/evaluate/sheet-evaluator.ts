import { CancelledError } from '../../errors'
import { FLOAT_TILE_BYTES, inBlocks, KEPT_TILE_BYTES, TILE, TILE_PIXELS } from '../../picture/tile-form'
import { BLEND_MODES, type BlendMode } from '../blend-modes'
import { paintContent } from '../contents/registry'
import type { SheetResources } from '../sheet-resources'
import { blurTile, LEAST_SIGMA } from './blur-tile'
import { EffectTiles } from './effect-tiles'
import { EMPTY, FULL, type KeptTile, type KeptTiles } from './kept-tiles'
import { MaskTiles } from './mask-tiles'
import type {
  BeneathSource,
  Composition,
  MaskStep,
  ReadyEffect,
  SheetPlan,
  Source,
  Step,
  Weighing,
} from './plan-sheet'
import { tileNumber, Workbench } from './workbench'

type StepOf<K extends Step['kind']> = Extract<Step, { kind: K }>
type SourceOf<K extends Source['kind']> = Extract<Source, { kind: K }>

/** Numbers of the modes in the kernel: their order in the list. */
const modeNumber = (mode: BlendMode): number => BLEND_MODES.indexOf(mode)

/**
 * Makes tiles of a planned picture. What is dear, or asked for again, is kept in {@link KeptTiles}: contents, effects, masks,
 * groups, and of each composition what lies beneath the step at work. Everything is worked out from the plan alone, so any
 * order of tiles and any number of evaluators over one memory gives the same bits.
 */
export class SheetEvaluator {
  private readonly bench: Workbench
  private readonly masks: MaskTiles
  private readonly effects: EffectTiles
  /** Of each composition, the keys of its steps when it was last planned: they tell what is being worked on, … */
  private readonly lastKeys = new Map<string, readonly string[]>()
  /** … and before which step what lies beneath is kept. */
  private readonly keepAt = new Map<string, number>()
  private view = ''

  constructor(
    readonly tiles: KeptTiles,
    resources: SheetResources,
    isCancelled: () => boolean = () => false,
  ) {
    this.bench = new Workbench(tiles, resources, isCancelled)
    this.masks = new MaskTiles(this.bench)
    this.effects = new EffectTiles(this.bench, this.masks)
  }

  /**
   * Takes up a plan: tiles are of it until the next.
   * @param view tells series of pictures apart: what changed is told from the one before of the same series.
   */
  begin(plan: SheetPlan, view = 'proof'): void {
    this.bench.takeUp(plan)
    this.view = view
    this.note(plan.root)
  }

  /** Tiles across and down the planned picture. */
  get grid(): { readonly across: number; readonly down: number } {
    const { across, down } = this.bench
    return { across, down }
  }

  /** The part of a tile that lies within the picture. */
  sizeOf(tx: number, ty: number): { readonly width: number; readonly height: number } {
    const { x, y } = this.bench.lastOf(tx, ty)
    return { width: x + 1, height: y + 1 }
  }

  /** Notes which of the steps of a composition, and of those within it, is the first that differs from last time. */
  private note({ name, steps }: Composition): void {
    const own = `${this.view} ${name}`
    const keys = steps.map((step) => step.key)
    const before = this.lastKeys.get(own)
    const first = before ? keys.findIndex((key, i) => key !== before[i]) : -1
    if (first >= 0) this.keepAt.set(own, outOfGroups(steps, first))
    else if (before && before.length !== keys.length) this.keepAt.set(own, 0)
    this.lastKeys.set(own, keys)
    for (const step of steps) if ('source' in step) this.noteSource(step.source)
  }

  private noteSource(source: Source): void {
    if (source.kind === 'effect') this.noteSource(source.input)
    else if (source.kind === 'group') this.note(source.composition)
  }

  // ------------------------------------------------------------------ what is asked for

  /**
   * A tile of the planned picture: premultiplied display values, blocks of f32.
   * @param use is given its address, which is good only meanwhile.
   * @throws {CancelledError} @throws {NoRoomError}
   */
  tile<T>(tx: number, ty: number, use: (address: number) => T): T {
    return this.outermost((made) => {
      const { root } = this.bench.planned
      this.compose(root, root.steps.length, tx, ty, made)
      if (root.isLinear) this.toDisplay(made)
      return use(made)
    })
  }

  /** A tile of what a layer alone shows through its mask: premultiplied display values. See {@link tile}. */
  layerTile<T>(
    source: Source,
    mask: MaskStep | null,
    tx: number,
    ty: number,
    use: (address: number) => T,
  ): T {
    return this.outermost((made) => {
      const { kernel } = this.bench
      this.read(source, tx, ty, made)
      const shown = mask && this.masks.tile(mask, tx, ty)
      if (shown && shown.flags & EMPTY) kernel.fill(made, TILE_PIXELS, 0, 0, 0, 0)
      else kernel.premultiply(made, made, TILE_PIXELS)
      if (shown && !(shown.flags & (EMPTY | FULL))) {
        const [weights, clear] = [this.bench.room(), this.bench.room()]
        kernel.weighAll(weights, TILE_PIXELS, 1)
        kernel.weighByMask(weights, shown.address, TILE_PIXELS)
        kernel.fill(clear, TILE_PIXELS, 0, 0, 0, 0)
        kernel.mixBack(made, clear, weights, TILE_PIXELS, 1)
      }
      return use(made)
    })
  }

  /**
   * A tile of what one step brings, with all that weighs it made part of its alpha, but not its mode and opacity: for files whose
   * readers know neither masks nor gates. A wash, or the end of a group that is mixed, brings all that is seen then.
   * Premultiplied display values. See {@link tile}.
   */
  stepTile<T>(
    composition: Composition,
    index: number,
    tx: number,
    ty: number,
    use: (address: number) => T,
  ): T {
    return this.outermost((made) => {
      const { kernel } = this.bench
      const step = composition.steps[index]
      if (step.kind !== 'layer') this.compose(composition, index + 1, tx, ty, made)
      else {
        const beneath = this.bench.room()
        if (step.weighing.gate?.beneath) this.compose(composition, index, tx, ty, beneath)
        kernel.fill(made, TILE_PIXELS, 0, 0, 0, 0)
        const alone = { ...step, mode: 'normal' as const, opacity: 1 }
        this.layer(alone, tx, ty, made, beneath)
      }
      if (composition.isLinear) this.toDisplay(made)
      return use(made)
    })
  }

  /** A tile of what the first steps of a composition make: premultiplied display values. See {@link tile}. */
  beneathTile<T>(
    composition: Composition,
    count: number,
    tx: number,
    ty: number,
    use: (address: number) => T,
  ): T {
    return this.outermost((made) => {
      this.compose(composition, count, tx, ty, made)
      if (composition.isLinear) this.toDisplay(made)
      return use(made)
    })
  }

  /** Premultiplied linear light as premultiplied display values, in place. */
  private toDisplay(made: number): void {
    const { kernel } = this.bench
    kernel.straighten(made, made, TILE_PIXELS)
    kernel.encode(made, TILE_PIXELS)
    kernel.premultiply(made, made, TILE_PIXELS)
  }

  private outermost<T>(work: (made: number) => T): T {
    if (this.bench.isCancelled()) throw new CancelledError('The picture')
    try {
      return work(this.bench.room())
    } finally {
      this.bench.clear()
    }
  }

  // ------------------------------------------------------------------ compositions

  /** What the first steps of a composition make of a tile: premultiplied, in the blend space. */
  private compose(composition: Composition, count: number, tx: number, ty: number, to: number): void {
    const { steps, prefixes, ground, name } = composition
    const { kernel, tiles } = this.bench
    const keepAt = this.keepAt.get(`${this.view} ${name}`) ?? 0
    // 1. From a layer that hides all beneath it, or from what lies beneath the step at work, if that is kept.
    let start = this.hidden(composition, count, tx, ty)
    const isKeptAsked = keepAt > start && keepAt <= count
    const kept = isKeptAsked
      ? tiles.find(this.bench.key('beneath', prefixes[keepAt]), tileNumber(tx, ty))
      : null
    if (kept) {
      this.bench.copy(kept.address, to)
      start = keepAt
    } else kernel.fill(to, TILE_PIXELS, ...ground)
    // 2. Step by step.
    const remembered: number[] = []
    for (let i = start; i < count; i++) {
      if (i === keepAt && i > start) this.keepBeneath(prefixes[i], tx, ty, to)
      this.step(steps[i], tx, ty, to, remembered)
    }
    this.bench.release(...remembered)
  }

  /** The last step that hides everything beneath it in a tile; 0 where there is none. */
  private hidden({ steps }: Composition, count: number, tx: number, ty: number): number {
    for (let i = count - 1, depth = 0; i > 0; i--) {
      const step = steps[i]
      if (step.kind === 'end') depth++
      else if (step.kind === 'begin') depth--
      else if (depth === 0 && step.kind === 'layer' && covers(step)) {
        const mask = step.weighing.mask && this.masks.tile(step.weighing.mask, tx, ty)
        if (mask && !(mask.flags & FULL)) continue
        if (this.kept(step.source, tx, ty).flags & FULL && outOfGroups(steps, i) === i) return i
      }
    }
    return 0
  }

  private keepBeneath(prefix: string, tx: number, ty: number, from: number): void {
    const key = this.bench.key('beneath', prefix)
    this.tiles.obtain(key, tileNumber(tx, ty), FLOAT_TILE_BYTES, (address) => {
      this.bench.copy(from, address)
      return 0
    })
  }

  /** What the first steps of a composition make, kept: what a wash reads beyond its own tile. */
  private beneath({ composition, before }: BeneathSource, tx: number, ty: number): KeptTile {
    const key = this.bench.key('beneath', composition.prefixes[before])
    return this.tiles.obtain(key, tileNumber(tx, ty), FLOAT_TILE_BYTES, (address) => {
      const made = this.bench.room()
      this.compose(composition, before, tx, ty, made)
      this.bench.copy(made, address)
      this.bench.release(made)
      return 0
    })
  }

  private step(step: Step, tx: number, ty: number, to: number, remembered: number[]): void {
    switch (step.kind) {
      case 'begin': {
        const before = this.bench.room()
        this.bench.copy(to, before)
        remembered.push(before)
        return
      }
      case 'end':
        return this.takeBack(step, remembered.pop(), tx, ty, to)
      case 'wash':
        return this.wash(step, tx, ty, to)
      case 'layer':
        return this.layer(step, tx, ty, to)
    }
  }

  private takeBack(
    step: StepOf<'end'>,
    before: number | undefined,
    tx: number,
    ty: number,
    to: number,
  ): void {
    if (before === undefined) throw new Error('a group ends that did not begin')
    const tones = { own: to, isPremultiplied: true, beneath: before }
    const weights = this.weights(step.weighing, tx, ty, tones)
    if (weights === null) this.bench.copy(before, to)
    else {
      this.bench.kernel.mixBack(to, before, weights, TILE_PIXELS, step.opacity)
      this.bench.release(weights)
    }
    this.bench.release(before)
  }

  /** @param beneath what its gate looks at; what it is put over where left out. */
  private layer(step: StepOf<'layer'>, tx: number, ty: number, to: number, beneath = to): void {
    const { kernel } = this.bench
    const { weighing, opacity } = step
    const mode = modeNumber(step.mode)
    const mask = weighing.mask && this.masks.tile(weighing.mask, tx, ty)
    if (mask && mask.flags & EMPTY) return
    const shown = this.kept(step.source, tx, ty)
    if (shown.flags & EMPTY) return
    if (!weighing.confine && !weighing.gate) {
      if (mask && !(mask.flags & FULL))
        kernel.overKeptMasked(mode, to, shown.address, mask.address, TILE_PIXELS, opacity)
      else kernel.overKept(mode, to, shown.address, TILE_PIXELS, opacity)
      return
    }
    const own = weighing.gate?.own ? this.bench.room() : null
    if (own !== null) kernel.open(shown.address, own, TILE_PIXELS)
    const weights = this.weights(weighing, tx, ty, { own: own ?? 0, isPremultiplied: false, beneath })
    if (weights !== null) {
      kernel.overKeptWeighed(mode, to, shown.address, weights, TILE_PIXELS, opacity)
      this.bench.release(weights)
    }
    if (own !== null) this.bench.release(own)
  }

  private wash(step: StepOf<'wash'>, tx: number, ty: number, to: number): void {
    const { kernel, planned } = this.bench
    const made = this.bench.room()
    this.read(step.source, tx, ty, made, to)
    if (planned.root.isLinear) kernel.decode(made, TILE_PIXELS)
    const tones = { own: made, isPremultiplied: false, beneath: to }
    const weights = this.weights(step.weighing, tx, ty, tones)
    if (weights !== null) {
      // It works within the alpha that is there, which stays: its own is whole.
      kernel.makeOpaque(made, TILE_PIXELS)
      kernel.withinWeighed(modeNumber(step.mode), to, made, weights, TILE_PIXELS, step.opacity)
      this.bench.release(weights)
    }
    this.bench.release(made)
  }

  /**
   * What mask, confinement and gate leave of a tile, an f32 a pixel, in a room that is to be released. Null: nothing.
   * @param tones blocks of f32 in the blend space: what the layer shows, and what lies beneath it (premultiplied).
   */
  private weights(
    { mask, confine, gate }: Weighing,
    tx: number,
    ty: number,
    tones: { readonly own: number; readonly isPremultiplied: boolean; readonly beneath: number },
  ): number | null {
    const { kernel, planned } = this.bench
    const shown = mask && this.masks.tile(mask, tx, ty)
    if (shown && shown.flags & EMPTY) return null
    const base = confine && this.kept(confine.source, tx, ty)
    const baseMask = confine?.mask ? this.masks.tile(confine.mask, tx, ty) : null
    if (base && base.flags & EMPTY) return null
    if (baseMask && baseMask.flags & EMPTY) return null
    const weights = this.bench.room()
    kernel.weighAll(weights, TILE_PIXELS, 1)
    if (shown && !(shown.flags & FULL)) kernel.weighByMask(weights, shown.address, TILE_PIXELS)
    if (confine && base) kernel.weighByKeptAlpha(weights, base.address, TILE_PIXELS, confine.opacity)
    if (baseMask && !(baseMask.flags & FULL)) kernel.weighByMask(weights, baseMask.address, TILE_PIXELS)
    const linear = planned.root.isLinear ? 1 : 0
    const premultiplied = tones.isPremultiplied ? 1 : 0
    if (gate?.own) kernel.weighByTone(weights, tones.own, TILE_PIXELS, linear, premultiplied, ...gate.own)
    if (gate?.beneath) kernel.weighByTone(weights, tones.beneath, TILE_PIXELS, linear, 1, ...gate.beneath)
    return weights
  }

  // ------------------------------------------------------------------ sources

  /** A source as layers are blended from it: straight, 16 bits, in the blend space. */
  private kept(source: Source, tx: number, ty: number): KeptTile {
    const { kernel, planned } = this.bench
    const { isLinear } = planned.root
    if (source.kind === 'content' && !isLinear) return this.content(source, tx, ty)
    const key = this.bench.key(isLinear ? 'linear' : 'shown', source.key)
    return this.tiles.obtain(key, tileNumber(tx, ty), KEPT_TILE_BYTES, (address) => {
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
  private content({ key, content }: SourceOf<'content'>, tx: number, ty: number): KeptTile {
    const { kernel, tiles } = this.bench
    const name = this.bench.key('content', key)
    return tiles.obtain(name, tileNumber(tx, ty), KEPT_TILE_BYTES, (address) => {
      if (this.bench.isCancelled()) throw new CancelledError('The picture')
      const target = this.bench.target(tx, ty)
      const painted = paintContent(content, target)
      if (!painted) return EMPTY
      const { width, height } = target.window
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
    })
  }

  /** Pixels of a border tile that lie beyond the picture become clear: they held what was there before. */
  private clearBeyond(kept: number, width: number, height: number): void {
    if (width === TILE && height === TILE) return
    const words = new Uint16Array(this.tiles.memory.buffer, kept, 4 * TILE_PIXELS)
    for (let y = 0; y < height; y++)
      for (let x = width; x < TILE; x++) for (let c = 0; c < 4; c++) words[inBlocks(y * TILE + x, c)] = 0
    words.fill(0, 4 * TILE * height)
  }

  /**
   * A tile of a source: straight display values, blocks of f32.
   * @param under what lies beneath a wash in this very tile: premultiplied, in the blend space.
   * @returns flags: EMPTY where it is known to be wholly clear.
   */
  private read(source: Source, tx: number, ty: number, to: number, under?: number): number {
    const { kernel, planned } = this.bench
    switch (source.kind) {
      case 'content': {
        const { flags, address } = this.content(source, tx, ty)
        if (flags & EMPTY) kernel.fill(to, TILE_PIXELS, 0, 0, 0, 0)
        else kernel.open(address, to, TILE_PIXELS)
        return flags
      }
      case 'effect':
        return this.readEffects(source, tx, ty, to, under)
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

  /** Effects of each pixel alone that follow each other work on one tile; a blur reads what lies about it. */
  private readEffects(
    source: SourceOf<'effect'>,
    tx: number,
    ty: number,
    to: number,
    under?: number,
  ): number {
    const chain: ReadyEffect[] = []
    let input: Source = source
    while (input.kind === 'effect' && input.effect.work.by !== 'blur') {
      chain.unshift(input.effect)
      input = input.input
    }
    const flags =
      input.kind === 'effect' ? this.readBlurred(input, tx, ty, to) : this.read(input, tx, ty, to, under)
    if (!(flags & EMPTY)) this.effects.apply(chain, tx, ty, to)
    return flags & EMPTY
  }

  private readBlurred({ effect, input }: SourceOf<'effect'>, tx: number, ty: number, to: number): number {
    const { kernel, planned } = this.bench
    const sigmaPx = effect.work.by === 'blur' ? effect.work.sigmaPx * planned.scale : 0
    if (sigmaPx < LEAST_SIGMA) return this.read(input, tx, ty, to)
    const read = (x: number, y: number, at: number): number => {
      const flags = this.read(input, x, y, at)
      if (!(flags & EMPTY)) kernel.premultiply(at, at, TILE_PIXELS)
      return flags
    }
    blurTile(this.bench, { key: input.key, read }, sigmaPx, tx, ty, to)
    kernel.straighten(to, to, TILE_PIXELS)
    if (effect.opacity < 1 || effect.mask) {
      const before = this.bench.room()
      this.read(input, tx, ty, before)
      this.effects.mix(before, to, effect, tx, ty)
      this.bench.release(before)
    }
    return 0
  }
}

/** Whether a layer, where it is opaque, hides all that lies beneath it. */
const covers = ({ mode, opacity, weighing }: StepOf<'layer'>): boolean =>
  mode === 'normal' && opacity === 1 && !weighing.confine && !weighing.gate

/** A step, or the first one of the outermost pass-through group it lies in: within one nothing can be kept. */
function outOfGroups(steps: readonly Step[], at: number): number {
  const open: number[] = []
  for (let i = 0; i < at; i++) {
    if (steps[i].kind === 'begin') open.push(i)
    else if (steps[i].kind === 'end') open.pop()
  }
  return open[0] ?? at
}
