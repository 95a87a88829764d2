import { growShrink } from '../../effects/grow-shrink'
import { inBlocks, MASK_TILE_BYTES, TILE, TILE_PIXELS } from '../../picture/tile-form'
import type { PlaneTerm } from '../terms/registry'
import { areaTile } from './area-tile'
import { blurTile, LEAST_SIGMA, type TileInput } from './blur-tile'
import { EMPTY, type KeptTile } from './kept-tiles'
import type { MapTiles } from './map-tiles'
import { joinPlane, runWindow, termRuns, type TermRun } from './mask-window'
import type { MaskStep, Source } from './sheet-plan'
import { tileNumber, type Workbench } from './workbench'

/** Less growth changes nothing that is seen. Pixels. */
const LEAST_GROWTH = 0.05

/** Where masks find what their terms ask for, and what effects make of them. */
interface MaskSources {
  readonly maps: MapTiles
  /** Writes a tile of a source: straight display values, blocks of f32. */
  readonly read: (source: Source, tx: number, ty: number, to: number) => number
}

/** A plane of the picture by tiles: an f32 a pixel of a tile's window; null: nothing to say. */
type PlaneOf = (tx: number, ty: number) => Float32Array | null

/** Makes and keeps the tiles of masks: a byte a pixel, 255 shows. */
export class MaskTiles {
  private sources: MaskSources | null = null

  constructor(private readonly bench: Workbench) {}

  /** What is made from masks, and what masks are made from, are made together. */
  serve(sources: MaskSources): void {
    this.sources = sources
  }

  tile(step: MaskStep, tx: number, ty: number): KeptTile {
    const { bench } = this
    const { kernel, tiles } = bench
    const key = bench.tileKey('mask', step, tx, ty)
    return tiles.obtain(key, tileNumber(tx, ty), MASK_TILE_BYTES, (address) => {
      const weights = bench.room()
      if (step.worked) this.readWorked(step.worked, tx, ty, weights)
      else this.made(step, tx, ty, weights)
      kernel.toMask(weights, address, TILE_PIXELS)
      bench.release(weights)
      return kernel.maskFlags(address, TILE_PIXELS)
    })
  }

  private made(step: MaskStep, tx: number, ty: number, weights: number): void {
    const { bench } = this
    const { mask } = step
    const sigmaPx = mask.featherPx * bench.planned.scale
    const planeOf = (x: number, y: number) => this.joined(step, x, y)
    if (sigmaPx < LEAST_SIGMA) this.write(planeOf(tx, ty), tx, ty, weights)
    else this.blurred(step, 'whole', sigmaPx, tx, ty, planeOf, weights)
    if (mask.invert) invert(bench.tiles.floats(weights, TILE_PIXELS))
  }

  /** The brightness of the grey picture that effects made of a mask. */
  private readWorked(worked: Source, tx: number, ty: number, weights: number): void {
    const { bench } = this
    const room = bench.room()
    this.sources?.read(worked, tx, ty, room)
    const blocks = bench.tiles.floats(room, 4 * TILE_PIXELS)
    const plane = bench.tiles.floats(weights, TILE_PIXELS)
    for (let i = 0; i < TILE_PIXELS; i++) {
      const at = inBlocks(i, 0)
      plane[i] = (0.3 * blocks[at] + 0.59 * blocks[at + 4] + 0.11 * blocks[at + 8]) * blocks[at + 12]
    }
    bench.release(room)
  }

  /** All terms over a tile; null where none of them has anything to say: the mask then limits nothing. */
  private joined(step: MaskStep, tx: number, ty: number): Float32Array | null {
    let made: Float32Array | null = null
    termRuns(step.mask.terms).forEach((run, i) => {
      const plane = this.runPlane(run, step, i, tx, ty)
      if (!plane) return
      // A list that begins by taking away, or by intersecting, begins with everything.
      made ??= new Float32Array(plane.length).fill(run.join === 'add' ? 0 : 1)
      joinPlane(made, plane, run.join)
    })
    return made
  }

  private runPlane(run: TermRun, step: MaskStep, index: number, tx: number, ty: number): Float32Array | null {
    const { bench } = this
    const { sheet, scale } = bench.planned
    const sigmaPx = run.featherPx * scale
    const growPx = run.growPx * scale
    const planeOf: PlaneOf = (x, y) =>
      runWindow(run, bench.target(x, y), sheet.shotId, (term) => this.mapsOf(step, term, x, y))
    const own = planeOf(tx, ty)
    if (!own) return null
    let plane = own
    if (sigmaPx >= LEAST_SIGMA || Math.abs(growPx) >= LEAST_GROWTH) {
      const weights = bench.room()
      const what = `run ${index}`
      if (Math.abs(growPx) < LEAST_GROWTH) this.blurred(step, what, sigmaPx, tx, ty, planeOf, weights)
      else {
        const grownOf: PlaneOf = (x, y) => {
          const room = bench.room()
          this.grown(step, what, run.growPx, x, y, planeOf, room)
          const found = this.cut(room, x, y)
          bench.release(room)
          return found
        }
        if (sigmaPx < LEAST_SIGMA) this.grown(step, what, run.growPx, tx, ty, planeOf, weights)
        else this.blurred(step, `${what} grown`, sigmaPx, tx, ty, grownOf, weights)
      }
      plane = this.cut(weights, tx, ty)
      bench.release(weights)
    }
    if (run.invert) invert(plane)
    if (run.strength < 1) for (let i = 0; i < plane.length; i++) plane[i] *= run.strength
    return plane
  }

  private mapsOf({ maps }: MaskStep, term: PlaneTerm, tx: number, ty: number): Float32Array[] {
    const asked = maps.get(term) ?? []
    return asked.map((map) => {
      const tile = this.sources?.maps.tile(map, tx, ty)
      if (tile && !(tile.flags & EMPTY)) return this.cut(tile.address, tx, ty)
      const { width, height } = this.bench.target(tx, ty).window
      return new Float32Array(width * height).fill(NaN)
    })
  }

  /** A plane as a picture to be read about a tile, kept. */
  private asInput({ key, paints }: MaskStep, what: string, planeOf: PlaneOf): TileInput {
    const { bench } = this
    const { kernel } = bench
    const { a, b } = bench.key(what, key)
    const hex = (half: number) => (half >>> 0).toString(16).padStart(8, '0')
    const of = { key: hex(a) + hex(b), paints }
    return {
      of,
      // Kept: tiles beyond the picture repeat those at its border.
      read: (x, y, to) => {
        const name = bench.tileKey('sharp', of, x, y)
        const plane = bench.tiles.obtain(name, tileNumber(x, y), MASK_TILE_BYTES, (address) => {
          const own = bench.room()
          this.write(planeOf(x, y), x, y, own)
          kernel.toMask(own, address, TILE_PIXELS)
          bench.release(own)
          return 0
        })
        kernel.maskToBlocks(plane.address, to, TILE_PIXELS)
        return 0
      },
    }
  }

  /** A plane of the picture, blurred: an f32 a pixel of a tile. */
  private blurred(
    step: MaskStep,
    what: string,
    sigmaPx: number,
    tx: number,
    ty: number,
    planeOf: PlaneOf,
    weights: number,
  ): void {
    const made = this.bench.room()
    blurTile(this.bench, this.asInput(step, what, planeOf), sigmaPx, tx, ty, made)
    this.takeAlpha(made, weights)
  }

  /** A plane of the picture, grown or shrunk by a disc: an f32 a pixel of a tile. @param radius in sheet pixels. */
  private grown(
    step: MaskStep,
    what: string,
    radius: number,
    tx: number,
    ty: number,
    planeOf: PlaneOf,
    weights: number,
  ): void {
    const made = this.bench.room()
    const work = growShrink.work({ radius })
    if (work.by !== 'area' || !this.sources) throw new Error('growing looks about each pixel')
    areaTile(this.bench, this.sources.maps, this.asInput(step, what, planeOf), work, [], tx, ty, made)
    this.takeAlpha(made, weights)
  }

  private takeAlpha(made: number, weights: number): void {
    const { kernel } = this.bench
    kernel.weighAll(weights, TILE_PIXELS, 1)
    kernel.weighByAlpha(weights, made, TILE_PIXELS, 1)
    this.bench.release(made)
  }

  /** A window's plane as a tile's weights; 1 everywhere for null, 0 beyond the picture. */
  private write(plane: Float32Array | null, tx: number, ty: number, weights: number): void {
    const into = this.bench.tiles.floats(weights, TILE_PIXELS)
    if (!plane) {
      into.fill(1)
      return
    }
    const { width, height } = this.bench.target(tx, ty).window
    if (plane.length < TILE_PIXELS) into.fill(0)
    for (let y = 0; y < height; y++) into.set(plane.subarray(y * width, (y + 1) * width), y * TILE)
  }

  private cut(weights: number, tx: number, ty: number): Float32Array {
    const { width, height } = this.bench.target(tx, ty).window
    const from = this.bench.tiles.floats(weights, TILE_PIXELS)
    const out = new Float32Array(width * height)
    for (let y = 0; y < height; y++) out.set(from.subarray(y * TILE, y * TILE + width), y * width)
    return out
  }
}

function invert(plane: Float32Array): void {
  for (let i = 0; i < plane.length; i++) plane[i] = 1 - plane[i]
}
