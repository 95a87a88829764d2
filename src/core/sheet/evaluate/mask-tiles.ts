import { MASK_TILE_BYTES, TILE, TILE_PIXELS } from '../../picture/tile-form'
import type { Mask } from '../sheet-schema'
import { blurTile, LEAST_SIGMA } from './blur-tile'
import type { KeptTile } from './kept-tiles'
import { joinPlane, runWindow, termRuns, type TermRun } from './mask-window'
import type { MaskStep } from './plan-sheet'
import { tileNumber, type Workbench } from './workbench'

/** Makes and keeps the tiles of masks: a byte a pixel, 255 shows. */
export class MaskTiles {
  constructor(private readonly bench: Workbench) {}

  tile(step: MaskStep, tx: number, ty: number): KeptTile {
    const { bench } = this
    const { kernel, tiles } = bench
    const key = bench.key('mask', step.key)
    return tiles.obtain(key, tileNumber(tx, ty), MASK_TILE_BYTES, (address) => {
      const { mask } = step
      const sigmaPx = mask.featherPx * bench.planned.scale
      const weights = bench.room()
      const planeOf = (x: number, y: number) => this.joined(mask, step.key, x, y)
      if (sigmaPx < LEAST_SIGMA) this.write(planeOf(tx, ty), tx, ty, weights)
      else this.blurred(`${step.key}`, 'whole', sigmaPx, tx, ty, planeOf, weights)
      if (mask.invert) invert(tiles.floats(weights, TILE_PIXELS))
      kernel.toMask(weights, address, TILE_PIXELS)
      bench.release(weights)
      return kernel.maskFlags(address, TILE_PIXELS)
    })
  }

  /** All terms over a tile; null where none of them has anything to say: the mask then limits nothing. */
  private joined({ terms }: Mask, key: string, tx: number, ty: number): Float32Array | null {
    let made: Float32Array | null = null
    termRuns(terms).forEach((run, i) => {
      const plane = this.runPlane(run, key, i, tx, ty)
      if (!plane) return
      // A list that begins by taking away, or by intersecting, begins with everything.
      made ??= new Float32Array(plane.length).fill(run.join === 'add' ? 0 : 1)
      joinPlane(made, plane, run.join)
    })
    return made
  }

  private runPlane(run: TermRun, key: string, index: number, tx: number, ty: number): Float32Array | null {
    const { bench } = this
    const { sheet, scale } = bench.planned
    const sigmaPx = run.featherPx * scale
    const planeOf = (x: number, y: number) => runWindow(run, bench.target(x, y), sheet.shotId)
    const own = planeOf(tx, ty)
    if (!own) return null
    let plane = own
    if (sigmaPx >= LEAST_SIGMA) {
      const weights = bench.room()
      this.blurred(key, `run ${index}`, sigmaPx, tx, ty, planeOf, weights)
      plane = this.cut(weights, tx, ty)
      bench.release(weights)
    }
    if (run.invert) invert(plane)
    if (run.strength < 1) for (let i = 0; i < plane.length; i++) plane[i] *= run.strength
    return plane
  }

  /** A plane of the picture, blurred: an f32 a pixel of a tile. */
  private blurred(
    key: string,
    what: string,
    sigmaPx: number,
    tx: number,
    ty: number,
    planeOf: (tx: number, ty: number) => Float32Array | null,
    weights: number,
  ): void {
    const { bench } = this
    const { kernel } = bench
    const { a, b } = bench.key(what, key)
    const hex = (half: number) => (half >>> 0).toString(16).padStart(8, '0')
    const made = bench.room()
    blurTile(
      bench,
      {
        key: hex(a) + hex(b),
        // Kept: tiles beyond the picture repeat those at its border.
        read: (x, y, to) => {
          const plane = bench.tiles.obtain(
            bench.key(`${what} sharp`, key),
            tileNumber(x, y),
            MASK_TILE_BYTES,
            (address) => {
              const own = bench.room()
              this.write(planeOf(x, y), x, y, own)
              kernel.toMask(own, address, TILE_PIXELS)
              bench.release(own)
              return 0
            },
          )
          kernel.maskToBlocks(plane.address, to, TILE_PIXELS)
          return 0
        },
      },
      sigmaPx,
      tx,
      ty,
      made,
    )
    kernel.weighAll(weights, TILE_PIXELS, 1)
    kernel.weighByAlpha(weights, made, TILE_PIXELS, 1)
    bench.release(made)
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
