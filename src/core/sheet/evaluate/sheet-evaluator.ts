// One file: one evaluator, whose tiles and plan every step reads.
import { CancelledError } from '../../errors'
import { FLOAT_TILE_BYTES, TILE_PIXELS } from '../../picture/tile-form'
import { BLEND_MODES, type BlendMode } from '../blend-modes'
import type { PaintGrid } from '../../paint/paint-grid'
import type { PaintUses } from '../../paint/paint-use'
import type { SheetResources } from '../sheet-resources'
import { EffectTiles } from './effect-tiles'
import { EMPTY, FULL, type KeptTile, type KeptTiles, type StepKey } from './kept-tiles'
import { MaskTiles } from './mask-tiles'
import type { Composition, Keyed, MaskStep, SheetPlan, Source, Step, Weighing } from './sheet-plan'
import { SourceTiles } from './source-tiles'
import { tileNumber, Workbench } from './workbench'

type StepOf<K extends Step['kind']> = Extract<Step, { kind: K }>

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
  private readonly sources: SourceTiles
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
    const effects = new EffectTiles(this.bench, this.masks)
    const shown = { tile: this.shownTile }
    this.sources = new SourceTiles(this.bench, effects, this.compose, this.readLayer, this.masks, shown)
    this.masks.serve(this.sources)
  }

  /**
   * Takes up a plan: tiles are of it until the next.
   * @param view tells series of pictures apart: what changed is told from the one before of the same series.
   */
  begin(plan: SheetPlan, view = 'proof'): void {
    this.bench.takeUp(plan)
    this.view = plan.coarse === 1 ? view : `${view}, coarse by ${plan.coarse}`
    this.note(plan.root, view)
  }

  /** Of sheets that layers show, by the layer: each is a picture of its own over the same memory. */
  private readonly shownSheets = new Map<
    string,
    { readonly evaluator: SheetEvaluator; plan: SheetPlan | null }
  >()

  private readonly shownTile = (
    name: string,
    plan: SheetPlan,
    tx: number,
    ty: number,
    use: (address: number) => void,
  ): void => {
    let own = this.shownSheets.get(name)
    if (!own) {
      const { resources, isCancelled } = this.bench
      own = { evaluator: new SheetEvaluator(this.tiles, resources, isCancelled), plan: null }
      this.shownSheets.set(name, own)
    }
    if (own.plan !== plan) own.evaluator.begin(plan, this.view)
    own.plan = plan
    own.evaluator.tile(tx, ty, use)
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

  /**
   * Notes which of the steps of a composition, and of those within it, is the first that differs from last time.
   * @param fine the series of the fine picture: a first coarser one is of the same edit.
   */
  private note({ name, steps }: Composition, fine: string): void {
    const own = `${this.view} ${name}`
    const keys = steps.map(({ key, paints }) => (paints.length === 0 ? key : key + numbersOf(paints)))
    const before = this.lastKeys.get(own)
    const first = before ? keys.findIndex((key, i) => key !== before[i]) : -1
    if (first >= 0) this.keepAt.set(own, outOfGroups(steps, first))
    else if (before && before.length !== keys.length) this.keepAt.set(own, 0)
    else if (!before) this.keepAt.set(own, Math.min(steps.length, this.keepAt.get(`${fine} ${name}`) ?? 0))
    this.lastKeys.set(own, keys)
    for (const step of steps) if ('source' in step) this.noteSource(step.source, fine)
  }

  private noteSource(source: Source, fine: string): void {
    if (source.kind === 'effect') this.noteSource(source.input, fine)
    else if (source.kind === 'group') this.note(source.composition, fine)
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

  /**
   * The name of a tile of the planned picture: equal names, equal pixels. Layers that bring nothing to it do not count, nor what
   * an opaque one hides: an edit changes the names of no more tiles than it must. What tells them is made, and kept.
   */
  tileKey(tx: number, ty: number): StepKey {
    return this.outermost(() => {
      const { steps, prefixes } = this.bench.planned.root
      let { a, b } = this.bench.tileKey('tile', prefixes[0], tx, ty)
      for (let i = this.hidden(this.bench.planned.root, steps.length, tx, ty); i < steps.length; i++) {
        const step = steps[i]
        if (step.kind === 'layer' && this.isClear(step, tx, ty)) continue
        const own = this.bench.tileKey('step', step, tx, ty)
        a = Math.imul(a ^ own.a, 0x85ebca6b)
        a ^= a >>> 13
        b = Math.imul(b ^ own.b ^ a, 0xc2b2ae35)
        b ^= b >>> 16
      }
      return { a, b }
    })
  }

  private isClear({ weighing, source }: StepOf<'layer'>, tx: number, ty: number): boolean {
    if (weighing.mask && this.masks.tile(weighing.mask, tx, ty).flags & EMPTY) return true
    return (this.sources.kept(source, tx, ty).flags & EMPTY) !== 0
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
      this.readLayer(source, mask, tx, ty, made)
      return use(made)
    })
  }

  /** A tile of a mask: a byte a pixel, kept. @throws {CancelledError} @throws {NoRoomError} */
  maskTile(step: MaskStep, tx: number, ty: number): KeptTile {
    return this.outermost(() => this.masks.tile(step, tx, ty))
  }

  /** A tile of something painted as it is stored, kept. @param isMask of which of the two forms it is. */
  paintedTile(grid: PaintGrid, tx: number, ty: number, isMask: boolean): KeptTile {
    return this.sources.painted.stored(grid, tx, ty, isMask)
  }

  /** Writes what a layer alone shows through its mask: premultiplied display values. */
  private readonly readLayer = (
    source: Source,
    mask: MaskStep | null,
    tx: number,
    ty: number,
    made: number,
  ): void => {
    const { kernel } = this.bench
    this.sources.read(source, tx, ty, made)
    const shown = mask && this.masks.tile(mask, tx, ty)
    if (shown && shown.flags & EMPTY) kernel.fill(made, TILE_PIXELS, 0, 0, 0, 0)
    else kernel.premultiply(made, made, TILE_PIXELS)
    if (!shown || shown.flags & (EMPTY | FULL)) return
    const [weights, clear] = [this.bench.room(), this.bench.room()]
    kernel.weighAll(weights, TILE_PIXELS, 1)
    kernel.weighByMask(weights, shown.address, TILE_PIXELS)
    kernel.fill(clear, TILE_PIXELS, 0, 0, 0, 0)
    kernel.mixBack(made, clear, weights, TILE_PIXELS, 1)
    this.bench.release(weights, clear)
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
  private readonly compose = (
    composition: Composition,
    count: number,
    tx: number,
    ty: number,
    to: number,
  ): void => {
    const { steps, prefixes, ground, name } = composition
    const { kernel, tiles } = this.bench
    const keepAt = this.keepAt.get(`${this.view} ${name}`) ?? 0
    // 1. From a layer that hides all beneath it, or from what lies beneath the step at work, if that is kept.
    let start = this.hidden(composition, count, tx, ty)
    const isKeptAsked = keepAt > start && keepAt <= count
    const kept = isKeptAsked
      ? tiles.find(this.bench.tileKey('beneath', prefixes[keepAt], tx, ty), tileNumber(tx, ty))
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
        if (this.sources.kept(step.source, tx, ty).flags & FULL && outOfGroups(steps, i) === i) return i
      }
    }
    return 0
  }

  private keepBeneath(prefix: Keyed, tx: number, ty: number, from: number): void {
    const key = this.bench.tileKey('beneath', prefix, tx, ty)
    this.tiles.obtain(key, tileNumber(tx, ty), FLOAT_TILE_BYTES, (address) => {
      this.bench.copy(from, address)
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
    const shown = this.sources.kept(step.source, tx, ty)
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
    this.sources.read(step.source, tx, ty, made, to)
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
    const base = confine && this.sources.kept(confine.source, tx, ty)
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
}

const numbers = new WeakMap<object, number>()
let counted = 0

/** Tells what is painted from what was painted before. */
const numbersOf = (paints: PaintUses): string =>
  paints
    .map(({ grid: { tiles } }) => {
      const known = numbers.get(tiles) ?? ++counted
      numbers.set(tiles, known)
      return ` ${known}`
    })
    .join('')

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
