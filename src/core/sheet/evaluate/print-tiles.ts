import { CancelledError } from '../../errors'
import { parseHex } from '../../math/colour'
import { hashJson } from '../../math/stable-hash'
import { fittedPatch } from '../../mockup/fitted-patch'
import { mockupScene, type MockupScene } from '../../mockup/mockup-scene'
import { MOCKUP_PLANES, MockupRender } from '../../mockup/mockup-window'
import type { Tile } from '../../passes/tile'
import { FLOAT_TILE_BYTES, inBlocks, TILE, TILE_PIXELS } from '../../picture/tile-form'
import type { Quad } from '../../picture/warped-window'
import { litPrint, mockupForm } from '../contents/mockup'
import type { ContentOf } from '../contents/registry'
import { printAspect, trimOf } from './plan-print'
import type { SheetPlan, Source } from './sheet-plan'
import type { SheetTiles } from './sheet-tiles'
import { tileNumber, type Workbench } from './workbench'

type PrintSource = Extract<Source, { kind: 'print' }>

/** Places of a pixel that a print is looked at in, along each axis, at most. */
const MOST_TAPS = 6
/** Scenes that a thread keeps: the draft's, the fine one's, those of another mock-up. */
const KEPT_SCENES = 3

/** Makes tiles of sheets that are printed on something. */
export class PrintTiles {
  constructor(
    private readonly bench: Workbench,
    private readonly sheets: SheetTiles,
  ) {}

  /**
   * @param below address of what lies beneath: premultiplied f32 in the blend space; null where it does not matter.
   * @returns straight display RGBA of the part of a tile that lies in the picture; null for nothing.
   */
  make(source: PrintSource, tx: number, ty: number, below: number | null): Float32Array | null {
    const { content } = source
    const { window } = this.bench.target(tx, ty)
    const print = new PrintedSheet(this.bench, this.sheets, source)
    return content.kind === 'mockup'
      ? this.onPaper(content, source, window, print, tx, ty)
      : this.inPicture(content, window, print, below)
  }

  // ---------------------------------------------------------------- on paper

  private readonly scenes = new Map<string, MockupScene>()
  private render: { readonly base: string; readonly made: MockupRender } | null = null

  private renderOf(content: ContentOf<'mockup'>, { base, plan }: PrintSource): MockupRender {
    if (this.render?.base === base) return this.render.made
    const form = mockupForm(content)
    const aspect = printAspect(plan.sheet)
    const { isDraft, coarse } = this.bench.planned
    const isRough = isDraft || coarse > 1
    const key = hashJson([form.things, aspect, isRough])
    const scene = this.scenes.get(key) ?? mockupScene(form.things, aspect, isRough)
    this.scenes.delete(key)
    this.scenes.set(key, scene)
    for (const old of this.scenes.keys()) if (this.scenes.size > KEPT_SCENES) this.scenes.delete(old)
    const made = new MockupRender(scene, form, aspect, isRough)
    this.render = { base, made }
    return made
  }

  private onPaper(
    content: ContentOf<'mockup'>,
    source: PrintSource,
    window: Tile,
    print: PrintedSheet,
    tx: number,
    ty: number,
  ): Float32Array {
    const { bench } = this
    const name = bench.key('mock-up', source.base)
    const bytes = 4 * MOCKUP_PLANES * TILE_PIXELS
    const { address } = bench.tiles.obtain(name, tileNumber(tx, ty), bytes, (at) => {
      const made = this.renderOf(content, source).window(window, bench.planned.size, bench.isCancelled)
      if (bench.isCancelled()) throw new CancelledError('The picture')
      made.forEach((plane, k) => bench.tiles.floats(at + 4 * k * TILE_PIXELS, plane.length).set(plane))
      return 0
    })
    // Prints are read by way of rooms of the same memory, which may grow: what is read is copied.
    const count = window.width * window.height
    const planes = Array.from({ length: MOCKUP_PLANES }, (_, k) =>
      bench.tiles.floats(address + 4 * k * TILE_PIXELS, count).slice(),
    )
    const [paper, u, v, lr, lg, lb, ar, ag, ab, aa, glass] = planes
    const lights = [lr, lg, lb]
    const around = [ar, ag, ab]
    const bare = parseHex(content.paperColour)
    const out = new Float32Array(4 * count)
    const rgba = new Float64Array(4)
    const places = { paper, u, v, window }
    for (let i = 0, at = 0; i < count; i++, at += 4) {
      const alpha = Math.min(1, paper[i] + aa[i])
      if (alpha <= 0) continue
      const mirrored = glass[i] * content.reflection
      if (paper[i] > 0) print.at(places, i, rgba)
      for (let c = 0; c < 3; c++) {
        let value = around[c][i]
        if (paper[i] > 0) {
          const ink = rgba[c] + bare[c] * (1 - rgba[3])
          value += paper[i] * litPrint(ink, displayFactor(lights[c][i]), content)
        }
        value /= alpha
        out[at + c] = 1 - (1 - value) * (1 - Math.min(0.95, mirrored))
      }
      out[at + 3] = alpha
    }
    return out
  }

  // ---------------------------------------------------------------- in a picture

  private inPicture(
    content: ContentOf<'fitted'>,
    window: Tile,
    print: PrintedSheet,
    below: number | null,
  ): Float32Array | null {
    const { bench } = this
    const { width, height } = bench.planned.size
    const at = ([x, y]: readonly [number, number]) => [x * width, y * height] as const
    const [a, b, c, d] = content.corners
    const quad: Quad = [at(a), at(b), at(c), at(d)]
    const patch = fittedPatch(quad, content.bends.map(at))
    if (!patch) return null
    const count = window.width * window.height
    const paper = new Float32Array(count)
    const u = new Float32Array(count)
    const v = new Float32Array(count)
    const found = new Float64Array(2)
    let isSeen = false
    for (let y = 0, i = 0; y < window.height; y++)
      for (let x = 0; x < window.width; x++, i++) {
        if (!patch.find(window.x + x + 0.5, window.y + y + 0.5, found)) continue
        u[i] = found[0]
        v[i] = found[1]
        paper[i] = 1
      }
    // How much of a pixel lies within: by how far its middle is from the sheet's sides.
    const steps = { paper: paper.slice(), u, v, window }
    const slope = new Float64Array(4)
    for (let i = 0; i < count; i++) {
      if (paper[i] === 0) continue
      slopesAt(steps, i, slope)
      const across = 1 / Math.max(1e-9, Math.hypot(slope[0], slope[2]))
      const down = 1 / Math.max(1e-9, Math.hypot(slope[1], slope[3]))
      const inside = (t: number, perPx: number) => Math.min(1, Math.max(0, Math.min(t, 1 - t) * perPx + 0.5))
      paper[i] = inside(u[i], across) * inside(v[i], down)
      if (paper[i] > 0) isSeen = true
    }
    if (!isSeen) return null
    const lights = this.lightBeneath(content, below, window)
    const out = new Float32Array(4 * count)
    const rgba = new Float64Array(4)
    for (let i = 0, to = 0; i < count; i++, to += 4) {
      if (paper[i] <= 0) continue
      print.at(steps, i, rgba)
      const alpha = rgba[3] * paper[i]
      if (alpha <= 0) continue
      for (let c = 0; c < 3; c++) out[to + c] = litPrint(rgba[c] / rgba[3], lights[3 * i + c], content)
      out[to + 3] = alpha
    }
    return out
  }

  /** Light on what lies beneath, as a factor of the brightness that its bare surface has. */
  private lightBeneath(
    { white, coloured }: ContentOf<'fitted'>,
    below: number | null,
    { width, height }: Tile,
  ): Float32Array {
    const { bench } = this
    const light = new Float32Array(3 * width * height).fill(1)
    if (below === null) return light
    const room = bench.room()
    bench.copy(below, room)
    bench.kernel.straighten(room, room, TILE_PIXELS)
    if (bench.planned.root.isLinear) bench.kernel.encode(room, TILE_PIXELS)
    const blocks = bench.tiles.floats(room, 4 * TILE_PIXELS)
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++) {
        const from = inBlocks(y * TILE + x, 0)
        const to = 3 * (y * width + x)
        // Where nothing lies beneath there is no shadow.
        if (blocks[from + 12] <= 0) continue
        const [r, g, b] = [blocks[from], blocks[from + 4], blocks[from + 8]]
        const grey = 0.3 * r + 0.59 * g + 0.11 * b
        light[to] = (coloured ? r : grey) / white
        light[to + 1] = (coloured ? g : grey) / white
        light[to + 2] = (coloured ? b : grey) / white
      }
    bench.release(room)
    return light
  }
}

/** Linear light as a factor of display values: they go by about its 2.2th root. */
const displayFactor = (light: number): number => Math.max(0, light) ** (1 / 2.2)

/** Which places of a sheet are seen in the pixels of a window. */
interface Places {
  /** 0 where none is. */
  readonly paper: Float32Array
  readonly u: Float32Array
  readonly v: Float32Array
  readonly window: Tile
}

/** How a place changes from a pixel to the next: of u and v to the right, then downwards. */
function slopesAt({ paper, u, v, window: { width, height } }: Places, i: number, out: Float64Array): void {
  const [x, y] = [i % width, Math.floor(i / width)]
  const axis = (step: number, isBefore: boolean, isAfter: boolean, to: number): void => {
    const before = isBefore && paper[i - step] > 0 ? i - step : i
    const after = isAfter && paper[i + step] > 0 ? i + step : i
    const span = (after - before) / step
    out[to] = span > 0 ? (u[after] - u[before]) / span : 0
    out[to + 1] = span > 0 ? (v[after] - v[before]) / span : 0
  }
  axis(1, x > 0, x + 1 < width, 0)
  axis(width, y > 0, y + 1 < height, 2)
}

/** Looks up places of a planned sheet, tiles of which are made as they are asked for. */
class PrintedSheet {
  private readonly tiles = new Map<number, Float32Array>()
  private readonly slopes = new Float64Array(4)
  private readonly plan: SheetPlan

  constructor(
    private readonly bench: Workbench,
    private readonly sheets: SheetTiles,
    private readonly source: Pick<PrintSource, 'name' | 'plan' | 'printed'>,
  ) {
    this.plan = source.plan
  }

  /** What is printed where a pixel looks: the mean over what the pixel sees of it. @param out premultiplied display RGBA. */
  at(places: Places, i: number, out: Float64Array): void {
    const { width, height } = this.plan.size
    const [left, top, right, below] = trimOf(this.plan.sheet)
    const { slopes } = this
    slopesAt(places, i, slopes)
    // Beyond a corner that is rolled over, neighbours are of elsewhere.
    const limit = (v: number) => Math.max(-0.05, Math.min(0.05, v))
    const [ux, vx, uy, vy] = [limit(slopes[0]), limit(slopes[1]), limit(slopes[2]), limit(slopes[3])]
    const nx = taps(Math.hypot(ux * width, vx * height))
    const ny = taps(Math.hypot(uy * width, vy * height))
    out.fill(0)
    for (let b = 0; b < ny; b++)
      for (let a = 0; a < nx; a++) {
        const [s, t] = [(a + 0.5) / nx - 0.5, (b + 0.5) / ny - 0.5]
        const u = left + (places.u[i] + s * ux + t * uy) * (right - left)
        const v = top + (places.v[i] + s * vx + t * vy) * (below - top)
        this.add(u * width - 0.5, v * height - 0.5, 1 / (nx * ny), out)
      }
  }

  /** Adds what lies between four pixels. */
  private add(x: number, y: number, weight: number, out: Float64Array): void {
    const { width, height } = this.plan.size
    const px = Math.min(width - 1, Math.max(0, x))
    const py = Math.min(height - 1, Math.max(0, y))
    const x0 = Math.min(width - 2, Math.floor(px))
    const y0 = Math.min(height - 2, Math.floor(py))
    const [fx, fy] = [px - x0, py - y0]
    this.pixel(x0, y0, weight * (1 - fx) * (1 - fy), out)
    this.pixel(x0 + 1, y0, weight * fx * (1 - fy), out)
    this.pixel(x0, y0 + 1, weight * (1 - fx) * fy, out)
    this.pixel(x0 + 1, y0 + 1, weight * fx * fy, out)
  }

  private pixel(x: number, y: number, weight: number, out: Float64Array): void {
    if (weight === 0) return
    const tx = Math.floor(x / TILE)
    const ty = Math.floor(y / TILE)
    const blocks = this.tile(tx, ty)
    const at = inBlocks((y - ty * TILE) * TILE + x - tx * TILE, 0)
    for (let c = 0; c < 4; c++) out[c] += weight * blocks[at + 4 * c]
  }

  private tile(tx: number, ty: number): Float32Array {
    const number = ty * 8192 + tx
    const known = this.tiles.get(number)
    if (known) return known
    const { bench, source } = this
    // Many tiles of the picture look at the same ones of the print.
    const name = bench.key('printed', source.printed)
    const { address } = bench.tiles.obtain(name, tileNumber(tx, ty), FLOAT_TILE_BYTES, (at) => {
      this.sheets.tile(source.name, source.plan, tx, ty, (made) => bench.copy(made, at))
      return 0
    })
    const made = bench.tiles.floats(address, 4 * TILE_PIXELS).slice()
    this.tiles.set(number, made)
    return made
  }
}

const taps = (pixels: number): number => Math.max(1, Math.min(MOST_TAPS, Math.ceil(pixels - 0.1)))
