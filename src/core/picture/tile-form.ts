/**
 * Pictures are worked on in tiles of 128 × 128 pixels: 256 KiB in floating point stay in a core's own cache. Within a tile
 * pixels lie row after row in blocks of four, r4 g4 b4 a4. Tiles at the right and lower border are whole tiles too; what of
 * them lies beyond the picture is never shown.
 */
export const TILE = 128
export const TILE_PIXELS = TILE * TILE
/** Blocks of f32. */
export const FLOAT_TILE_BYTES = 16 * TILE_PIXELS
/** Blocks of unorm16. */
export const KEPT_TILE_BYTES = 8 * TILE_PIXELS
/** A byte a pixel. */
export const MASK_TILE_BYTES = TILE_PIXELS
/** An f32 a pixel. */
export const WEIGHT_TILE_BYTES = 4 * TILE_PIXELS

/** Index of a channel of a pixel within blocks. */
export const inBlocks = (pixel: number, channel: number): number =>
  16 * (pixel >> 2) + 4 * channel + (pixel & 3)

/** The tiles of a picture, row after row. */
export interface TileGrid {
  readonly across: number
  readonly down: number
}

export const tileGrid = (width: number, height: number): TileGrid => ({
  across: Math.ceil(width / TILE),
  down: Math.ceil(height / TILE),
})
