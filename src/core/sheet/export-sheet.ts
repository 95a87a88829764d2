import { assertNever } from '../errors'
import { writeOpenRaster, type OpenRasterNode, OPERATION } from '../formats/openraster'
import { PngStream, type Packing } from '../formats/png-stream'
import { resizePicture } from '../picture/resample'
import { fromRgba8, premultiplied, toStraight8 } from '../picture/rgba-picture'
import { encode as encodeJpeg } from 'jpeg-js'
import type { Tile } from '../passes/tile'
import { rowsAlone, wholePicture, type PictureRows, type RowsOf, type TileAsk } from './evaluate/picture-rows'
import { isPassThrough, planLayer, planSheet } from './evaluate/plan-sheet'
import type { Composition, SheetPlan, SheetView } from './evaluate/sheet-plan'
import type { SheetEvaluator } from './evaluate/sheet-evaluator'
import type { SheetResources } from './sheet-resources'
import { hasContent, type Sheet, type SheetNode } from './sheet-schema'

/** Every way a sheet can leave as one file. */
export const SHEET_FORMATS = ['png8', 'png16', 'jpeg', 'ora'] as const
export type SheetFormat = (typeof SHEET_FORMATS)[number]

export const sheetFormatLabels: Readonly<Record<SheetFormat, string>> = {
  png8: 'PNG, 8 bit',
  png16: 'PNG, 16 bit',
  jpeg: 'JPEG',
  ora: 'OpenRaster, layered',
}
export const sheetFormatExtensions: Readonly<Record<SheetFormat, string>> = {
  png8: 'png',
  png16: 'png',
  jpeg: 'jpg',
  ora: 'ora',
}

/** What of a sheet is to leave, and how. */
export interface ExportOptions {
  readonly width: number
  readonly height: number
  readonly transparent: boolean
  /** Only a part of it, in pixels of that size; of flat pictures. */
  readonly crop?: Tile
  /** Says in the file how large it is on paper. */
  readonly dpi?: number
  /** Of PNG files; small where left out. */
  readonly packing?: Packing
}

/** What pictures that leave are begun as. */
export const EXPORT_SERIES = 'export'

/**
 * The sheet at a size, as the bytes of a file, piece by piece: of a flat picture neither it nor its layers are ever there as a
 * whole.
 * @param onProgress told the share that is done, 0…1.
 * @param rowsOf gives the rows of the picture that the evaluator has begun; others may paint them too.
 */
export function* exportSheet(
  sheet: Sheet,
  evaluator: SheetEvaluator,
  resources: SheetResources,
  format: SheetFormat,
  options: ExportOptions,
  onProgress: (share01: number) => void = () => undefined,
  rowsOf: RowsOf = rowsAlone(evaluator, options.width),
): Generator<Uint8Array, void> {
  const size = { width: options.width, height: options.height }
  const view: SheetView = { size, transparent: options.transparent }
  const plan = planSheet(sheet, view, resources)
  evaluator.begin(plan, EXPORT_SERIES)
  switch (format) {
    case 'png8':
    case 'png16':
      return yield* pngOf(plan, format === 'png8' ? 8 : 16, rowsOf, onProgress, options)
    case 'jpeg':
      return yield jpegOf(plan, rowsOf, onProgress, options)
    case 'ora':
      return yield new LayeredFile(sheet, evaluator, resources, plan, view, onProgress).write()
    default:
      return assertNever(format)
  }
}

const NO_BYTES = new Uint8Array(0)

/** The picture as a PNG, row of tiles by row of tiles. */
function* pngOf(
  { size }: SheetPlan,
  depth: 8 | 16,
  rowsOf: RowsOf,
  onProgress: (share01: number) => void,
  { crop = { x: 0, y: 0, ...size }, dpi, packing }: Pick<ExportOptions, 'crop' | 'dpi' | 'packing'>,
): Generator<Uint8Array, void> {
  const pieces: Uint8Array[] = []
  const stream = new PngStream(crop.width, crop.height, depth, (bytes) => pieces.push(bytes), dpi, packing)
  for (const rows of rowsOf(depth === 8 ? 'bytes' : 'words', onProgress)) {
    const cut = cutRows(rows, crop, size.width, depth === 8 ? 4 : 8)
    if (cut.length > 0) stream.write(cut)
    // Nothing after a row is a piece, too: who writes may do something else in between.
    yield* pieces.length > 0 ? pieces.splice(0) : [NO_BYTES]
  }
}

/** What of rows of a picture lies in a part of it. @param bytes of a pixel. */
function cutRows({ top, height, pixels }: PictureRows, crop: Tile, width: number, bytes: number): Uint8Array {
  const from = Math.max(0, crop.y - top)
  const to = Math.min(height, crop.y + crop.height - top)
  if (to <= from) return new Uint8Array(0)
  if (crop.width === width) return pixels.subarray(bytes * width * from, bytes * width * to)
  const out = new Uint8Array(bytes * crop.width * (to - from))
  for (let y = from; y < to; y++) {
    const at = bytes * (y * width + crop.x)
    out.set(pixels.subarray(at, at + bytes * crop.width), bytes * crop.width * (y - from))
  }
  return out
}

const JPEG_QUALITY = 92

/** The picture as a JPEG: it knows no alpha, so that it lies on white. */
function jpegOf(
  { size }: SheetPlan,
  rowsOf: RowsOf,
  onProgress: (share01: number) => void,
  { crop = { x: 0, y: 0, ...size }, dpi }: Pick<ExportOptions, 'crop' | 'dpi'>,
): Uint8Array {
  const rgba = new Uint8Array(4 * crop.width * crop.height)
  let at = 0
  for (const rows of rowsOf('bytes', (share) => onProgress(0.8 * share))) {
    const cut = cutRows(rows, crop, size.width, 4)
    for (let i = 0; i < cut.length; i += 4, at += 4) {
      const alpha = cut[i + 3] / 255
      for (let c = 0; c < 3; c++) rgba[at + c] = Math.round(cut[i + c] * alpha + 255 * (1 - alpha))
      rgba[at + 3] = 255
    }
  }
  const { data } = encodeJpeg({ width: crop.width, height: crop.height, data: rgba }, JPEG_QUALITY)
  const file = new Uint8Array(data)
  // Dots of an inch, in the segment that every file begins with (JFIF 1.02).
  if (dpi !== undefined && file[3] === 0xe0) {
    const dots = Math.round(dpi)
    file.set([1, dots >> 8, dots & 255, dots >> 8, dots & 255], 13)
  }
  return file
}

/** A sheet as layers: what weighs a layer becomes part of its alpha, for the format knows no masks. */
class LayeredFile {
  private done = 0
  private readonly pictures: number

  constructor(
    private readonly sheet: Sheet,
    private readonly evaluator: SheetEvaluator,
    private readonly resources: SheetResources,
    private readonly plan: SheetPlan,
    private readonly view: SheetView,
    private readonly onProgress: (share01: number) => void,
  ) {
    this.pictures = Object.keys(sheet.nodes).length + 2
  }

  write(): Uint8Array {
    const { sheet, evaluator, plan, view } = this
    const { width, height } = plan.size
    const merged = this.paint((tx, ty, use) => evaluator.tile(tx, ty, use))
    const nodes = this.layers(sheet.roots, plan.root)
    if (sheet.background && !view.transparent) {
      evaluator.begin(planSheet({ ...sheet, roots: [] }, view, this.resources), 'export ground')
      const rgba = this.paint((tx, ty, use) => evaluator.tile(tx, ty, use))
      nodes.unshift({ name: 'Background', mode: 'normal', opacity: 1, visible: true, rgba })
    }
    const shrink = Math.min(1, 256 / Math.max(width, height))
    const small = resizePicture(
      fromRgba8(merged, width, height),
      Math.max(1, Math.round(width * shrink)),
      Math.max(1, Math.round(height * shrink)),
    )
    const thumbnail = { width: small.width, height: small.height, rgba: toStraight8(premultiplied(small)) }
    return writeOpenRaster(width, height, nodes, merged, thumbnail)
  }

  private paint(ask: TileAsk): Uint8Array {
    this.onProgress(this.done++ / this.pictures)
    return wholePicture(this.evaluator, this.plan.size, 'bytes', ask)
  }

  private layers(ids: readonly string[], composition: Composition): OpenRasterNode[] {
    return ids.flatMap((id) => {
      const node = this.sheet.nodes[id]
      return node ? this.layer(node, composition) : []
    })
  }

  private layer(node: SheetNode, composition: Composition): OpenRasterNode[] {
    const { name, mode, opacity, visible } = node
    const common = { name, mode, opacity, visible }
    const { steps } = composition
    const index = steps.findIndex((step) => step.nodeId === node.id && step.kind !== 'begin')
    if (hasContent(node, 'group') && isPlainStack(node)) {
      const isolated = !isPassThrough(node)
      const step = steps[index]
      const inner =
        step && 'source' in step && step.source.kind === 'group' ? step.source.composition : composition
      // Of a hidden group nothing is planned: its layers are what each of them shows alone.
      const children = this.layers(node.content.children, inner)
      return [{ ...common, isolated, children }]
    }
    if (index < 0) return this.unplanned(node)
    const isSeen = steps[index].kind !== 'layer' || !(mode in OPERATION)
    const rgba = this.paint((tx, ty, use) =>
      isSeen
        ? this.evaluator.beneathTile(composition, index + 1, tx, ty, use)
        : this.evaluator.stepTile(composition, index, tx, ty, use),
    )
    // What a wash, a mixed group or a mode that the format does not know makes is only there with what lies beneath it: that
    // picture stands for it.
    return [{ ...common, ...(isSeen && { mode: 'normal', opacity: 1, name: `${name}, as seen` }), rgba }]
  }

  /** A layer that is not shown, as it is alone. */
  private unplanned(node: SheetNode): OpenRasterNode[] {
    const alone = planLayer(node, this.sheet, this.view, this.resources)
    // Shown, but confined to what is not there: nothing of it is to be seen.
    if (!alone || (node.visible && node.opacity > 0)) return []
    const { name, mode, opacity, visible } = node
    const rgba = this.paint((tx, ty, use) => this.evaluator.layerTile(alone.source, alone.mask, tx, ty, use))
    return [{ name, mode, opacity, visible, rgba }]
  }
}

/** Whether a group can be a stack of the format: nothing weighs or changes it as a whole but mode and opacity. */
const isPlainStack = (node: SheetNode): boolean =>
  node.mask === null &&
  node.gate === null &&
  !node.confine &&
  node.mode in OPERATION &&
  !node.effects.some(({ enabled }) => enabled) &&
  (node.opacity === 1 || !isPassThrough(node))
