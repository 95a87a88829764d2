// One file: one document, written object after object.
import { PDFDocument, PDFName, PDFRawStream, type PDFDict, type PDFObject, type PDFRef } from 'pdf-lib'
import { joinBytes } from '../join-bytes'
import { parseHex } from '../math/colour'
import { allStrokePaths } from '../lines/stroke-paths'
import { passStrokes } from '../passes/pass-picture'
import { sheetBox } from '../sheet/contents/sheet'
import { setType, type SetType, type TypeBlock } from '../sheet/contents/type'
import type { RowsOf } from '../sheet/evaluate/picture-rows'
import { planSheet } from '../sheet/evaluate/plan-sheet'
import type { SheetView } from '../sheet/evaluate/sheet-plan'
import type { SheetEvaluator } from '../sheet/evaluate/sheet-evaluator'
import type { SheetResources } from '../sheet/sheet-resources'
import { passPlacement } from '../sheet/pass-placement'
import { hasContent, type Sheet } from '../sheet/sheet-schema'
import { EXPORT_SERIES } from '../sheet/export-sheet'
import type { Font } from '../type/shaper'
import { glyphMaps, typeContours } from '../type/type-outlines'
import { PdfFont } from './pdf-font'
import { splitStack, typeOf, type StackPart } from './split-stack'

/** Paper of a page, in millimetres: the sheet reaches over the bleed on every side. */
export interface PdfPaper {
  readonly widthMm: number
  readonly heightMm: number
  readonly bleedMm: number
  readonly marks: { readonly crop: boolean; readonly registration: boolean }
}

export interface PdfOptions {
  readonly title: string
  readonly author: string
  /** Letters as outlines rather than as text in fonts of their own. */
  readonly outlines: boolean
}

const POINTS_PER_MM = 72 / 25.4
/** How far marks stand off, how long they are, and what is left beside them. Millimetres. */
const [MARK_OFF, MARK_LONG, MARK_ROOM] = [2, 6, 2]
const MARK_WIDTH = 0.25

/**
 * A page as a PDF: its picture, and letters over it as letters; boxes for what is cut (ISO 32000-1, section 14.11.2), marks
 * beside it. Letters that are part of the picture lie over it unseen, so that they can be found.
 * @param rowsOf gives the rows of a view that the evaluator has begun.
 * @param onProgress told the share that is done, 0…1.
 */
export async function posterPdf(
  sheet: Sheet,
  paper: PdfPaper,
  options: PdfOptions,
  evaluator: SheetEvaluator,
  resources: SheetResources,
  rowsOf: (view: SheetView, series: string) => RowsOf,
  onProgress: (share01: number) => void = () => undefined,
): Promise<Uint8Array<ArrayBuffer>> {
  const pdf = await PDFDocument.create({ updateMetadata: false })
  return new PosterFile(pdf, sheet, paper, options, evaluator, resources, rowsOf, onProgress).write()
}

class PosterFile {
  private readonly content: string[] = []
  private readonly xObjects: Record<string, PDFRef> = {}
  private readonly states: Record<string, PDFRef> = {}
  private readonly fonts = new Map<Font, { readonly name: string; readonly font: PdfFont }>()
  /** Points of a pixel of the sheet. */
  private readonly perPx: number
  /** Where the sheet begins on the page, from its lower left corner. */
  private readonly room: number
  private readonly height: number

  constructor(
    private readonly pdf: PDFDocument,
    private readonly sheet: Sheet,
    private readonly paper: PdfPaper,
    private readonly options: PdfOptions,
    private readonly evaluator: SheetEvaluator,
    private readonly resources: SheetResources,
    private readonly rowsOf: (view: SheetView, series: string) => RowsOf,
    private readonly onProgress: (share01: number) => void,
  ) {
    const { heightMm, bleedMm, marks } = paper
    const hasMarks = marks.crop || marks.registration
    this.room = hasMarks ? (MARK_OFF + MARK_LONG + MARK_ROOM) * POINTS_PER_MM : 0
    this.height = (heightMm + 2 * bleedMm) * POINTS_PER_MM
    this.perPx = this.height / sheet.height
  }

  async write(): Promise<Uint8Array<ArrayBuffer>> {
    const { sheet, paper, pdf, options, resources } = this
    const parts = splitStack(sheet, resources)
    const pictures = parts.filter(({ kind }) => kind === 'picture').length
    let done = 0
    const letters = new Set<string>()
    for (const [i, part] of parts.entries()) {
      if (part.kind === 'picture') {
        await this.picture(part, i === 0, (share) => this.onProgress((0.97 * (done + share)) / pictures))
        done++
      } else if (part.kind === 'lines') this.lines(part.nodeId, part.frameId)
      else {
        letters.add(part.nodeId)
        this.letters(part.nodeId)
      }
    }
    // What was painted as pixels can be found all the same.
    if (!options.outlines) for (const { id } of typeOf(sheet)) if (!letters.has(id)) this.unseen(id)
    this.marks()
    for (const { font } of this.fonts.values()) font.write()

    const [across, bleed] = [paper.widthMm * POINTS_PER_MM, paper.bleedMm * POINTS_PER_MM]
    const down = paper.heightMm * POINTS_PER_MM
    const { room } = this
    const page = pdf.addPage([across + 2 * (bleed + room), down + 2 * (bleed + room)])
    page.setTrimBox(room + bleed, room + bleed, across, down)
    page.setBleedBox(room, room, across + 2 * bleed, down + 2 * bleed)
    page.setArtBox(room + bleed, room + bleed, across, down)
    const { context } = pdf
    const fonts = Object.fromEntries([...this.fonts.values()].map(({ name, font }) => [name, font.ref]))
    page.node.set(
      PDFName.of('Resources'),
      context.obj({
        XObject: this.xObjects,
        ExtGState: this.states,
        Font: fonts,
        ColorSpace: { All: this.everyInk() },
      }),
    )
    page.node.set(PDFName.of('Contents'), context.register(context.flateStream(this.content.join('\n'))))
    pdf.setTitle(options.title)
    if (options.author !== '') pdf.setAuthor(options.author)
    pdf.setProducer('Muted Relief')
    pdf.setCreator('Muted Relief')
    const info = context.lookup(context.trailerInfo.Info) as PDFDict | undefined
    info?.set(PDFName.of('Trapped'), PDFName.of('False'))
    const bytes = await pdf.save({ useObjectStreams: false })
    this.onProgress(1)
    return new Uint8Array(bytes)
  }

  // ------------------------------------------------------------------ pictures

  /** Layers as one picture over the whole page. @param isBack with the paper, opaque. */
  private async picture(
    { ids, without }: Extract<StackPart, { kind: 'picture' }>,
    isBack: boolean,
    tell: (share01: number) => void,
  ): Promise<void> {
    const { sheet, evaluator, resources } = this
    const { width, height } = sheet
    const view: SheetView = { size: { width, height }, without, transparent: !isBack }
    const series = isBack ? EXPORT_SERIES : `${EXPORT_SERIES} ${ids[0] ?? ''}`
    evaluator.begin(planSheet(sheet, view, resources), series)
    const isOpaque = isBack && sheet.background !== null
    const colours = new DeflatedRows(3 * width)
    const alphas = isOpaque ? null : new DeflatedRows(width)
    for (const { pixels, height: rows } of this.rowsOf(view, series)('bytes', tell)) {
      const rgb = new Uint8Array(3 * width * rows)
      const alpha = alphas && new Uint8Array(width * rows)
      for (let i = 0, from = 0, to = 0; i < width * rows; i++, from += 4, to += 3) {
        rgb[to] = pixels[from]
        rgb[to + 1] = pixels[from + 1]
        rgb[to + 2] = pixels[from + 2]
        if (alpha) alpha[i] = pixels[from + 3]
      }
      await colours.put(rgb)
      if (alphas && alpha) await alphas.put(alpha)
    }
    const { context } = this.pdf
    const imageOf = (
      bytes: Uint8Array,
      colourSpace: string,
      count: number,
      rest: Record<string, PDFObject>,
    ): PDFRef => {
      const dict = context.obj({
        Type: 'XObject',
        Subtype: 'Image',
        Width: width,
        Height: height,
        ColorSpace: colourSpace,
        BitsPerComponent: 8,
        Filter: 'FlateDecode',
        DecodeParms: { Predictor: 15, Colors: count, BitsPerComponent: 8, Columns: width },
        Length: bytes.length,
        ...rest,
      }) as PDFDict
      return context.register(PDFRawStream.of(dict, bytes))
    }
    const mask = alphas && imageOf(await alphas.end(), 'DeviceGray', 1, {})
    const name = `P${Object.keys(this.xObjects).length}`
    this.xObjects[name] = imageOf(await colours.end(), 'DeviceRGB', 3, mask ? { SMask: mask } : {})
    const across = number(this.perPx * width)
    this.content.push(
      `q ${across} 0 0 ${number(this.height)} ${number(this.room)} ${number(this.room)} cm /${name} Do Q`,
    )
  }

  // ------------------------------------------------------------------ lines

  /** The lines of a pass where its picture lies. @param frameId the layer in whose sheet they are. */
  private lines(nodeId: string, frameId: string | null): void {
    const { sheet, resources } = this
    const frame = frameId === null ? null : sheet.nodes[frameId]
    const inner = frame && hasContent(frame, 'sheet') ? sheet.shown?.[frame.content.sheetId] : sheet
    const node = inner?.nodes[nodeId]
    if (!inner || !node || !hasContent(node, 'pass')) return
    const { passId, look, byHand = [] } = node.content
    const result = resources.pass(passId)
    const strokes = result && passStrokes(result, look, byHand)
    if (!result || !strokes) return
    const { perPx } = this
    this.content.push('q', `/${this.state(node.opacity, node.mode === 'multiply')} gs`, '1 J 1 j')
    // Of a sheet in a frame what the frame shows; its pixels, from the upper left.
    let [scale, left, top] = [1, 0, 0]
    if (frame && hasContent(frame, 'sheet')) {
      const [x, y, width, height] = frame.content.box
      const corner = this.toPage([x * sheet.width, (y + height) * sheet.height])
      const size = [width * sheet.width, height * sheet.height].map((side) => number(side * perPx))
      this.content.push(`${corner.map(number).join(' ')} ${size.join(' ')} re W n`)
      const lies = sheetBox(frame.content, inner, sheet)
      ;[scale, left, top] = [
        (lies[2] * sheet.width) / inner.width,
        lies[0] * sheet.width,
        lies[1] * sheet.height,
      ]
    }
    const placed = passPlacement(result, inner, inner)
    const at = (i: number, points: readonly number[]): string =>
      this.toPage([left + scale * (placed.x + points[i]), top + scale * (placed.y + points[i + 1])])
        .map(number)
        .join(' ')
    const wayOf = (points: readonly number[]): string[] => {
      const way = [`${at(0, points)} m`]
      for (let i = 2; i < points.length; i += 2) way.push(`${at(i, points)} l`)
      // A dot is a line of no length, with round ends.
      if (points.length === 2) way.push(`${at(0, points)} l`)
      return way
    }
    for (const path of allStrokePaths(result.drawing ?? null, strokes, placed.height)) {
      const colour = path.colour.map((byte) => number(byte / 255)).join(' ')
      if (path.kind === 'fill')
        this.content.push(`${colour} rg`, ...path.outlines.flatMap((own) => [...wayOf(own), 'h']), 'f')
      else
        this.content.push(
          `${colour} RG ${number(path.width * scale * perPx)} w`,
          ...wayOf(path.points),
          path.isClosed ? 's' : 'S',
        )
    }
    this.content.push('Q')
  }

  // ------------------------------------------------------------------ letters

  private letters(nodeId: string): void {
    const node = this.sheet.nodes[nodeId]
    const block = node.content
    if (block.kind !== 'type') return
    const set = setType(block, this.sheet, this.resources)
    if (!set) return
    const rgb = (hex: string) => parseHex(hex).slice(0, 3).map(number).join(' ')
    this.content.push('q', `/${this.state(node.opacity)} gs`, `${rgb(block.colour)} rg`)
    if (block.outline > 0)
      this.content.push(`${rgb(block.outlineColour)} RG`, `${number(2 * block.outline * this.perPx)} w 1 j`)
    // A line about letters is drawn: as text it would be found, and copied, twice.
    if (block.outline > 0) this.content.push(this.outlines(block, set), 'S')
    const isBent = glyphMaps(set.layout, set.frame, block).isBent
    if (this.options.outlines || isBent) {
      this.content.push(this.outlines(block, set), 'f')
      if (!this.options.outlines) this.text(block, set, 3)
    } else this.text(block, set, 0)
    this.content.push('Q')
  }

  /** Letters that are only there to be found. */
  private unseen(nodeId: string): void {
    const block = this.sheet.nodes[nodeId].content
    const set = block.kind === 'type' ? setType(block, this.sheet, this.resources) : null
    if (set && block.kind === 'type') this.text(block, set, 3)
  }

  /** Text glyph by glyph, where it was set. @param mode 0 fills, 3 shows nothing. */
  private text(block: TypeBlock, set: SetType, mode: 0 | 3): void {
    const mapOf = glyphMaps(set.layout, set.frame, block)
    this.content.push('BT', `${mode} Tr`)
    let at = ''
    const told = new Set<string>()
    for (const glyph of set.layout.glyphs) {
      const { name, font } = this.fontOf(glyph.font)
      if (name !== at) this.content.push(`/${name} 1 Tf`)
      at = name
      const map = mapOf(glyph)
      const [o, x, y] = [map(0, 0), map(1, 0), map(0, 1)].map((p) => this.toPage(p))
      const matrix = [x[0] - o[0], x[1] - o[1], y[0] - o[0], y[1] - o[1], o[0], o[1]].map(number).join(' ')
      // The first glyph of those that stand for some characters says so.
      const key = `${glyph.start} ${glyph.end}`
      const text = told.has(key) ? '' : block.text.slice(glyph.start, glyph.end)
      told.add(key)
      this.content.push(`${matrix} Tm <${font.use(glyph.glyph, text)}> Tj`)
    }
    this.content.push('ET')
  }

  private fontOf(font: Font): { readonly name: string; readonly font: PdfFont } {
    let own = this.fonts.get(font)
    if (!own) {
      own = { name: `F${this.fonts.size}`, font: new PdfFont(this.pdf, font, this.fonts.size) }
      this.fonts.set(font, own)
    }
    return own
  }

  /** Outlines of a block as a path. */
  private outlines(block: TypeBlock, { layout, frame }: SetType): string {
    const { points, starts } = typeContours(layout, frame, block, 1)
    const path: string[] = []
    for (let c = 0; c + 1 < starts.length; c++) {
      for (let i = starts[c]; i < starts[c + 1]; i++) {
        const [x, y] = this.toPage([points[2 * i], points[2 * i + 1]])
        path.push(`${number(x)} ${number(y)} ${i === starts[c] ? 'm' : 'l'}`)
      }
      path.push('h')
    }
    return path.join('\n')
  }

  private toPage([x, y]: readonly [number, number]): readonly [number, number] {
    return [this.room + x * this.perPx, this.room + this.height - y * this.perPx]
  }

  private state(opacity: number, multiplies = false): string {
    const name = `G${Math.round(opacity * 1000)}${multiplies ? 'M' : ''}`
    const mode = multiplies ? { BM: 'Multiply' } : {}
    this.states[name] ??= this.pdf.context.register(
      this.pdf.context.obj({ ca: opacity, CA: opacity, ...mode }),
    )
    return name
  }

  // ------------------------------------------------------------------ marks

  /** The colour that is on every plate. */
  private everyInk(): PDFRef {
    const { context } = this.pdf
    const tint = context.register(
      context.obj({ FunctionType: 2, Domain: [0, 1], C0: [0, 0, 0, 0], C1: [1, 1, 1, 1], N: 1 }),
    )
    return context.register(context.obj(['Separation', 'All', 'DeviceCMYK', tint]))
  }

  private marks(): void {
    const { marks, widthMm, heightMm, bleedMm } = this.paper
    if (!marks.crop && !marks.registration) return
    const mm = POINTS_PER_MM
    const [x0, y0] = [this.room + bleedMm * mm, this.room + bleedMm * mm]
    const [x1, y1] = [x0 + widthMm * mm, y0 + heightMm * mm]
    const off = Math.max(bleedMm, MARK_OFF) * mm
    const long = MARK_LONG * mm
    const line = (ax: number, ay: number, bx: number, by: number) =>
      this.content.push(`${number(ax)} ${number(ay)} m ${number(bx)} ${number(by)} l S`)
    this.content.push('q', '/All CS 1 SCN', `${MARK_WIDTH} w`)
    if (marks.crop)
      for (const [x, dx] of [
        [x0, -1],
        [x1, 1],
      ])
        for (const [y, dy] of [
          [y0, -1],
          [y1, 1],
        ]) {
          line(x + dx * off, y, x + dx * (off + long), y)
          line(x, y + dy * off, x, y + dy * (off + long))
        }
    if (marks.registration) {
      const [mx, my] = [(x0 + x1) / 2, (y0 + y1) / 2]
      const far = off + long / 2
      for (const [x, y] of [
        [mx, y0 - far],
        [mx, y1 + far],
        [x0 - far, my],
        [x1 + far, my],
      ]) {
        const r = 0.3 * long
        line(x - 1.5 * r, y, x + 1.5 * r, y)
        line(x, y - 1.5 * r, x, y + 1.5 * r)
        this.content.push(circle(x, y, r))
      }
    }
    this.content.push('Q')
  }
}

/** A circle of four curves, drawn. */
function circle(x: number, y: number, r: number): string {
  const k = 0.5523 * r
  const p = (...values: number[]) => values.map(number).join(' ')
  return [
    `${p(x + r, y)} m`,
    `${p(x + r, y + k, x + k, y + r, x, y + r)} c`,
    `${p(x - k, y + r, x - r, y + k, x - r, y)} c`,
    `${p(x - r, y - k, x - k, y - r, x, y - r)} c`,
    `${p(x + k, y - r, x + r, y - k, x + r, y)} c S`,
  ].join(' ')
}

const number = (value: number): string => String(Number(value.toFixed(5)))

/** What of the host's own compression is used here: the core is checked without the DOM's types. */
interface DeflateHost {
  readonly CompressionStream: new (format: 'deflate') => {
    readonly writable: {
      getWriter(): { write(bytes: Uint8Array): Promise<void>; close(): Promise<void> }
    }
    readonly readable: {
      getReader(): { read(): Promise<{ readonly done: boolean; readonly value?: Uint8Array }> }
    }
  }
}

/** Rows of bytes, each told by what differs from the one above it (PNG's filter 2), deflated as they come. */
class DeflatedRows {
  private readonly above: Uint8Array
  private readonly pieces: Uint8Array[] = []
  private readonly writer: ReturnType<InstanceType<DeflateHost['CompressionStream']>['writable']['getWriter']>
  private readonly read: Promise<void>

  /** @param bytes of a row. */
  constructor(private readonly bytes: number) {
    this.above = new Uint8Array(bytes)
    const { CompressionStream } = globalThis as unknown as DeflateHost
    const stream = new CompressionStream('deflate')
    this.writer = stream.writable.getWriter()
    this.read = this.readAll(stream.readable.getReader())
  }

  private async readAll(reader: {
    read(): Promise<{ readonly done: boolean; readonly value?: Uint8Array }>
  }): Promise<void> {
    for (let next = await reader.read(); !next.done; next = await reader.read())
      if (next.value) this.pieces.push(next.value)
  }

  /** Adds whole rows, from the top down. */
  async put(rows: Uint8Array): Promise<void> {
    const { bytes, above } = this
    const count = rows.length / bytes
    const filtered = new Uint8Array(count * (bytes + 1))
    for (let row = 0; row < count; row++) {
      const [from, to] = [row * bytes, row * (bytes + 1)]
      filtered[to] = 2
      for (let i = 0; i < bytes; i++) {
        const value = rows[from + i]
        filtered[to + 1 + i] = value - above[i]
        above[i] = value
      }
    }
    await this.writer.write(filtered)
  }

  async end(): Promise<Uint8Array> {
    await this.writer.close()
    await this.read
    return joinBytes(this.pieces)
  }
}
