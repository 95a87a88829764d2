import type { Tile } from '../passes/tile'
import type { SheetFit } from './sheet-fit'
import type { RenderSize } from './sheet-resources'

/** How pictures of a shot lie on a sheet: by its own shape, or where a sheet lies that it shows. */
export interface PictureLies {
  readonly fit: SheetFit
  readonly lies?: {
    readonly box: readonly [number, number, number, number]
    readonly width: number
    readonly height: number
    readonly fit: SheetFit
  }
}

/** A box of a page in whole pixels of a view of it. */
export const boxInView = (
  [x, y, width, height]: readonly [number, number, number, number],
  view: RenderSize,
): Tile => ({
  x: Math.round(x * view.width),
  y: Math.round(y * view.height),
  width: Math.max(1, Math.round(width * view.width)),
  height: Math.max(1, Math.round(height * view.height)),
})
