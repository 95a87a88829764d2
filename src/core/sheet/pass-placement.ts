import type { Tile } from '../passes/tile'
import { resizePlane } from '../picture/resample'
import type { RgbaPicture } from '../picture/rgba-picture'
import type { SheetFit } from './sheet-schema'

interface Size {
  readonly width: number
  readonly height: number
}

/**
 * Where a picture of a shot lies on its sheet, in pixels of the sheet at some size. A picture of the sheet's own shape
 * covers it exactly; one of another shape keeps its proportions, in the middle: whole (`extend`), or as large as the
 * sheet needs, its ends cut off (`crop`).
 * @param pictureSize of the pass; @param sheetSize the size the sheet is composited at.
 * @returns whole pixels; x and y are negative where ends are cut off.
 */
export function passPlacement(pictureSize: Size, sheetSize: Size, fit: SheetFit): Tile {
  const across = sheetSize.width / pictureSize.width
  const down = sheetSize.height / pictureSize.height
  const scale = fit === 'crop' ? Math.max(across, down) : Math.min(across, down)
  const whole = (length: number, wanted: number): number => {
    const rounded = Math.max(1, Math.round(length * scale))
    // Sizes are whole pixels: less than one of difference is no other shape.
    return Math.abs(length * scale - wanted) < 1 ? wanted : rounded
  }
  const width = whole(pictureSize.width, sheetSize.width)
  const height = whole(pictureSize.height, sheetSize.height)
  return {
    x: Math.round((sheetSize.width - width) / 2),
    y: Math.round((sheetSize.height - height) / 2),
    width,
    height,
  }
}

const covers = (placed: Tile, size: Size): boolean =>
  placed.x === 0 && placed.y === 0 && placed.width === size.width && placed.height === size.height

/** Lays rows of `channels` numbers a pixel at a place of an empty picture; what falls outside is cut off. */
function lay(source: Float32Array, placed: Tile, size: Size, channels: number): Float32Array {
  const out = new Float32Array(channels * size.width * size.height)
  const left = Math.max(0, placed.x)
  const right = Math.min(size.width, placed.x + placed.width)
  const bottom = Math.min(size.height, placed.y + placed.height)
  for (let y = Math.max(0, placed.y); y < bottom; y++) {
    const from = ((y - placed.y) * placed.width + (left - placed.x)) * channels
    out.set(source.subarray(from, from + (right - left) * channels), (y * size.width + left) * channels)
  }
  return out
}

/**
 * A picture of a shot on its sheet; nothing beside it.
 * @param make gives the picture at a size, so that lines are inked where they are shown.
 * @returns straight-alpha RGBA of `size`.
 */
export function placePicture(
  pictureSize: Size,
  size: Size,
  fit: SheetFit,
  make: (placed: Size) => RgbaPicture,
): RgbaPicture {
  const placed = passPlacement(pictureSize, size, fit)
  const picture = make({ width: placed.width, height: placed.height })
  if (covers(placed, size)) return picture
  return { width: size.width, height: size.height, pixels: lay(picture.pixels, placed, size, 4) }
}

/** A plane of a shot's picture on its sheet, 0 beside it. Float32Array, width·height. */
export function placePlane(plane: Float32Array, pictureSize: Size, size: Size, fit: SheetFit): Float32Array {
  const placed = passPlacement(pictureSize, size, fit)
  const resized = resizePlane(plane, pictureSize.width, pictureSize.height, placed.width, placed.height)
  return covers(placed, size) ? resized : lay(resized, placed, size, 1)
}

/** A point of the sheet, 0…1 across and down, in shares of a shot's picture; outside 0…1 where the picture is not. */
export function toPicturePoint(
  x01: number,
  y01: number,
  pictureSize: Size,
  sheetSize: Size,
  fit: SheetFit,
): readonly [number, number] {
  const placed = passPlacement(pictureSize, sheetSize, fit)
  return [
    (x01 * sheetSize.width - placed.x) / placed.width,
    (y01 * sheetSize.height - placed.y) / placed.height,
  ]
}
