import { TILE, TILE_PIXELS } from '../../picture/tile-form'
import { wideBlur } from '../../picture/wide-blur'
import { EMPTY, type KeptTile } from './kept-tiles'
import type { Keyed } from './sheet-plan'
import { tileNumber, type Workbench } from './workbench'

/** Narrower blurs change nothing that is seen. Pixels. */
export const LEAST_SIGMA = 0.05

/** A picture that is read about a tile. */
export interface TileInput {
  readonly of: Keyed
  /** Writes a tile of the picture, premultiplied blocks of f32, and tells its flags. */
  readonly read: (tx: number, ty: number, to: number) => number
}

/**
 * A gaussian of a tile, by way of means of d × d pixels that are kept (kernel/picture/blur.ts); the picture's border repeats.
 * @param sigmaPx in pixels of the view. @param to premultiplied blocks of f32.
 */
export function blurTile(
  bench: Workbench,
  input: TileInput,
  sigmaPx: number,
  tx: number,
  ty: number,
  to: number,
): void {
  const { kernel, tiles } = bench
  const { d, radius, weights } = wideBlur(sigmaPx)
  const own = TILE / d
  // One cell more on every side: straight lines are drawn between them.
  const made = own + 2
  const side = made + 2 * radius
  const sizes = [16 * side * side, 16 * made * side, 16 * made * made, 4 * weights.length, 16 * made]
  const rooms = sizes.map((bytes) => tiles.take(bytes))
  const [region, acrossAt, downAt, weightsAt, line] = rooms
  try {
    tiles.floats(weightsAt, weights.length).set(weights)
    gatherCells(bench, input, d, { tx, ty, first: -1 - radius, side }, region)
    kernel.filterAcross(region, acrossAt, made, side, radius, weightsAt)
    kernel.filterDown(acrossAt, downAt, made, made, radius, weightsAt)
    kernel.grow(downAt, to, d, line)
  } finally {
    rooms.forEach((at, i) => tiles.giveBack(at, sizes[i]))
  }
}

/** A square of cells: from `first` on, counted from a tile's first cell, on both axes. */
export interface CellSquare {
  readonly tx: number
  readonly ty: number
  readonly first: number
  readonly side: number
}

/** Rows of cells, premultiplied RGBA in f32, as they lie about a tile; the picture's border repeats. */
export function gatherCells(
  bench: Workbench,
  input: TileInput,
  d: number,
  { tx, ty, first, side }: CellSquare,
  region: number,
): void {
  const { tiles } = bench
  const own = TILE / d
  const firstTile = Math.floor(first / own)
  const lastTile = Math.floor((first + side - 1) / own)
  for (let cy = firstTile; cy <= lastTile; cy++) {
    for (let cx = firstTile; cx <= lastTile; cx++) {
      const cells = cellsOf(bench, input, d, tx + cx, ty + cy)
      const left = Math.max(first, cx * own)
      const length = 4 * (Math.min(first + side, (cx + 1) * own) - left)
      const bottom = Math.min(first + side, (cy + 1) * own)
      for (let y = Math.max(first, cy * own); y < bottom; y++) {
        const row = tiles.floats(region + 16 * ((y - first) * side + left - first), length)
        if (cells.flags & EMPTY) row.fill(0)
        else row.set(tiles.floats(cells.address + 16 * ((y - cy * own) * own + left - cx * own), length))
      }
    }
  }
}

/** Means of d × d pixels of a tile, which may lie beyond the picture: there its border's pixels repeat. */
function cellsOf(bench: Workbench, input: TileInput, d: number, tx: number, ty: number): KeptTile {
  const { kernel, tiles } = bench
  const bytes = (16 * TILE_PIXELS) / (d * d)
  return tiles.obtain(bench.tileKey(`cells ${d}`, input.of, tx, ty), tileNumber(tx, ty), bytes, (address) => {
    const nearX = Math.min(bench.across - 1, Math.max(0, tx))
    const nearY = Math.min(bench.down - 1, Math.max(0, ty))
    let made = bench.room()
    if (input.read(nearX, nearY, made) & EMPTY) {
      bench.release(made)
      return EMPTY
    }
    const last = bench.lastOf(nearX, nearY)
    const isInner = nearX === tx && nearY === ty && last.x === TILE - 1 && last.y === TILE - 1
    if (!isInner) {
      const repeated = bench.room()
      kernel.repeatBorder(made, repeated, (tx - nearX) * TILE, (ty - nearY) * TILE, last.x, last.y)
      bench.release(made)
      made = repeated
    }
    kernel.shrink(made, address, d)
    bench.release(made)
    return 0
  })
}
