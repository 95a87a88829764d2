import { TILE, TILE_PIXELS } from '../../picture/tile-form'
import type { SheetEvaluator } from './sheet-evaluator'

/** What a pixel leaves as: straight bytes, straight 16 bits with the higher byte first, or premultiplied f32. */
export type PixelForm = 'bytes' | 'words' | 'floats'
/** Bytes of a pixel. */
export const PIXEL_BYTES: Readonly<Record<PixelForm, number>> = { bytes: 4, words: 8, floats: 16 }

/** How one tile is asked of an evaluator. */
export type TileAsk = (tx: number, ty: number, use: (address: number) => void) => void

/** A row of tiles as rows of pixels: `height` rows of the picture from `top` on. */
export interface PictureRows {
  readonly top: number
  readonly height: number
  readonly pixels: Uint8Array
}

/** Gives the planned picture as rows of tiles. @param onProgress told how much of it is painted, 0…1. */
export type RowsOf = (form: PixelForm, onProgress: (share01: number) => void) => Generator<PictureRows, void>

/** Between two rows of a picture no more than so many bytes are kept: what is in front of them is not asked for again. */
const KEPT_BETWEEN_ROWS = 256 * 2 ** 20

/**
 * The planned picture, one row of tiles after the other, so that a large one is never there as a whole. Nobody else may be at
 * work in the evaluator's memory.
 * @param width of the picture. @param ask for other tiles than those of the whole picture.
 * @param keptBytes what is kept from one row to the next, at most.
 */
export function* pictureRows(
  evaluator: SheetEvaluator,
  width: number,
  form: PixelForm,
  ask: TileAsk = (tx, ty, use) => evaluator.tile(tx, ty, use),
  keptBytes = KEPT_BETWEEN_ROWS,
): Generator<PictureRows, void> {
  const { across, down } = evaluator.grid
  for (let ty = 0; ty < down; ty++) {
    const { height } = evaluator.sizeOf(0, ty)
    const pixels = new Uint8Array(width * height * PIXEL_BYTES[form])
    for (let tx = 0; tx < across; tx++)
      ask(tx, ty, (address) => writeTile(evaluator, tx, ty, address, form, pixels, width))
    yield { top: ty * TILE, height, pixels }
    evaluator.tiles.tick()
    evaluator.tiles.shrinkTo(keptBytes)
  }
}

/** The planned picture as rows of tiles that one thread paints. */
export const rowsAlone =
  (evaluator: SheetEvaluator, width: number): RowsOf =>
  (form, onProgress) => {
    const { across, down } = evaluator.grid
    let done = 0
    return pictureRows(evaluator, width, form, (tx, ty, use) => {
      onProgress(done++ / (across * down))
      evaluator.tile(tx, ty, use)
    })
  }

/**
 * Writes a tile, premultiplied blocks of f32, to its columns of a row of tiles, whose first byte is that of `into`.
 * @param stride pixels from one row to the next. @param left the column it begins at.
 */
export function writeTile(
  evaluator: SheetEvaluator,
  tx: number,
  ty: number,
  address: number,
  form: PixelForm,
  into: Uint8Array,
  stride: number,
  left = tx * TILE,
): void {
  const { width, height } = evaluator.sizeOf(tx, ty)
  const { tiles } = evaluator
  const { kernel } = tiles
  const size = PIXEL_BYTES[form]
  const at = tiles.take(size * TILE_PIXELS)
  if (form === 'bytes') kernel.toBytes(address, at, TILE_PIXELS)
  else if (form === 'words') kernel.toWords(address, at, TILE_PIXELS)
  else kernel.blocksToRows(address, at, TILE_PIXELS)
  const rows = tiles.bytes(at, size * TILE_PIXELS)
  for (let y = 0; y < height; y++)
    into.set(rows.subarray(size * TILE * y, size * (TILE * y + width)), size * (y * stride + left))
  tiles.giveBack(at, size * TILE_PIXELS)
}

/** The whole planned picture at once, width·height pixels of a form. */
export function wholePicture(
  evaluator: SheetEvaluator,
  size: { readonly width: number; readonly height: number },
  form: PixelForm,
  ask?: TileAsk,
  keptBytes?: number,
): Uint8Array<ArrayBuffer> {
  const { width, height } = size
  const whole = new Uint8Array(width * height * PIXEL_BYTES[form])
  for (const { top, pixels } of pictureRows(evaluator, width, form, ask, keptBytes))
    whole.set(pixels, top * width * PIXEL_BYTES[form])
  return whole
}
