import { contentName } from '@/core/content-name'
import { InvalidValueError } from '@/core/errors'
import type { BrushParams, BrushUse } from '@/core/paint/brush'
import type { Form } from '@/core/paint/formed-dab'
import { BrushMemory } from '@/core/paint/brush-memory'
import { CloneSource } from '@/core/paint/clone-source'
import { readPlace } from '@/core/paint/paint-grid'
import { inBlocks, TILE } from '@/core/picture/tile-form'
import { paintedAt, withLivePaint, type LivePaint } from '@/core/paint/live-paint'
import { StrokePainter, type StrokeAct } from '@/core/paint/stroke-painter'
import type { PenSample } from '@/core/paint/stroke-walker'
import { EMPTY, type KeptTiles } from '@/core/sheet/evaluate/kept-tiles'
import { planMask, planSheet } from '@/core/sheet/evaluate/plan-sheet'
import { SheetEvaluator } from '@/core/sheet/evaluate/sheet-evaluator'
import { shotMapWindow } from '@/core/sheet/shot-map-window'
import type { RenderSize, SheetResources } from '@/core/sheet/sheet-resources'
import type { Sheet } from '@/core/sheet/sheet-schema'
import type { Stroke, StrokeTile } from './stroke-messages'

/** Whether a brush asks which way the form faces. */
const followsForm = ({ lies, turns }: BrushParams): boolean =>
  lies > 0 || turns === 'tilted' || turns === 'curvature'

/** Which way what the shot of a sheet shows faces; null without a pass of normals. */
function formOf(sheet: Sheet, resources: SheetResources): Form | null {
  if (!resources.shotPass(sheet.shotId, 'normal')) return null
  const { width, height } = sheet
  const view = { width, height }
  return (x, y) => {
    const window = { x: Math.floor(x), y: Math.floor(y), width: 1, height: 1 }
    const [nx, ny, nz] = NORMALS.map((map) => {
      const request = { from: 'shot', map, id: '' } as const
      return shotMapWindow(request, { window, view, sheet, resources }, sheet.shotId)?.[0] ?? 0
    })
    const length = Math.hypot(nx, ny, nz)
    return length < 0.5 ? null : [nx / length, ny / length, nz / length]
  }
}
const NORMALS = ['normalX', 'normalY', 'normalZ'] as const

/** Where strokes are painted: over the memory that pictures are made in, and until the document knows of them. */
export class StrokeDesk {
  private readonly memory: BrushMemory
  private readonly evaluator: SheetEvaluator
  private at: {
    readonly number: number
    readonly stroke: Stroke
    readonly painter: StrokePainter
    readonly source: CloneSource | null
  } | null = null
  /** What was painted and the document does not know yet, by the stroke's number, the oldest first. */
  private readonly live = new Map<number, LivePaint>()

  /** @param onLive told of everything that is live, whenever it changes. */
  constructor(
    private readonly tiles: KeptTiles,
    private readonly resources: SheetResources,
    private readonly onLive: (live: readonly LivePaint[]) => void,
  ) {
    this.memory = new BrushMemory(tiles)
    this.evaluator = new SheetEvaluator(tiles, resources)
  }

  /** Whether a pen is down. */
  get isPainting(): boolean {
    return this.at !== null
  }

  /** A stroke that a brush made, by itself: straight 8-bit RGBA, dark on nothing. @param size pixels. */
  sample(brush: BrushUse, { width, height }: RenderSize): Uint8ClampedArray<ArrayBuffer> {
    const nothing = { address: 0, flags: EMPTY }
    const grid = { width, height, tiles: {} }
    const params = { ...brush.params, steady: 0, size: Math.min(brush.params.size, 0.8 * height) }
    const painter = new StrokePainter(
      this.tiles,
      this.memory,
      { ...brush, params },
      { kind: 'paint', rgb: [0.15, 0.13, 0.11] },
      { grid, outside: 0, base: () => nothing, within: null, scale: 1, mirrors: { x: null, y: null } },
      1,
    )
    // A wave, pressed most in its middle.
    const steps = 48
    const samples = Array.from({ length: steps + 1 }, (_, i): PenSample => {
      const t = i / steps
      return {
        x: width * (0.07 + 0.86 * t),
        y: height * (0.5 + 0.14 * Math.sin(2 * Math.PI * t)),
        pressure: 0.25 + 0.75 * Math.sin(Math.PI * t),
        tiltX: 0,
        tiltY: 0,
        twist: 0,
        at: 12 * i,
      }
    })
    painter.add(samples)
    painter.finish(null)
    const out = new Uint8ClampedArray(4 * width * height)
    for (const { place, bytes } of painter.results()) {
      if (!bytes) continue
      const [tx, ty] = readPlace(place)
      const words = new Uint16Array(bytes.buffer)
      for (let y = 0; y < Math.min(TILE, height - ty * TILE); y++)
        for (let x = 0; x < Math.min(TILE, width - tx * TILE); x++) {
          const from = inBlocks(y * TILE + x, 0)
          const to = 4 * ((ty * TILE + y) * width + tx * TILE + x)
          for (let c = 0; c < 4; c++) out[to + c] = words[from + 4 * c] / 257
        }
    }
    painter.close()
    return out
  }

  /** A sheet with what is painted on it. */
  seen(sheet: Sheet): Sheet {
    return this.live.size === 0 ? sheet : withLivePaint(sheet, [...this.live.values()])
  }

  /** The pen comes down. @throws {InvalidValueError} where nothing can be painted there. */
  begin(number: number, stroke: Stroke, document: Sheet): void {
    this.drop()
    const sheet = this.seen(document)
    const found = paintedAt(sheet, stroke.place)
    if (!found || found.isMask !== (stroke.act.kind === 'mask'))
      throw new InvalidValueError('place', 'is nothing that can be painted on so', stroke.place.layerId)
    const { grid } = found
    const size = { width: grid.width, height: grid.height }
    this.evaluator.begin(planSheet({ ...sheet, roots: [] }, { size }, this.resources), 'brush')
    const step = stroke.within && planMask(stroke.within, sheet, { size }, this.resources)
    const { evaluator } = this
    const { act } = stroke
    const scale = grid.width / sheet.width
    const source =
      act.kind === 'clone'
        ? new CloneSource(
            this.tiles,
            this.resources,
            sheet,
            act.of,
            size,
            Math.round(act.dx * scale),
            Math.round(act.dy * scale),
          )
        : null
    const painter = new StrokePainter(
      this.tiles,
      this.memory,
      stroke.brush,
      act as StrokeAct,
      {
        grid,
        outside: found.outside ? 1 : 0,
        base: (tx, ty) => evaluator.paintedTile(grid, tx, ty, found.isMask),
        within: step && ((tx, ty) => evaluator.maskTile(step, tx, ty)),
        scale,
        source: source && ((tx, ty) => source.at(tx, ty)),
        mirrors: stroke.mirrors,
        form: followsForm(stroke.brush.params) ? formOf(sheet, this.resources) : null,
      },
      stroke.seed,
    )
    this.at = { number, stroke, painter, source }
    this.live.set(number, { place: stroke.place, tiles: {} })
  }

  /** The pen moves. @returns where its tip is led to, in sheet pixels; null where there is no such stroke. */
  add(number: number, samples: readonly PenSample[]): { readonly x: number; readonly y: number } | null {
    const { at } = this
    if (at?.number !== number) return null
    this.took(number, at.painter.add(samples))
    return at.painter.tip
  }

  /** The pen is lifted: its tiles have names of their own from now on. */
  async end(number: number, last: PenSample | null): Promise<StrokeTile[]> {
    const { at } = this
    if (at?.number !== number) return []
    this.took(number, at.painter.finish(last))
    const tiles: StrokeTile[] = []
    for (const { place, bytes } of at.painter.results())
      tiles.push({ place, bytes, name: bytes && (await contentName(bytes)) })
    return tiles
  }

  /** What a stroke made is kept under names of its own: what it held is given back. */
  settle(number: number, tiles: readonly StrokeTile[]): void {
    const live = this.live.get(number)
    if (live) {
      this.live.set(number, {
        ...live,
        tiles: Object.fromEntries(tiles.map(({ place, name }) => [place, name])),
      })
      this.tell()
    }
    if (this.at?.number === number) {
      this.at.painter.close()
      this.at.source?.close()
      this.at = null
    }
  }

  /** The document knows of a stroke now, or it is to be as if it never was. */
  forget(number: number): void {
    if (this.at?.number === number) this.drop()
    if (this.live.delete(number)) this.tell()
  }

  /** A stroke that was never ended is gone. */
  private drop(): void {
    if (!this.at) return
    this.live.delete(this.at.number)
    this.tell()
    this.at.painter.close()
    this.at.source?.close()
    this.at = null
  }

  private took(number: number, names: Readonly<Record<string, string>>): void {
    const live = this.live.get(number)
    if (!live || Object.keys(names).length === 0) return
    this.live.set(number, { ...live, tiles: { ...live.tiles, ...names } })
    this.tell()
  }

  private tell(): void {
    this.onLive([...this.live.values()])
  }
}
