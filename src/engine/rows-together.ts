import { KEPT_TILE_BYTES, TILE } from '@/core/picture/tile-form'
import { NoRoomError } from '@/core/sheet/evaluate/kept-tiles'
import { PIXEL_BYTES, writeTile, type RowsOf } from '@/core/sheet/evaluate/picture-rows'
import type { SheetView } from '@/core/sheet/evaluate/sheet-plan'
import type { SheetEvaluator } from '@/core/sheet/evaluate/sheet-evaluator'
import type { SheetHands } from './sheet-hands'

/** What is kept from one part of a picture to the next, and what the tiles of one part may take besides. Bytes. */
const KEPT_BYTES = 192 * 2 ** 20
const PART_BYTES = 160 * 2 ** 20

/** A row of tiles at work. */
interface Row {
  readonly ty: number
  readonly height: number
  readonly pixels: Uint8Array
}

/**
 * Rows of a picture that threads paint together. While whoever asked for a row works on it, the hands are at the next already.
 * @param evaluator has the picture begun; its memory is the hands' too. @param series what it was begun as.
 * @param layers how many the sheet has: as much as their tiles take is painted at once.
 */
export const rowsTogether = (
  hands: SheetHands,
  evaluator: SheetEvaluator,
  view: SheetView,
  series: string,
  layers: number,
): RowsOf =>
  function* (form, onProgress) {
    const { across, down } = evaluator.grid
    const { width } = view.size
    const { tiles } = evaluator
    const step = Math.max(2, Math.floor(PART_BYTES / (1.5 * KEPT_TILE_BYTES * Math.max(4, layers))))
    hands.send({ type: 'take-up', view, series })
    const rowAt = (ty: number): Row => {
      const { height } = evaluator.sizeOf(0, ty)
      return { ty, height, pixels: new Uint8Array(new SharedArrayBuffer(width * height * PIXEL_BYTES[form])) }
    }
    // Nobody is at work when tiles are given back.
    const begin = ({ ty, pixels }: Row, from: number): void => {
      tiles.tick()
      tiles.shrinkTo(KEPT_BYTES)
      hands.begin({ type: 'row', ty, from, to: Math.min(across, from + step), form, width, pixels })
    }
    const paint = ({ ty, pixels }: Row, tx: number): void => {
      onProgress((ty * across + tx) / (across * down))
      evaluator.tile(tx, ty, (at) => writeTile(evaluator, tx, ty, at, form, pixels, width))
    }
    const paintPart = (row: Row, from: number): void => {
      const to = Math.min(across, from + step)
      let problem: unknown = null
      try {
        for (let tx = from + hands.next(); tx < to; tx = from + hands.next()) paint(row, tx)
      } catch (error) {
        problem = error
        hands.stop()
      }
      const isWhole = hands.finish()
      if (problem !== null && !(problem instanceof NoRoomError)) throw problem
      if (problem === null && isWhole) return
      // Alone, giving back between tiles: what one hand left, or what did not fit into memory at once.
      for (let tx = from; tx < to; tx++) {
        tiles.tick()
        tiles.shrinkTo(KEPT_BYTES / 2)
        paint(row, tx)
      }
    }
    try {
      let row: Row | null = rowAt(0)
      begin(row, 0)
      while (row) {
        for (let from = 0; from < across; from += step) {
          if (from > 0) begin(row, from)
          paintPart(row, from)
        }
        const next: Row | null = row.ty + 1 < down ? rowAt(row.ty + 1) : null
        if (next) begin(next, 0)
        yield { top: row.ty * TILE, height: row.height, pixels: row.pixels }
        row = next
      }
    } finally {
      hands.stop()
      hands.finish()
    }
  }
