// One file: one painter, whose state (what is wanted, under way and seen) every method reads.
import type { ShotMapName } from '@/core/passes/shot-maps'
import type { DocumentChange } from '@/core/document-changes'
import { InvalidValueError } from '@/core/errors'
import { pictureMemory } from '@/core/picture/picture-kernel'
import { FrameMean } from '@/core/film/frame-mean'
import { KeptTiles, NoRoomError } from '@/core/sheet/evaluate/kept-tiles'
import { rowsAlone, wholePicture } from '@/core/sheet/evaluate/picture-rows'
import { contributionsAt, type Contributions } from '@/core/sheet/evaluate/contributions'
import { planLayer, planSheet } from '@/core/sheet/evaluate/plan-sheet'
import { coarser, type Coarseness, type SheetView } from '@/core/sheet/evaluate/sheet-plan'
import { SheetEvaluator } from '@/core/sheet/evaluate/sheet-evaluator'
import { toneHistogram } from '@/core/sheet/evaluate/tone-histogram'
import { coarserWindow, tileOrder, type TileOrder, type ViewWindow } from '@/core/sheet/evaluate/view-window'
import { paintInWindow, type WindowPixels } from '@/core/sheet/evaluate/window-pixels'
import { EXPORT_SERIES, exportSheet, type ExportOptions, type SheetFormat } from '@/core/sheet/export-sheet'
import { posterPdf, type PdfOptions, type PdfPaper } from '@/core/poster/poster-pdf'
import { patchedSheet } from '@/core/sheet/patch-sheet'
import { hasContent, type Sheet, type SheetEffect, type SheetNode } from '@/core/sheet/sheet-schema'
import type { RenderSize } from '@/core/sheet/sheet-resources'
import { release } from '@/core/workers/release'
import { rowsTogether } from './rows-together'
import { setType } from '@/core/sheet/contents/type'
import { readsOn, type Reads } from '@/core/type/text-contrast'
import { pairsOf } from '@/core/type/type-style'
import { shotMapWindow } from '@/core/sheet/shot-map-window'
import { layersOf } from '@/core/sheet/sheet-tree'
import { withMaskSeen } from '@/core/sheet/mask-seen'
import { scopesOf, type Scopes } from '@/core/sheet/scopes'
import { takesRays } from '@/core/sheet/sheet-uses'
import { SheetHands, sheetName, type SpawnHand } from './sheet-hands'
import { StrokeDesk } from './stroke-desk'
import type { SeenType } from './sheet-requests'
import {
  sharedBytes,
  sharedPass,
  sharedPicture,
  SheetStore,
  type StoredPass,
  type StoredPicture,
} from './sheet-store'
import { draftOf, present, type Draft, type ShownView } from './sheet-view'

/** The longest side of the picture tones are counted in. */
const HISTOGRAM_SIDE = 480
/** The longest side of the picture that it is told in how well type reads. */
const READS_SIDE = 560
/** The most bytes that are kept from one picture to the next. */
const KEPT_BYTES = 320 * 2 ** 20
/** Memory that threads share cannot be relied on to grow while they work: it is as large as it may get, untouched pages cost nothing. */
const SHARED_BYTES = KEPT_BYTES + 192 * 2 ** 20
/** Work that takes long waits so long for those who help. Milliseconds. */
const HANDS_MS = 3000
/** What was painted of a picture that takes longer is shown before it is whole. Milliseconds. */
const LOOK_MS = 100
/** A picture that has taken so long is ended by a newer request; a shorter one is shown first. Milliseconds. */
const LEAST_MS = 120
/** What is painted around what is seen, at once. Milliseconds. */
const AROUND_MS = 24

/** What a view is to show. */
export interface ViewRequest {
  readonly series: string
  readonly seen: ViewWindow
  readonly upTo: number
  readonly without: string | null
  /** The view whose own sheet it shows; null: the one at work. */
  readonly beside: number | null
  /** Whether a hand is moving something. */
  readonly isDraft: boolean
  /** Whether a newer request has come. */
  readonly isStale: () => boolean
}

/** Paints pictures of one sheet: holds it, the passes and pictures it is made of, the tiles that are kept, and who helps. */
export class SheetPainter {
  readonly store = new SheetStore()
  private readonly tiles: KeptTiles
  private readonly evaluator: SheetEvaluator
  /** Where strokes are painted. */
  readonly desk: StrokeDesk
  /** Threads that paint beside this one. */
  private hands: SheetHands | null = null
  /** Frames while the shutter is open, by their keys. */
  private readonly means = new Map<string, FrameMean>()
  /** Sheets that are shown: the one at work under null, those of single views under their numbers. */
  private readonly documents = new Map<number | null, Sheet>()

  /**
   * @param spawnHand begins a thread that helps; null where memory cannot be shared.
   * @param turn lets this thread show what was painted, and take what has come.
   */
  constructor(
    private readonly spawnHand: SpawnHand | null,
    private readonly turn: () => Promise<void>,
  ) {
    this.tiles = spawnHand ? new KeptTiles(pictureMemory(SHARED_BYTES, true)) : new KeptTiles()
    this.evaluator = new SheetEvaluator(this.tiles, this.store.resources)
    this.desk = new StrokeDesk(this.tiles, this.store.resources, (live) =>
      this.hands?.tell('live paint', { type: 'live', live }, live.length === 0),
    )
  }

  get canShare(): boolean {
    return this.spawnHand !== null
  }

  /** The sheet that pictures are made of. @throws {InvalidValueError} where none was given. */
  get sheet(): Sheet {
    return this.sheetOf(null)
  }

  /** The same without what is being painted. */
  get document(): Sheet {
    const sheet = this.documents.get(null)
    if (!sheet) throw new InvalidValueError('sheet', 'must be given first')
    return sheet
  }

  private sheetOf(beside: number | null): Sheet {
    const sheet = this.documents.get(beside)
    if (!sheet) throw new InvalidValueError('sheet', 'must be given first')
    return beside === null ? this.desk.seen(sheet) : sheet
  }

  // ------------------------------------------------------------------ what it is given

  /** @param beside the view that it is for; null: all others. */
  takeSheet(sheet: Sheet | null, beside: number | null = null): void {
    if (sheet) this.documents.set(beside, sheet)
    else this.documents.delete(beside)
    this.hands?.tell(sheetName(beside), { type: 'sheet', beside, sheet }, sheet === null)
  }
  patchSheet(changes: readonly DocumentChange[], beside: number | null = null): void {
    const before = this.documents.get(beside)
    if (!before) throw new InvalidValueError('sheet', 'must be given first')
    // Until it is given anew: a picture of what it was would be taken for what it is.
    this.documents.delete(beside)
    const now = patchedSheet(before, changes)
    this.documents.set(beside, now)
    this.hands?.patch(changes, now, beside)
  }
  takePass(passId: string, pass: StoredPass | null): void {
    const { passes } = this.store
    release(passes.get(passId)?.result.channels ?? [])
    if (pass) passes.set(passId, pass)
    else passes.delete(passId)
    this.tellPass(passId)
  }
  /** A pass seen otherwise: its channels stay. */
  relight(passId: string, pass: StoredPass): void {
    this.store.passes.set(passId, pass)
    this.tellPass(passId)
  }
  takePaint(name: string, bytes: Uint8Array<ArrayBuffer>): void {
    const { paint } = this.store
    const isShared = this.canShare
    const words = new Uint16Array(isShared ? new SharedArrayBuffer(bytes.length) : bytes.buffer)
    if (isShared) words.set(new Uint16Array(bytes.buffer, bytes.byteOffset, bytes.length / 2))
    paint.set(name, words)
    this.hands?.tell(`paint ${name}`, { type: 'paint-tile', name, words })
  }
  dropPaint(names: readonly string[]): void {
    for (const name of names) {
      this.store.paint.delete(name)
      this.hands?.tell(`paint ${name}`, { type: 'paint-tile', name, words: null }, true)
    }
  }
  takeFont(fontId: string, files: readonly Uint8Array[] | null): void {
    const { fonts } = this.store
    if (files) fonts.set(fontId, this.canShare ? files.map(sharedBytes) : files)
    else fonts.delete(fontId)
    this.tellFont(fontId)
  }
  private tellFont(fontId: string): void {
    const files = this.store.fonts.get(fontId) ?? null
    this.hands?.tell(`font ${fontId}`, { type: 'font', fontId, files }, files === null)
  }
  takePicture(pictureId: string, picture: StoredPicture | null): void {
    if (picture) this.store.pictures.set(pictureId, picture)
    else this.store.pictures.delete(pictureId)
    this.tellPicture(pictureId)
  }

  /** Calls those who help: they are there when the first picture is asked for. */
  prepare(): void {
    this.helpers()
  }

  private helpers(): SheetHands | null {
    if (!this.spawnHand) return null
    if (!this.hands) {
      const count = Math.min(3, navigator.hardwareConcurrency - 1)
      this.hands = new SheetHands(this.tiles.memory, count, this.spawnHand)
      for (const passId of this.store.passes.keys()) this.tellPass(passId)
      for (const pictureId of this.store.pictures.keys()) this.tellPicture(pictureId)
      for (const fontId of this.store.fonts.keys()) this.tellFont(fontId)
      for (const [name, words] of this.store.paint)
        this.hands.tell(`paint ${name}`, { type: 'paint-tile', name, words })
      for (const [beside, sheet] of this.documents)
        this.hands.tell(sheetName(beside), { type: 'sheet', beside, sheet })
    }
    return this.hands.count > 0 ? this.hands : null
  }

  /** Shares a pass, or that it is gone, with the hands. */
  private tellPass(passId: string): void {
    if (!this.hands) return
    const { passes } = this.store
    const pass = passes.get(passId) ?? null
    const isShared = pass?.result.channels.every(({ buffer }) => buffer instanceof SharedArrayBuffer) ?? true
    const own = pass && !isShared ? { ...pass, result: sharedPass(pass.result) } : pass
    if (own) passes.set(passId, own)
    this.hands.tell(`pass ${passId}`, { type: 'pass', passId, pass: own }, own === null)
  }
  private tellPicture(pictureId: string): void {
    if (!this.hands) return
    const { pictures } = this.store
    const stored = pictures.get(pictureId) ?? null
    const isShared = stored?.picture.pixels.buffer instanceof SharedArrayBuffer
    const own = stored && !isShared ? { ...stored, picture: sharedPicture(stored.picture) } : stored
    if (own) pictures.set(pictureId, own)
    this.hands.tell(`picture ${pictureId}`, { type: 'picture', pictureId, picture: own }, own === null)
  }

  // ------------------------------------------------------------------ views

  /** Takes up what a view is to show. */
  private begin(
    view: ShownView,
    { series, upTo, without, beside, isDraft }: ViewRequest,
    coarse: Coarseness,
  ): SheetView {
    const left = without === null ? undefined : new Set([without])
    const asked = { size: view.size, upTo, without: left, isDraft, coarse }
    if (beside === null) this.seenSize = view.size
    this.evaluator.begin(planSheet(this.sheetOf(beside), asked, this.store.resources), series)
    return asked
  }

  /**
   * Paints what is seen of a view, and shows it: at once when it is whole, piece by piece where that takes long. While a hand
   * moves it is as coarse as keeps up with it.
   * @param onProgress told how much of what is seen is painted, 0…1, when pieces of it are shown.
   * @returns false where a newer request ended it.
   */
  async show(
    view: ShownView,
    request: ViewRequest,
    onProgress?: (share01: number) => void,
  ): Promise<boolean> {
    const begun = performance.now()
    if (takesRays(this.sheetOf(request.beside))) view.pace.expectSlow()
    const coarse = view.pace.next(request.isDraft, begun)
    const draft = coarse === 1 ? null : draftOf(view, coarse, this.canShare)
    const isWhole = await this.paint(view, draft, request, onProgress)
    const done = performance.now()
    if (request.isDraft) view.pace.tell(coarse, done - begun, done)
    return isWhole
  }

  private async paint(
    view: ShownView,
    draft: Draft | null,
    request: ViewRequest,
    onProgress?: (share01: number) => void,
  ): Promise<boolean> {
    this.tiles.tick()
    const coarse = draft?.coarse ?? 1
    const asked = this.begin(view, request, coarse)
    const target = draft ?? view
    const { pixels } = target
    const order = rotated(tileOrder(pixels.window, smaller(request.seen, coarse)), target.resumeAt)
    const hands = this.helpers()
    const { series, beside } = request
    hands?.begin({ type: 'paint', view: asked, series, beside, pixels, order })
    let alone = 0
    const next = hands ? () => hands.next() : () => alone++
    let problem: unknown = null
    let reached: number | null = null
    const started = performance.now()
    let shownAt = started
    try {
      for (let i = next(); i < order.seen; i = next()) {
        paintInWindow(this.evaluator, pixels, order.columns[i], order.rows[i])
        const now = performance.now()
        if (now - started > LEAST_MS && request.isStale()) {
          reached = Math.min(order.seen, hands ? hands.stop() : alone)
          break
        }
        if (now - shownAt > LOOK_MS) {
          present(view, draft)
          onProgress?.((i + 1) / order.seen)
          // The hands go on meanwhile.
          await this.turn()
          shownAt = performance.now()
        }
      }
    } catch (error) {
      problem = error
      hands?.stop()
    }
    // Whatever happened, nobody may be at work any more when tiles are given back.
    const isWhole = hands?.finish() ?? true
    if (problem !== null && !(problem instanceof NoRoomError)) throw problem
    if (problem !== null || !isWhole) this.paintAlone(pixels, order)
    else this.tiles.shrinkTo(KEPT_BYTES)
    present(view, draft)
    target.resumeAt = reached === null ? 0 : (target.resumeAt + reached) % Math.max(1, order.seen)
    return reached === null
  }

  /** Paints what a hand left behind, or what did not fit into memory at once: tile by tile, giving back between them. */
  private paintAlone(pixels: WindowPixels, { columns, rows, seen }: TileOrder): void {
    this.tiles.shrinkTo(KEPT_BYTES / 2)
    for (let i = 0; i < seen; i++) {
      paintInWindow(this.evaluator, pixels, columns[i], rows[i])
      this.tiles.tick()
      if (this.tiles.usedBytes > KEPT_BYTES) this.tiles.shrinkTo(KEPT_BYTES / 2)
    }
  }

  /** Whether anything of a view lies around what is seen of it, and is to be painted now: not while a hand moves. */
  hasAround(view: ShownView, { seen, isDraft }: ViewRequest): boolean {
    if (isDraft) return false
    const order = tileOrder(view.pixels.window, seen)
    return order.seen < order.columns.length
  }

  /**
   * Goes on painting around what is seen, for a moment.
   * @param from how many tiles of its order are painted already.
   * @returns how many are now; null when there is nothing left to do.
   */
  showAround(view: ShownView, request: ViewRequest, from: number): number | null {
    if (request.isStale()) return null
    const { columns, rows, seen } = tileOrder(view.pixels.window, request.seen)
    let at = Math.max(from, seen)
    if (at >= columns.length) return null
    this.begin(view, request, 1)
    const started = performance.now()
    for (; at < columns.length && performance.now() - started < AROUND_MS; at++) {
      paintInWindow(this.evaluator, view.pixels, columns[at], rows[at])
      if (this.tiles.usedBytes > KEPT_BYTES) this.tiles.shrinkTo(KEPT_BYTES)
    }
    present(view, null)
    return at < columns.length ? at : null
  }

  /**
   * Makes what a hand would be shown of a page that shows sheets, a tile at a time: parts of them that nobody has seen yet, as
   * what hides them may move, would be made while it waits. What takes rays is not made for nothing.
   * @param from how many tiles of its coarser pictures are made already. @returns how many are now; null when none is left.
   */
  makeBeforehand(view: ShownView, request: ViewRequest, from: number): number | null {
    const sheet = this.sheetOf(request.beside)
    if (request.isDraft || request.isStale() || takesRays(sheet)) return null
    if (Object.keys(sheet.shown ?? {}).length === 0) return null
    const tiles = ([2, 4] as const).flatMap((coarse) => {
      const { columns, rows, seen } = tileOrder(
        coarserWindow(view.pixels.window, coarse, coarser(view.size, coarse)),
        smaller(request.seen, coarse),
      )
      return Array.from({ length: seen }, (_, i) => ({ coarse, x: columns[i], y: rows[i] }))
    })
    if (from >= tiles.length) return null
    const { coarse, x, y } = tiles[from]
    this.begin(view, { ...request, isDraft: true }, coarse)
    this.evaluator.tile(x, y, () => undefined)
    if (this.tiles.usedBytes > KEPT_BYTES) this.tiles.shrinkTo(KEPT_BYTES)
    return from + 1
  }

  /** How well a layer stands out from what lies under it; null where nothing of it is seen. */
  reads(layerId: string): Reads | null {
    const { sheet } = this
    const size = this.sizeAbout(READS_SIDE)
    const own = this.layerPicture(layerId, size)
    if (!own) return null
    this.tiles.tick()
    const view = { size, without: new Set([layerId]) }
    this.evaluator.begin(planSheet(sheet, view, this.store.resources), 'reads')
    const under = wholePicture(this.evaluator, size, 'bytes', undefined, KEPT_BYTES)
    return readsOn(own, under)
  }

  /** A size of about so many pixels: that of what is on the screen where that is near enough, as most of it is made already. */
  private sizeAbout(side: number): RenderSize {
    const { width, height } = this.sheet
    const seen = this.seenSize
    const isNear = seen && Math.abs(Math.log2(Math.max(seen.width, seen.height) / side)) <= 1
    if (isNear && Math.abs(seen.width * height - seen.height * width) <= Math.max(width, height)) return seen
    const shrink = Math.min(1, side / Math.max(width, height))
    return {
      width: Math.max(1, Math.round(width * shrink)),
      height: Math.max(1, Math.round(height * shrink)),
    }
  }
  /** What the sheet at work measures on the screen. */
  private seenSize: RenderSize | null = null

  /** How a block of type is set: what a caret needs. */
  typeLayout(layerId: string): SeenType | null {
    const { sheet } = this
    const content = sheet.nodes[layerId]?.content
    const set = content?.kind === 'type' ? setType(content, sheet, this.store.resources) : null
    if (!set || content?.kind !== 'type') return null
    const { glyphs: _, ...layout } = set.layout
    return { ...layout, frame: set.frame, pairs: pairsOf(content.text) }
  }

  // ------------------------------------------------------------------ pictures

  /** The whole sheet: straight 8-bit RGBA. */
  picture(size: RenderSize, sheet: Sheet = this.sheet): Uint8ClampedArray<ArrayBuffer> {
    this.tiles.tick()
    this.evaluator.begin(planSheet(sheet, { size }, this.store.resources), 'picture')
    const bytes = wholePicture(this.evaluator, size, 'bytes', undefined, KEPT_BYTES)
    return new Uint8ClampedArray(bytes.buffer)
  }

  /** What a layer would show with one more effect; of one without pixels of its own, what would be seen. */
  triedPicture(
    layerId: string,
    effect: SheetEffect,
    size: RenderSize,
  ): Uint8ClampedArray<ArrayBuffer> | null {
    const node = this.sheet.nodes[layerId] as SheetNode | undefined
    if (!node) return null
    const tried = { ...node, effects: [...node.effects, effect] }
    const sheet = { ...this.sheet, nodes: { ...this.sheet.nodes, [layerId]: tried } }
    if (!hasContent(node, 'wash')) return this.layerPicture(layerId, size, sheet)
    this.tiles.tick()
    this.evaluator.begin(planSheet(sheet, { size }, this.store.resources), 'tried')
    const bytes = wholePicture(this.evaluator, size, 'bytes', undefined, KEPT_BYTES)
    this.tiles.shrinkTo(KEPT_BYTES)
    return new Uint8ClampedArray(bytes.buffer)
  }

  /** What one layer alone shows; null where it has no pixels of its own. */
  layerPicture(
    layerId: string,
    size: RenderSize,
    sheet: Sheet = this.sheet,
  ): Uint8ClampedArray<ArrayBuffer> | null {
    const { evaluator } = this
    const { resources } = this.store
    const node = sheet.nodes[layerId]
    const planned = node && planLayer(node, sheet, { size }, resources)
    if (!planned) return null
    this.tiles.tick()
    evaluator.begin(planSheet({ ...sheet, roots: [] }, { size }, resources), 'card')
    const bytes = wholePicture(evaluator, size, 'bytes', (tx, ty, use) =>
      evaluator.layerTile(planned.source, planned.mask, tx, ty, use),
    )
    this.tiles.shrinkTo(KEPT_BYTES)
    return new Uint8ClampedArray(bytes.buffer)
  }

  /** How much there is of each tone in what a layer shows, or beneath it; null where it is not shown. */
  tones(layerId: string, side: 'own' | 'beneath'): number[] | null {
    const { sheet } = this
    const size = measuredSize(sheet)
    this.tiles.tick()
    const plan = planSheet(sheet, { size }, this.store.resources)
    this.evaluator.begin(plan, 'histogram')
    const tones = toneHistogram(this.evaluator, plan, layerId, side)
    this.tiles.shrinkTo(KEPT_BYTES)
    return tones
  }

  /** What a map of the shot says at a place, in shares of the sheet; null where there is no such map. */
  mapAt(map: ShotMapName, id: string, x01: number, y01: number): number | null {
    const { sheet, store } = this
    const { width, height } = sheet
    const window = { x: Math.floor(x01 * width), y: Math.floor(y01 * height), width: 1, height: 1 }
    const target = { window, view: { width, height }, sheet, resources: store.resources }
    const plane = shotMapWindow({ from: 'shot', map, id }, target, sheet.shotId)
    const value = plane?.[0]
    return value === undefined || !Number.isFinite(value) ? null : value
  }

  /** What goes into an effect of a layer, small: of a wash, what is seen beneath it. Null where there is no such effect. */
  effectInput(layerId: string, effectId: string): (RenderSize & { readonly rgba: Uint8ClampedArray }) | null {
    const node = this.sheet.nodes[layerId] as SheetNode | undefined
    const at = node?.effects.findIndex(({ id }) => id === effectId) ?? -1
    if (!node || at < 0) return null
    const cut = { ...node, effects: node.effects.slice(0, at) }
    const sheet = { ...this.sheet, nodes: { ...this.sheet.nodes, [layerId]: cut } }
    const size = measuredSize(sheet)
    const rgba = hasContent(node, 'wash')
      ? this.picture(size, withoutFront(sheet, layerId))
      : this.layerPicture(layerId, size, {
          ...sheet,
          nodes: { ...sheet.nodes, [layerId]: { ...cut, mask: null } },
        })
    this.tiles.shrinkTo(KEPT_BYTES)
    return rgba && { ...size, rgba }
  }

  /** How much is how dark in what is seen, in what a layer shows, or in its mask; null where there is no such thing. */
  scopes(
    of: 'proof' | 'layer' | 'mask' | 'effect',
    layerId: string | null,
    effectId: string | null = null,
  ): Scopes | null {
    const { sheet } = this
    const size = measuredSize(sheet)
    if (of === 'effect') {
      const input = layerId === null || effectId === null ? null : this.effectInput(layerId, effectId)
      return input && scopesOf(input.rgba, input.width, input.height)
    }
    if (of !== 'proof' && (layerId === null || !sheet.nodes[layerId])) return null
    const rgba =
      of === 'proof' || layerId === null
        ? this.picture(size)
        : of === 'layer'
          ? this.layerPicture(layerId, size)
          : this.picture(size, withMaskSeen(sheet, layerId, 'alone'))
    this.tiles.shrinkTo(KEPT_BYTES)
    return rgba && scopesOf(rgba, size.width, size.height)
  }

  /** What each layer brings to a pixel of the sheet; null beside it. */
  contributions(x: number, y: number): Contributions | null {
    const { width, height } = this.sheet
    if (x >= width || y >= height) return null
    this.tiles.tick()
    const plan = planSheet(this.sheet, { size: { width, height } }, this.store.resources)
    this.evaluator.begin(plan, 'pixel')
    const found = contributionsAt(this.evaluator, plan, x, y)
    this.tiles.shrinkTo(KEPT_BYTES)
    return found
  }

  /**
   * The sheet as a file, piece by piece.
   * @param tell how much of it is done, 0…1.
   * @param mean of the pictures under its key, of which this is one: nothing is given before the last.
   */
  async *file(
    format: SheetFormat,
    view: ExportOptions,
    tell: (share01: number) => void,
    mean?: { readonly key: string; readonly isLast: boolean },
  ): AsyncGenerator<Uint8Array, void> {
    const { sheet, evaluator, store } = this
    const hands = await this.readyHands()
    const { width, height, transparent } = view
    const asked: SheetView = { size: { width, height }, transparent }
    const layers = Object.keys(sheet.nodes).length
    const rowsOf = hands ? rowsTogether(hands, evaluator, asked, EXPORT_SERIES, layers) : undefined
    if (!mean) return yield* exportSheet(sheet, evaluator, store.resources, format, view, tell, rowsOf)
    const sums = this.means.get(mean.key) ?? new FrameMean(width, height)
    this.means.set(mean.key, sums)
    evaluator.begin(planSheet(sheet, asked, store.resources), EXPORT_SERIES)
    sums.add((rowsOf ?? rowsAlone(evaluator, width))('floats', tell))
    if (!mean.isLast) return
    this.means.delete(mean.key)
    yield* exportSheet(sheet, evaluator, store.resources, format, view, tell, sums.rowsOf)
  }

  /** The sheet as a PDF of its page. */
  async pdf(
    paper: PdfPaper,
    options: PdfOptions,
    tell: (share01: number) => void,
  ): Promise<Uint8Array<ArrayBuffer>> {
    const { sheet, evaluator, store } = this
    const hands = await this.readyHands()
    const layers = Object.keys(sheet.nodes).length
    const rowsOf = (view: SheetView, series: string) =>
      hands ? rowsTogether(hands, evaluator, view, series, layers) : rowsAlone(evaluator, view.size.width)
    return posterPdf(sheet, paper, options, evaluator, store.resources, rowsOf, tell)
  }

  /** Who helps, when they are there; nobody where they do not come. */
  private async readyHands(): Promise<SheetHands | null> {
    this.helpers()
    const late = new Promise<void>((resolve) => setTimeout(resolve, HANDS_MS))
    await Promise.race([this.hands?.allReady, late])
    return this.helpers()
  }
}

/** A part of a picture in one that is coarser. */
const smaller = ({ x, y, width, height }: ViewWindow, coarse: Coarseness): ViewWindow => ({
  x: x / coarse,
  y: y / coarse,
  width: width / coarse,
  height: height / coarse,
})

/** An order that begins at another of its seen tiles. */
function rotated(order: TileOrder, by: number): TileOrder {
  if (by === 0) return order
  const turn = (list: Int32Array) =>
    Int32Array.from(list, (v, i) => (i < order.seen ? list[(i + by) % order.seen] : v))
  return { columns: turn(order.columns), rows: turn(order.rows), seen: order.seen }
}

/** A sheet as small as it is measured. */
function measuredSize({ width, height }: RenderSize): RenderSize {
  const scale = Math.min(1, HISTOGRAM_SIDE / Math.max(width, height))
  return { width: Math.max(1, Math.round(width * scale)), height: Math.max(1, Math.round(height * scale)) }
}

/** A sheet without what hangs in front of a layer. */
function withoutFront(sheet: Sheet, layerId: string): Sheet {
  const order = layersOf(sheet).map(({ id }) => id)
  const front = new Set(order.slice(order.indexOf(layerId) + 1))
  const nodes = Object.fromEntries(
    Object.entries(sheet.nodes).map(([id, node]) => [id, front.has(id) ? { ...node, visible: false } : node]),
  )
  return { ...sheet, nodes }
}
