import type { Sheet } from './sheet-schema'

interface Size {
  readonly width: number
  readonly height: number
}

const MOST_FEATHER_PX = 500

/** Whether a sheet is of a size, to the pixel. */
export const hasSize = (sheet: Size, { width, height }: Size): boolean =>
  sheet.width === width && sheet.height === height

/** Whether two sizes are of one shape, as far as whole pixels can be. */
export const isSameShape = (a: Size, b: Size): boolean =>
  Math.abs(a.width * b.height - a.height * b.width) < Math.max(a.width, a.height, b.width, b.height)

/**
 * Gives a sheet another size, in place. Lengths on it follow its height, as what a lens sees and the weight of lines do, so
 * that the picture looks as it did.
 */
export function resizeSheet(
  sheet: { -readonly [K in keyof Sheet]: Sheet[K] },
  { width, height }: Size,
): void {
  const by = height / sheet.height
  sheet.width = width
  sheet.height = height
  for (const layer of sheet.layers)
    if (layer.mask) layer.mask.featherPx = Math.min(MOST_FEATHER_PX, layer.mask.featherPx * by)
}
