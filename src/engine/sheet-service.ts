import { CancelledError } from '@/core/errors'
import { documentChanges } from '@/core/document-changes'
import type { Camera } from '@/core/scene/camera'
import type { RenderSize } from '@/core/sheet/sheet-resources'
import type { OpenRasterFile } from '@/core/formats/read-openraster'
import type { Contributions } from '@/core/sheet/evaluate/contributions'
import type { ParamValues } from '@/core/params'
import type { Scopes } from '@/core/sheet/scopes'
import type { Sheet } from '@/core/sheet/sheet-schema'
import type { Reads } from '@/core/type/text-contrast'
import { movable } from '@/core/workers/answer-requests'
import { browserPort } from '@/core/workers/browser-port'
import { WorkerChannel, type Asked, type ReplyOf } from '@/core/workers/worker-channel'
import type { BrushUse } from '@/core/paint/brush'
import type { PenSample } from '@/core/paint/stroke-walker'
import { writeSamples, type Stroke, type StrokeTile } from './stroke-messages'
import {
  MOST_VIEWS,
  type FontFacts,
  type SeenType,
  type SheetReply,
  type SheetRequest,
  type StandingPart,
} from './sheet-requests'

type Ask<K extends SheetRequest['type']> = Extract<Asked<SheetRequest>, { type: K }>

/** The sheet worker as promises. */
export class SheetService {
  private readonly channel = new WorkerChannel<SheetRequest, SheetReply>(
    (onMessage, onError) =>
      browserPort(
        new Worker(new URL('./sheet-worker.ts', import.meta.url), { type: 'module' }),
        onMessage,
        onError,
        'the sheet worker stopped',
      ),
    () => (this.broken = true),
  )
  private broken = false
  /** Sheets as the worker has them: the one at work under null, those of single views under their numbers. */
  private readonly sheets = new Map<number | null, Sheet>()
  /** Number of the newest request of each view, where the worker sees it in the middle of its work. */
  private readonly newest = canShare() ? new Int32Array(new SharedArrayBuffer(4 * MOST_VIEWS)) : null
  private shows = 0

  constructor() {
    // Without memory that threads share, a newer request is seen when its message is.
    if (this.newest)
      void this.channel.ask({ type: 'newest', numbers: this.newest }, 'done').catch(() => undefined)
  }

  /** Whether the worker ended by itself: all that it held is gone, and it answers nothing any more. */
  get isBroken(): boolean {
    return this.broken
  }

  /** Hands over a pass or a picture; their arrays move to the worker and are empty afterwards. */
  async give(message: Ask<'pass' | 'picture'>): Promise<void> {
    const arrays = message.type === 'pass' ? (message.result?.channels ?? []) : [message.bytes]
    await this.channel.ask(message, 'done', { transfer: movable(arrays) })
  }
  /** @returns its size. @throws {Error} naming the file and the reason where it is no picture that can be read. */
  async checkPicture(
    name: string,
    bytes: Uint8Array,
  ): Promise<{ readonly width: number; readonly height: number; readonly premultiplied: boolean | null }> {
    const {
      width,
      height,
      premultiplied = null,
    } = await this.channel.ask({ type: 'check-picture', name, bytes }, 'size')
    return { width, height, premultiplied }
  }
  /** What an OpenRaster file holds. @throws {Error} naming the file, and the part and the reason. */
  async readLayers(
    name: string,
    bytes: Uint8Array,
    onProgress: (share01: number) => void,
  ): Promise<OpenRasterFile> {
    const message = { type: 'read-layers', name, bytes } as const
    return (await this.channel.ask(message, 'layers', { transfer: movable([bytes]), onProgress })).file
  }
  /** Hands over a tile that was painted by hand. */
  async givePaint(name: string, bytes: Uint8Array<ArrayBuffer>): Promise<void> {
    await this.channel.ask({ type: 'paint-tile', name, bytes }, 'done', { transfer: movable([bytes]) })
  }
  /** A stroke that a brush made, by itself. */
  async brushSample(brush: BrushUse, size: RenderSize): Promise<ReplyOf<SheetReply, 'raster'>> {
    return this.channel.ask({ type: 'brush-sample', brush, size }, 'raster')
  }
  /** A pen comes down on the sheet at work. @param stroke a number that no stroke had before. */
  async beginStroke(stroke: number, of: Stroke): Promise<void> {
    await this.channel.ask({ type: 'stroke-begin', stroke, of }, 'done')
  }
  /** The pen moves. @returns where its tip is led to, in sheet pixels; null where the stroke is gone. */
  async addToStroke(
    stroke: number,
    samples: readonly PenSample[],
  ): Promise<Pick<ReplyOf<SheetReply, 'stroke-tip'>, 'tip' | 'shown'>> {
    const message = { type: 'stroke-add', stroke, samples: writeSamples(samples) } as const
    return this.channel.ask(message, 'stroke-tip')
  }
  /** The pen is lifted. @returns the tiles that the stroke changed. */
  async endStroke(stroke: number, samples: readonly PenSample[]): Promise<readonly StrokeTile[]> {
    const message = { type: 'stroke-end', stroke, samples: writeSamples(samples) } as const
    return (await this.channel.ask(message, 'stroke-tiles')).tiles
  }
  /** The document knows of a stroke, or it is to be as if it never was. */
  async forgetStroke(stroke: number): Promise<void> {
    await this.channel.ask({ type: 'stroke-forget', stroke }, 'done')
  }
  /** Lets go of a picture, or of painted tiles. */
  async drop(message: Ask<'drop-picture' | 'drop-paint'>): Promise<void> {
    await this.channel.ask(message, 'done')
  }
  /**
   * Sets the sheet that everything else is asked of: as a whole the first time, then what changed of it.
   * @param beside a view that shows it instead of the one at work.
   * @throws {Error} where the worker refuses it; it is given as a whole the next time.
   */
  async takeSheet(sheet: Sheet, beside: number | null = null): Promise<void> {
    const before = this.sheets.get(beside)
    if (before === sheet) return
    this.sheets.set(beside, sheet)
    try {
      if (before?.id !== sheet.id) await this.channel.ask({ type: 'sheet', beside, sheet }, 'done')
      else {
        const changes = documentChanges(before, sheet)
        if (changes.length > 0) await this.channel.ask({ type: 'patch', beside, changes }, 'done')
      }
    } catch (error) {
      this.sheets.delete(beside)
      throw error
    }
  }
  /** Forgets the sheet of a view that shows the one at work from now on, or nothing. */
  async dropSheet(beside: number): Promise<void> {
    if (this.sheets.delete(beside)) await this.channel.ask({ type: 'sheet', beside, sheet: null }, 'done')
  }
  /** From now on a view is shown on a canvas of its window's size, which moves to the worker. */
  async setCanvas(message: Omit<Ask<'canvas'>, 'type'>): Promise<void> {
    await this.channel.ask({ type: 'canvas', ...message }, 'done', { transfer: [message.canvas] })
  }
  /**
   * Shows a view, and ends what was asked of it before.
   * @param onProgress told how much of what is seen is composed, 0…1, where that takes a while.
   * @returns how long it took, in milliseconds, when all that is seen stands on its canvas; null where a newer request took its
   *   place.
   */
  async show(
    message: Omit<Ask<'show'>, 'type' | 'number'>,
    onProgress?: (share01: number) => void,
  ): Promise<number | null> {
    const number = ++this.shows
    if (this.newest) Atomics.store(this.newest, message.view, number)
    const kinds = ['shown', 'ended', 'missing'] as const
    const reply = await this.channel.ask({ type: 'show', number, ...message }, kinds, { onProgress })
    if (reply.type === 'missing') throw new Error('the view has no canvas')
    return reply.type === 'shown' ? reply.milliseconds : null
  }
  async closeView(view: number): Promise<void> {
    if (this.newest) Atomics.store(this.newest, view, ++this.shows)
    await this.channel.ask({ type: 'close-view', view }, 'done')
  }
  /** The whole sheet cut to a shape, as PNG; null where the view it is to be taken from shows a part of it only. */
  async snapshot(view: number | null, size: RenderSize): Promise<Uint8Array<ArrayBuffer> | null> {
    const reply = await this.channel.ask({ type: 'snapshot', view, size }, ['file', 'missing'])
    return reply.type === 'file' ? reply.bytes : null
  }
  /** A picture, or null where its source is missing. */
  async raster(
    message: Ask<'thumbnail' | 'try-effect' | 'sheet-picture' | 'pass-picture'>,
  ): Promise<ReplyOf<SheetReply, 'raster'> | null> {
    const reply = await this.channel.ask(message, ['raster', 'missing'])
    return reply.type === 'raster' ? reply : null
  }
  /** How much is how dark; null where there is nothing to look at. */
  async scopes(
    message: Omit<Ask<'scopes'>, 'type' | 'effectId'> & { readonly effectId?: string },
  ): Promise<Scopes | null> {
    const asked = { type: 'scopes', effectId: null, ...message } as const
    const reply = await this.channel.ask(asked, ['scopes', 'missing'])
    return reply.type === 'scopes' ? reply.scopes : null
  }
  /** What goes into an effect at a place in shares of the sheet, 0…255; null where it is clear. */
  async effectInput(
    message: Omit<Ask<'effect-input'>, 'type'>,
  ): Promise<readonly [number, number, number] | null> {
    const reply = await this.channel.ask({ type: 'effect-input', ...message }, ['colour', 'missing'])
    return reply.type === 'colour' ? reply.rgb : null
  }
  /** How far away what is seen at a place is, in shares of the subject's depth; null where nothing is. */
  async mapAt(message: Omit<Ask<'map-at'>, 'type'>): Promise<number | null> {
    const reply = await this.channel.ask({ type: 'map-at', ...message }, ['number', 'missing'])
    return reply.type === 'number' ? reply.value : null
  }
  /** By which parameters an effect makes what goes into it like a picture. @throws {Error} naming the picture. */
  async matchTones(message: Omit<Ask<'match-tones'>, 'type'>): Promise<ParamValues | null> {
    const reply = await this.channel.ask({ type: 'match-tones', ...message }, ['params', 'missing'])
    return reply.type === 'params' ? reply.params : null
  }
  /** Tells with which lights and base colours a pass is to be seen. */
  async relight(message: Ask<'lights'>): Promise<void> {
    await this.channel.ask(message, 'done')
  }
  /** The lines of a pass as they are on a layer, as an SVG file; null where it has none. */
  async linesFile(message: Omit<Ask<'lines-file'>, 'type'>): Promise<Uint8Array | null> {
    const reply = await this.channel.ask({ type: 'lines-file', ...message }, ['file', 'missing'])
    return reply.type === 'file' ? reply.bytes : null
  }
  /** Tiles that were painted, as the worker holds them; those that it does not are left out. */
  async paintBytes(names: readonly string[]): Promise<ReplyOf<SheetReply, 'paint-bytes'>['tiles']> {
    return (await this.channel.ask({ type: 'paint-bytes', names: [...names] }, 'paint-bytes')).tiles
  }
  /** Carries paint over from one view to another. */
  async carryOver(
    message: Omit<Ask<'carry-over'>, 'type'>,
    onProgress: (share01: number) => void,
  ): Promise<ReplyOf<SheetReply, 'carried'>> {
    return this.channel.ask({ type: 'carry-over', ...message }, 'carried', { onProgress })
  }
  /** The part of a line of passes between two places of the sheet, in its pixels; nothing where none is near. */
  async lineBetween(
    message: Omit<Ask<'line-between'>, 'type'>,
  ): Promise<readonly (readonly [number, number])[]> {
    return (await this.channel.ask({ type: 'line-between', ...message }, 'way')).points
  }
  /** What has grown on a layer, as an SVG file; null where nothing has. */
  async grownLines(layerId: string, heightMm: number | null): Promise<Uint8Array | null> {
    const reply = await this.channel.ask({ type: 'grown-lines', layerId, heightMm }, ['file', 'missing'])
    return reply.type === 'file' ? reply.bytes : null
  }
  /** Keys of the parts whose lines lie beneath a brush. */
  async partsBeneath(passId: string, path: number[], radius: number): Promise<string[]> {
    const reply = await this.channel.ask({ type: 'lines-beneath', passId, path, radius }, [
      'parts',
      'missing',
    ])
    return reply.type === 'parts' ? reply.keys : []
  }
  /** Hands over the files of a font. @throws {Error} naming the file that cannot be read. */
  async giveFont(
    fontId: string,
    files: readonly { readonly name: string; readonly bytes: Uint8Array }[],
  ): Promise<void> {
    await this.channel.ask({ type: 'font', fontId, files: [...files] }, 'done')
  }
  async dropFont(fontId: string): Promise<void> {
    await this.channel.ask({ type: 'drop-font', fontId }, 'done')
  }
  /** What a font says of itself; null where it is not there. */
  async fontFacts(fontId: string): Promise<FontFacts | null> {
    const reply = await this.channel.ask({ type: 'font-facts', fontId }, ['font-facts', 'missing'])
    return reply.type === 'font-facts' ? reply.facts : null
  }
  /** How a block of type of the sheet at work is set; null where it is none, or its font is not there. */
  async typeLayout(layerId: string): Promise<SeenType | null> {
    const reply = await this.channel.ask({ type: 'type-layout', layerId }, ['type-layout', 'missing'])
    return reply.type === 'type-layout' ? reply.set : null
  }
  /** How well a layer stands out from what lies under it; null where nothing of it is seen. */
  async reads(layerId: string): Promise<Reads | null> {
    const reply = await this.channel.ask({ type: 'reads', layerId }, ['reads', 'missing'])
    return reply.type === 'reads' ? reply.reads : null
  }
  /** The parts of a shot from the farthest to the nearest; null without an ID and a depth pass. */
  async partDepths(shotId: string, side: number): Promise<readonly StandingPart[] | null> {
    const reply = await this.channel.ask({ type: 'part-depths', shotId, side }, ['part-depths', 'missing'])
    return reply.type === 'part-depths' ? reply.parts : null
  }
  /** How large a picture is; null where it is not there. */
  async pictureSize(pictureId: string): Promise<{ readonly width: number; readonly height: number } | null> {
    const reply = await this.channel.ask({ type: 'picture-size', pictureId }, ['size', 'missing'])
    return reply.type === 'size' ? { width: reply.width, height: reply.height } : null
  }
  /** How much there is of each tone in what a layer shows, or beneath it; null where it is not shown. */
  async toneHistogram(message: Omit<Ask<'tone-histogram'>, 'type'>): Promise<readonly number[] | null> {
    const reply = await this.channel.ask({ type: 'tone-histogram', ...message }, ['tones', 'missing'])
    return reply.type === 'tones' ? reply.tones : null
  }
  /** What each layer brings to a pixel of the sheet; null beside it. */
  async contributions(x: number, y: number): Promise<Contributions | null> {
    const reply = await this.channel.ask({ type: 'contributions', x, y }, ['contributions', 'missing'])
    return reply.type === 'contributions' ? reply : null
  }
  /** What is beneath a place of a sheet, 0…1 across and down; with the shot's camera its plane, too. */
  async pick(
    shotId: string,
    { width, height, fit, lies }: Pick<Sheet, 'width' | 'height' | 'fit' | 'lies'>,
    x01: number,
    y01: number,
    camera: Camera | null = null,
  ): Promise<ReplyOf<SheetReply, 'picked'>> {
    const sheet = { width, height, fit, lies }
    return this.channel.ask({ type: 'pick', shotId, sheet, x01, y01, camera }, 'picked')
  }
  /** The type and lines of the sheet at work as an SVG file. */
  async posterSvg(message: Omit<Ask<'poster-svg'>, 'type'>): Promise<Uint8Array<ArrayBuffer>> {
    return (await this.channel.ask({ type: 'poster-svg', ...message }, 'file')).bytes
  }
  /** The sheet at work as a PDF of its page. */
  async posterPdf(
    message: Omit<Ask<'poster-pdf'>, 'type'>,
    onProgress: (share01: number) => void,
  ): Promise<Uint8Array<ArrayBuffer>> {
    return (await this.channel.ask({ type: 'poster-pdf', ...message }, 'file', { onProgress })).bytes
  }
  async export(message: Ask<'export'>, onProgress: (share01: number) => void): Promise<Blob> {
    return (await this.channel.ask(message, 'blob', { onProgress })).blob
  }

  /** Ends the worker in the middle of whatever it does; an export cancelled between two of its requests ends too. */
  close(): void {
    this.channel.close(new CancelledError('The sheet’s work'))
  }
}

const canShare = (): boolean => typeof crossOriginIsolated !== 'undefined' && crossOriginIsolated
