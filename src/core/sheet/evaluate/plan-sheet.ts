// One file: one walk over the tree, whose steps call each other for groups, masks and washes.
import { MOST_REACH, type EffectWork } from '../../effects/effect-kind'
import { bothUses, NO_PAINT, paintUse, reachingUses, type PaintUses } from '../../paint/paint-use'
import { regionName } from '../../paint/paint-grid'
import { TILE } from '../../picture/tile-form'
import { parseHex, srgbToLinear } from '../../math/colour'
import { hashJson, hashText } from '../../math/stable-hash'
import { partDepths, partsNearer } from '../../passes/part-depths'
import { SHOT_MAPS, type MapRequest } from '../../passes/shot-maps'
import { contentShotPasses, contentUses, isPainted } from '../contents/registry'
import { CAST_BLURS, type CastShadow } from '../contents/cast-shadow'
import { sheetBox, type SheetFrame } from '../contents/sheet'
import { boxInView } from '../picture-lies'
import { passPlacement } from '../pass-placement'
import type { RenderSize, SheetResources } from '../sheet-resources'
import { nearerGrid } from './nearer-grid'
import { printAspect, printSize, renderedHash, trimOf, type Printed } from './plan-print'
import { hasContent, type Mask, type Sheet, type SheetEffect, type SheetNode } from '../sheet-schema'
import { childrenOf } from '../sheet-tree'
import { isSurfaceTerm, termMaps, termUses, type MaskTerm } from '../terms/registry'
import { readyEffects } from './effect-works'
import { coarser, within } from './sheet-plan'
import type {
  BeneathSource,
  Coarseness,
  Composition,
  Finer,
  Keyed,
  MapStep,
  MaskStep,
  SheetPlan,
  ShownSheet,
  SheetView,
  Source,
  Step,
  Weighing,
} from './sheet-plan'

const CLEAR = [0, 0, 0, 0] as const

/** What a view leaves out of the sheet that lies in a frame. */
function leftOutWithin(
  without: ReadonlySet<string> = new Set(),
  frameId: string,
): { readonly layers: ReadonlySet<string>; readonly ground: boolean } {
  const prefix = within(frameId, null)
  const inner = [...without].filter((id) => id.startsWith(prefix)).map((id) => id.slice(prefix.length))
  return { layers: new Set(inner), ground: inner.includes('') }
}

/** What was painted by hand of what a layer is weighed by. */
const paintsOf = ({ mask, confine }: Weighing): PaintUses =>
  bothUses(mask?.paints ?? NO_PAINT, confine?.source.paints ?? NO_PAINT, confine?.mask?.paints ?? NO_PAINT)

/** Hashes of parts of the document, by identity: parts that an edit left alone are not looked at again. */
const hashes = new WeakMap<object, string>()
function hashOf(part: object): string {
  const known = hashes.get(part)
  if (known !== undefined) return known
  const made = hashJson(part)
  hashes.set(part, made)
  return made
}
/**
 * The hash of a mask term; of one that is painted, without what is painted: the names of its tiles tell that. Of one that stands
 * at a depth without the depth: its map tells what is nearer.
 */
const termHash = (term: MaskTerm): string =>
  term.kind === 'painted'
    ? hashJson({ ...term, tiles: null })
    : term.kind === 'standing'
      ? hashJson({ ...term, depth: null })
      : hashOf(term)
const join = (...parts: readonly (string | number | boolean)[]): string => hashText(parts.join('\n'))

/** Plans one picture after the other of sheets that share most of what they are made of. */
class Planner {
  private readonly isLinear: boolean
  /** What of view and sheet changes every content and mask. */
  private readonly frame: string

  constructor(
    private readonly sheet: Sheet,
    private readonly view: SheetView,
    private readonly resources: SheetResources,
  ) {
    this.isLinear = sheet.blendSpace === 'linear'
    this.frame = this.frameOf(view.coarse ?? 1)
  }

  private frameOf(coarse: Coarseness): string {
    const { width, height } = this.view.size
    const { sheet } = this
    const lies = sheet.lies ? hashOf(sheet.lies) : ''
    return [width, height, coarse, sheet.width, sheet.height, sheet.fit, lies].join(' ')
  }

  plan(): SheetPlan {
    const { sheet, view } = this
    const roots = sheet.roots.slice(0, view.upTo ?? sheet.roots.length)
    const { coarse = 1 } = view
    return {
      size: coarser(view.size, coarse),
      scale: view.size.width / sheet.width / coarse,
      coarse,
      sheet,
      isDraft: view.isDraft ?? false,
      root: this.composition('', roots, view.transparent ? null : sheet.background),
    }
  }

  private isShown = (node: SheetNode | undefined): node is SheetNode =>
    node !== undefined && node.visible && node.opacity > 0 && !this.view.without?.has(node.id)

  private composition(name: string, ids: readonly string[], background: string | null): Composition {
    const steps: Step[] = []
    const prefixes: Keyed[] = []
    const ground = background === null ? CLEAR : this.groundOf(background)
    let key = join('ground', this.frame, this.isLinear, ...ground)
    let paints = NO_PAINT
    const composition = { key: '', paints, name, steps, prefixes, ground, isLinear: this.isLinear }
    const put = (step: Step): void => {
      prefixes.push({ key, paints })
      steps.push(step)
      key = join(key, step.key)
      paints = bothUses(paints, step.paints)
    }
    this.addLayers(ids, put, () => ({ kind: 'beneath', key, paints, composition, before: steps.length }))
    prefixes.push({ key, paints })
    composition.key = key
    composition.paints = paints
    return composition
  }

  private groundOf(background: string): readonly [number, number, number, number] {
    const [r, g, b, a] = parseHex(background)
    const value = (v: number) => (this.isLinear ? srgbToLinear(v) : v) * a
    return [value(r), value(g), value(b), a]
  }

  /** What lies beneath the layer that is being planned; null where that is not known. */
  private beneath: (() => BeneathSource) | null = null

  private addLayers(ids: readonly string[], put: (step: Step) => void, beneath: () => BeneathSource): void {
    const outer = this.beneath
    ids.forEach((id, index) => {
      this.beneath = beneath
      const node = this.sheet.nodes[id]
      if (!this.isShown(node)) return
      const weighing = this.weighing(node, ids, index)
      // Confined to what is not there.
      if (weighing === null) return
      const { mode, opacity } = node
      const own = { nodeId: id, mode, opacity, weighing }
      const weighed = paintsOf(weighing)
      if (hasContent(node, 'wash')) {
        const source = this.withEffects(node, beneath())
        const paints = bothUses(source.paints, weighed)
        put({ kind: 'wash', key: this.stepKey('wash', node, source.key, weighing), paints, source, ...own })
      } else if (hasContent(node, 'group') && isPassThrough(node)) {
        const isMixed = opacity < 1 || weighing.mask !== null || weighing.gate !== null
        if (isMixed) put({ kind: 'begin', key: 'begin', paints: NO_PAINT, nodeId: id })
        this.addLayers(node.content.children, put, beneath)
        if (isMixed) {
          const key = this.stepKey('end', node, '', weighing)
          put({ kind: 'end', key, paints: weighed, nodeId: id, opacity, weighing })
        }
      } else {
        const source = this.isLiveOfBeneath(node) ? this.withEffects(node, beneath()) : this.source(node)
        if (!source) return
        const paints = bothUses(source.paints, weighed)
        put({ kind: 'layer', key: this.stepKey('layer', node, source.key, weighing), paints, source, ...own })
      }
    })
    this.beneath = outer
  }

  private stepKey(
    kind: Step['kind'],
    { mode, opacity }: SheetNode,
    source: string,
    { mask, confine, gate }: Weighing,
  ): string {
    return join(
      kind,
      mode,
      opacity,
      source,
      mask?.key ?? '',
      confine ? join(confine.source.key, confine.opacity, confine.mask?.key ?? '') : '',
      gate ? hashOf(gate) : '',
    )
  }

  /** What a layer alone shows, through its effects; null for one that has no pixels of its own. */
  source(node: SheetNode): Source | null {
    const { content } = node
    if (hasContent(node, 'group')) {
      const composition = this.composition(node.id, childrenOf(this.sheet, node.id), null)
      return this.withEffects(node, {
        kind: 'group',
        key: join('group', composition.key),
        paints: composition.paints,
        composition,
      })
    }
    if (hasContent(node, 'pressing')) return this.followed(node)
    if (content.kind === 'sheet') return this.shown(node, content)
    if (content.kind === 'mockup' || content.kind === 'fitted') return this.printed(node, content)
    if (content.kind === 'castShadow') return this.cast(node, content)
    if (!isPainted(content)) return null
    const revisions = [
      ...contentUses(content).map((id) => this.resources.revision(id)),
      ...contentShotPasses(content).map((kind) => this.resources.shotRevision(this.sheet.shotId, kind)),
    ]
    const isByHand = content.kind === 'painted'
    // What is painted where, the names of its tiles tell.
    const own = isByHand ? [content.width, content.height] : [hashOf(content), ...revisions]
    const paints = isByHand ? [paintUse(content)] : NO_PAINT
    const { coarse = 1, size } = this.view
    const keyOf = (frame: string) => join('content', content.kind, frame, ...own)
    let finer: Finer | null = null
    for (const step of [1, 2] as const)
      if (step < coarse && !isByHand)
        finer = { key: keyOf(this.frameOf(step)), size: coarser(size, step), finer }
    return this.withEffects(node, { kind: 'content', key: keyOf(this.frame), paints, content, finer })
  }

  /** A sheet in its frame: planned as it lies there. Null where it is not there. */
  private shown(node: SheetNode, frame: SheetFrame): Source | null {
    const inner = this.sheet.shown?.[frame.sheetId]
    if (!inner) return null
    const { size, coarse = 1 } = this.view
    const box = sheetBox(frame, inner, this.sheet)
    const whole = boxInView(box, size)
    const planned = (step: Coarseness): { readonly key: string; readonly shown: ShownSheet } => {
      const { plan, key } = this.inner(inner, whole, step, node.id)
      const lies = boxInView(box, coarser(size, step))
      const scale = size.width / this.sheet.width / step
      return {
        key: join('sheet', hashOf(frame), key, this.frameOf(step)),
        shown: { frame, plan, lies, scale },
      }
    }
    // A hand that moves something of the page moves nothing of it: what is there of it is asked for.
    let finer: Finer | null = null
    for (const step of [1, 2] as const)
      if (step < coarse) finer = { ...planned(step), size: coarser(size, step), finer }
    return this.withEffects(node, {
      kind: 'sheet',
      paints: NO_PAINT,
      name: node.id,
      finer,
      ...planned(coarse),
    })
  }

  /**
   * A plan of another sheet of some size, and what tells all that it shows.
   * @param frameId the layer that it lies in, where layers of it can be left out.
   */
  private inner(
    sheet: Sheet,
    size: RenderSize,
    coarse: Coarseness,
    frameId: string | null = null,
  ): { readonly plan: SheetPlan; readonly key: string } {
    const left = frameId === null ? null : leftOutWithin(this.view.without, frameId)
    const view = { size, coarse, without: left?.layers, transparent: left?.ground }
    const plan = new Planner(sheet, view, this.resources).plan()
    const painted = plan.root.paints.map(({ grid }) => {
      const { a, b } = regionName(grid, 0, 0, grid.width, grid.height)
      return `${a} ${b}`
    })
    return { plan, key: join(plan.root.key, ...painted) }
  }

  /** A sheet that is printed on something: planned as large as it is seen where it is seen largest. Null where it is not there. */
  private printed(node: SheetNode, content: Printed): Source | null {
    const sheet = this.sheet.shown?.[content.sheetId]
    if (!sheet) return null
    const { size, coarse = 1, isDraft = false } = this.view
    const whole = printSize(content, sheet, size)
    const beneath = content.kind === 'fitted' ? (this.beneath?.() ?? null) : null
    const planned = (step: Coarseness) => {
      const { plan, key } = this.inner(sheet, whole, step)
      const isRough = isDraft || step > 1
      const rendered = renderedHash(content)
      const base = rendered && join('mock-up', rendered, printAspect(sheet), isRough, this.frameOf(step))
      const trim = trimOf(sheet).join()
      const own = join('print', hashOf(content), key, base, trim, beneath?.key ?? '', this.frameOf(step))
      return { plan, base, key: own, printed: key }
    }
    let finer: Finer | null = null
    for (const step of [1, 2] as const)
      if (step < coarse && !beneath) finer = { key: planned(step).key, size: coarser(size, step), finer }
    const { plan, base, key, printed } = planned(coarse)
    const paints = beneath?.paints ?? NO_PAINT
    return this.withEffects(node, {
      kind: 'print',
      key,
      paints,
      content,
      plan,
      printed,
      base,
      beneath,
      name: node.id,
      finer,
    })
  }

  /** The shadow of another layer; null where that is gone, or has no pixels, or is this one by way of others. */
  private cast(node: SheetNode, content: CastShadow): Source | null {
    const other = this.sheet.nodes[content.of] as SheetNode | undefined
    if (!other || !this.isShown(other) || this.open.has(node.id)) return null
    this.open.add(node.id)
    const source = this.source(other)
    this.open.delete(node.id)
    if (!source) return null
    const term = other.mask?.terms.find((own) => own.kind === 'standing' && own.enabled)
    const standing = term?.kind === 'standing' ? term.depth : 0
    const levels = CAST_BLURS.map((perMille) => {
      if (perMille === 0) return source
      const sigmaPx = (perMille * this.sheet.height) / 1000
      return this.effect(source, join('cast blur', sigmaPx), { by: 'blur', sigmaPx }, 1, null)
    })
    const { seenBy, shotId } = this.sheet
    const key = join(
      'cast',
      hashOf(content),
      standing,
      seenBy ? hashOf(seenBy) : '',
      this.resources.shotRevision(shotId, 'depth'),
      this.frame,
      ...levels.map((level) => level.key),
    )
    const paints = bothUses(...levels.map((level) => level.paints))
    return this.withEffects(node, { kind: 'cast', key, paints, content, standing, levels })
  }

  /** Layers whose pictures are being planned: what follows one of them from within follows itself. */
  private readonly open = new Set<string>()

  private isLiveOfBeneath = (node: SheetNode): boolean =>
    hasContent(node, 'pressing') && node.content.of === null

  /** What another layer shows, through the effects of the pressing that follows it; null for one that is gone, or a circle. */
  private followed(node: SheetNode & { readonly content: { readonly of: string | null } }): Source | null {
    const { of } = node.content
    const other = of === null ? undefined : this.sheet.nodes[of]
    if (!other || this.open.has(node.id)) return null
    this.open.add(node.id)
    const source = this.source(other)
    this.open.delete(node.id)
    return source && this.withEffects(node, source)
  }

  private withEffects(node: SheetNode, source: Source): Source {
    return this.throughEffects(node.effects, source)
  }

  private throughEffects(effects: readonly SheetEffect[], source: Source): Source {
    return readyEffects(effects).reduce<Source>((input, { effect, work }) => {
      const mask = this.maskStep(effect.mask)
      const { kind, version, params, opacity } = effect
      const own = join(kind, version, hashOf(params))
      return this.effect(input, own, work, opacity, mask)
    }, source)
  }

  private effect(
    input: Source,
    own: string,
    work: EffectWork,
    opacity: number,
    mask: MaskStep | null,
  ): Source {
    const maps = 'maps' in work ? (work.maps ?? []).map((request) => this.mapStep(request)) : []
    // What is made of the input to be looked at is of the same kind and parameters: its place among them tells it apart.
    const beside = (work.by === 'point' ? (work.beside ?? []) : []).map((works, i) =>
      works.reduce<Source>(
        (made, one, k) => this.effect(made, join(own, 'beside', i, k), one, 1, null),
        input,
      ),
    )
    const pictures = work.by === 'colour' ? (work.pictures ?? []) : []
    const pictureKey = pictures.map((id) => this.resources.revision(id)).join()
    // A length in sheet pixels means what the frame says it does.
    const asked = maps.map((map) => map.key)
    if (this.view.isDraft && 'isHeavy' in work && work.isHeavy) asked.push('draft')
    const key = join('effect', own, opacity, mask?.key ?? '', input.key, this.frame, pictureKey, ...asked)
    const looked = bothUses(input.paints, ...maps.map((map) => map.paints))
    const reached = looked.length > 0 ? reachingUses(looked, this.reachOf(work)) : NO_PAINT
    return {
      kind: 'effect',
      key,
      paints: bothUses(reached, mask?.paints ?? NO_PAINT, ...beside.map((one) => one.paints)),
      input,
      effect: { key: own, work, opacity, mask, beside, maps, pictures, pictureKey },
    }
  }

  /** How far about a pixel an effect looks, in pixels of the view; rather more than less. */
  private reachOf(work: EffectWork): number {
    const { size, coarse = 1 } = this.view
    const scale = size.width / this.sheet.width / coarse
    if (work.by === 'blur') return Math.ceil(5 * work.sigmaPx * scale) + 8
    if (work.by !== 'area') return 0
    const reach = Math.max(0, Math.ceil(work.reach(scale, coarser(size, coarse))))
    return Math.min(1e6, reach > MOST_REACH ? 2 * reach + TILE : reach + 8)
  }

  private mapStep(request: MapRequest): MapStep {
    const nothing = { key: join('map', 'none'), paints: NO_PAINT, request, source: null, mask: null }
    switch (request.from) {
      case 'shot': {
        const { map, id } = request
        const { shotId } = this.sheet
        const revision =
          id === ''
            ? `${shotId ?? ''} ${this.resources.shotRevision(shotId, SHOT_MAPS[map].pass)}`
            : this.resources.revision(id)
        return { ...nothing, key: join('map', map, id, revision, this.frame) }
      }
      case 'noise':
        return { ...nothing, key: join('map', hashOf(request), this.frame) }
      case 'palette':
      case 'roles': {
        const revision = this.resources.shotRevision(this.sheet.shotId, 'id')
        return { ...nothing, key: join('map', hashOf(request), revision, this.frame) }
      }
      case 'nearer': {
        const { shotId } = this.sheet
        const revision = this.resources.shotRevision(shotId, 'id')
        const [idPass, depthPass] = (['id', 'depth'] as const).map((kind) =>
          this.resources.shotPass(shotId, kind),
        )
        const base = join('part', revision, this.resources.shotRevision(shotId, 'depth'), this.frame)
        const map = { ...nothing, key: join('map', 'nearer', base), base }
        if (!idPass || !depthPass) return map
        // Of the depth it only matters which parts are nearer, and where those are.
        const parts = partDepths(idPass, depthPass)
        const { coarse = 1, size } = this.view
        const view = coarser(size, coarse)
        const count = partsNearer(parts, request.depth).length
        const placed = passPlacement(idPass, view, this.sheet)
        return { ...map, paints: [paintUse(nearerGrid(idPass, parts, count, view, placed))] }
      }
      case 'beneath': {
        const source = this.beneath?.() ?? null
        const { key = '', paints = NO_PAINT } = source ?? {}
        return source ? { ...nothing, key: join('map', request.measure, key), paints, source } : nothing
      }
      case 'layer':
        return this.ofOther(request.id, nothing, (node) => {
          const source = this.source(node)
          const mask = this.maskStep(node.mask)
          const key = join('map', request.measure, source?.key ?? '', mask?.key ?? '')
          const paints = bothUses(source?.paints ?? NO_PAINT, mask?.paints ?? NO_PAINT)
          return { key, paints, request, source, mask }
        })
      case 'mask':
        return this.ofOther(request.id, nothing, (node) => {
          const mask = this.maskStep(node.mask)
          const key = join('map', 'mask', mask?.key ?? '')
          return mask ? { key, paints: mask.paints, request, source: null, mask } : nothing
        })
    }
  }

  /** Asks something about another layer, of which it is not known what lies beneath it. */
  private ofOther(id: string, nothing: MapStep, ask: (node: SheetNode) => MapStep): MapStep {
    const node = this.sheet.nodes[id] as SheetNode | undefined
    // What looks at itself, by way of others or not, sees nothing.
    if (!node || this.open.has(id)) return nothing
    const { beneath } = this
    this.open.add(id)
    this.beneath = null
    const step = ask(node)
    this.open.delete(id)
    this.beneath = beneath
    return step
  }

  /** A mask in front of all of the sheet. */
  maskOver(mask: Mask): MaskStep | null {
    let all: BeneathSource | null = null
    this.beneath = () => {
      if (all) return all
      const { root: composition } = this.plan()
      const { key, paints, steps } = composition
      return (all = { kind: 'beneath', key, paints, composition, before: steps.length })
    }
    const step = this.maskStep(mask)
    this.beneath = null
    return step
  }

  maskStep(mask: Mask | null): MaskStep | null {
    const used = mask?.terms.filter((term) => term.kind !== 'unreadable' && term.enabled) ?? []
    if (!mask || used.length === 0) return null
    const pictures = used.flatMap(termUses).map((id) => this.resources.revision(id))
    const ofShot = used.some(isSurfaceTerm) ? this.resources.shotRevision(this.sheet.shotId, 'id') : ''
    const maps = new Map(
      used.flatMap((term) => {
        const asked = termMaps(term).map((request) => this.mapStep(request))
        return asked.length > 0 ? [[term, asked] as const] : []
      }),
    )
    const own = [mask.invert, mask.featherPx, ...used.map(termHash)]
    const asked = [...maps.values()].flat()
    const key = join('mask', ...own, this.frame, ofShot, ...pictures, ...asked.map((map) => map.key))
    const paints = this.maskPaints(mask, used, maps)
    const plain = { key, paints, mask, maps, worked: null }
    const grey: Source = { kind: 'mask', key: join('grey', key), paints, mask: plain }
    const worked = this.throughEffects(mask.effects, grey)
    if (worked.kind !== 'effect') return plain
    return { ...plain, key: join('worked', worked.key), paints: worked.paints, worked }
  }

  /** What was painted by hand of a mask, as far about a pixel as it is looked at. */
  private maskPaints(
    mask: Mask,
    used: readonly MaskTerm[],
    maps: ReadonlyMap<MaskTerm, readonly MapStep[]>,
  ): PaintUses {
    const { size, coarse = 1 } = this.view
    const scale = size.width / this.sheet.width / coarse
    const soft = (px: number) => (px > 0 ? Math.ceil(5 * px * scale) + 8 : 0)
    const paints = used.map((term) => {
      if (term.kind === 'unreadable') return NO_PAINT
      const own = term.kind === 'painted' ? [paintUse(term)] : NO_PAINT
      const looked = bothUses(own, ...(maps.get(term) ?? []).map((map) => map.paints))
      const grows = Math.ceil(Math.abs(term.growPx) * scale) + (term.growPx === 0 ? 0 : 8)
      return reachingUses(looked, soft(term.featherPx) + grows)
    })
    return reachingUses(bothUses(...paints), soft(mask.featherPx))
  }

  /** What a layer is weighed by; null where it is confined to something that is not shown. */
  private weighing(node: SheetNode, siblings: readonly string[], index: number): Weighing | null {
    const mask = this.maskStep(node.mask)
    const gate = node.gate && (node.gate.own || node.gate.beneath) ? node.gate : null
    if (!node.confine) return { mask, confine: null, gate }
    for (let i = index - 1; i >= 0; i--) {
      const base = this.sheet.nodes[siblings[i]]
      // What is confined itself is confined to the same; a wash has no pixels.
      if (!base || base.confine || hasContent(base, 'wash')) continue
      if (!this.isShown(base)) return null
      const source = this.source(base)
      if (!source) return null
      return { mask, confine: { source, opacity: base.opacity, mask: this.maskStep(base.mask) }, gate }
    }
    return null
  }
}

/**
 * Whether a group's layers blend into what lies beneath it. One with a mode, a confinement or effects of its own is composed
 * alone: they are of its own picture.
 */
export const isPassThrough = (node: SheetNode): boolean =>
  hasContent(node, 'group') &&
  !node.content.isolated &&
  node.mode === 'normal' &&
  !node.confine &&
  readyEffects(node.effects).length === 0

/** Plans a picture of a sheet. */
export const planSheet = (sheet: Sheet, view: SheetView, resources: SheetResources): SheetPlan =>
  new Planner(sheet, view, resources).plan()

/**
 * Plans a mask that no layer of the sheet need have: what lies beneath it is the whole sheet.
 * @returns null where it limits nothing.
 */
export const planMask = (
  mask: Mask,
  sheet: Sheet,
  view: SheetView,
  resources: SheetResources,
): MaskStep | null => new Planner(sheet, view, resources).maskOver(mask)

/**
 * Plans what one layer alone shows: its content and effects through its mask, before mode and opacity.
 * @returns null for a layer that has no pixels of its own.
 */
export function planLayer(
  node: SheetNode,
  sheet: Sheet,
  view: SheetView,
  resources: SheetResources,
): { readonly source: Source; readonly mask: MaskStep | null; readonly key: string } | null {
  const planner = new Planner(sheet, view, resources)
  const source = planner.source(node)
  const mask = planner.maskStep(node.mask)
  return source && { source, mask, key: join(source.key, mask?.key ?? '') }
}
