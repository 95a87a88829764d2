import type { Tile } from '../passes/tile'
import { inBlocks, TILE } from '../picture/tile-form'
import type { SheetResources } from '../sheet/sheet-resources'
import { placeName, type PaintGrid } from './paint-grid'

/** Numbers of a tile of a painted layer, unorm16: blocks of four pixels, r4 g4 b4 a4, straight. */
export const LAYER_TILE_BYTES = 8 * TILE * TILE
/** Numbers of a tile of a painted mask, unorm16, row by row. */
export const MASK_TILE_BYTES = 2 * TILE * TILE

type Tiles = Pick<SheetResources, 'paintTile'>

/** Calls back for each tile of a rectangle that is there, with the part of the rectangle that lies in it. */
function eachTile(
  grid: PaintGrid,
  resources: Tiles,
  rect: Tile,
  words: number,
  visit: (
    tile: Uint16Array,
    tx: number,
    ty: number,
    left: number,
    top: number,
    right: number,
    bottom: number,
  ) => void,
): void {
  for (let ty = Math.floor(rect.y / TILE); ty * TILE < rect.y + rect.height; ty++)
    for (let tx = Math.floor(rect.x / TILE); tx * TILE < rect.x + rect.width; tx++) {
      const name = grid.tiles[placeName(tx, ty)] as string | undefined
      const tile = name === undefined ? null : resources.paintTile(name)
      if (tile?.length !== words) continue
      const right = Math.min(rect.x + rect.width, (tx + 1) * TILE)
      const bottom = Math.min(rect.y + rect.height, (ty + 1) * TILE)
      visit(tile, tx, ty, Math.max(rect.x, tx * TILE), Math.max(rect.y, ty * TILE), right, bottom)
    }
}

/** A rectangle of a painted layer: straight RGBA; clear where nothing was painted. */
export function cutPaint(grid: PaintGrid, resources: Tiles, rect: Tile): Float32Array {
  const out = new Float32Array(4 * rect.width * rect.height)
  eachTile(grid, resources, rect, LAYER_TILE_BYTES / 2, (tile, tx, ty, left, top, right, bottom) => {
    for (let y = top; y < bottom; y++)
      for (let x = left; x < right; x++) {
        const from = inBlocks((y - ty * TILE) * TILE + x - tx * TILE, 0)
        const to = 4 * ((y - rect.y) * rect.width + x - rect.x)
        for (let c = 0; c < 4; c++) out[to + c] = tile[from + 4 * c] / 65535
      }
  })
  return out
}

/** A rectangle of a painted mask, 0…1. @param outside what it is where nothing was painted. */
export function cutMaskPaint(grid: PaintGrid, resources: Tiles, rect: Tile, outside: number): Float32Array {
  const out = new Float32Array(rect.width * rect.height).fill(outside)
  eachTile(grid, resources, rect, MASK_TILE_BYTES / 2, (tile, tx, ty, left, top, right, bottom) => {
    for (let y = top; y < bottom; y++) {
      let from = (y - ty * TILE) * TILE + left - tx * TILE
      let to = (y - rect.y) * rect.width + left - rect.x
      for (let x = left; x < right; x++) out[to++] = tile[from++] / 65535
    }
  })
  return out
}
