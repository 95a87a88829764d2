import type { Tile } from '../passes/tile'
import { boxInView, type PictureLies } from './picture-lies'

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
export function passPlacement(pictureSize: Size, sheetSize: Size, { fit, lies }: PictureLies): Tile {
  if (lies) {
    const own = boxInView(lies.box, sheetSize)
    const inner = passPlacement(pictureSize, own, { fit: lies.fit })
    return { ...inner, x: own.x + inner.x, y: own.y + inner.y }
  }
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

/**
 * A window of something that lies at a place of the view, with nothing beside it.
 * @param window in pixels of the view; @param channels numbers a pixel.
 * @param make gives a window of what is placed, in its own pixels.
 * @returns channels·width·height of the window; null where nothing of it lies there.
 */
export function layWindow(
  placed: Tile,
  window: Tile,
  channels: number,
  make: (inside: Tile) => Float32Array,
): Float32Array | null {
  const left = Math.max(window.x, placed.x)
  const top = Math.max(window.y, placed.y)
  const width = Math.min(window.x + window.width, placed.x + placed.width) - left
  const height = Math.min(window.y + window.height, placed.y + placed.height) - top
  if (width <= 0 || height <= 0) return null
  const found = make({ x: left - placed.x, y: top - placed.y, width, height })
  if (width === window.width && height === window.height) return found
  const out = new Float32Array(channels * window.width * window.height)
  for (let y = 0; y < height; y++)
    out.set(
      found.subarray(channels * y * width, channels * (y + 1) * width),
      channels * ((top - window.y + y) * window.width + left - window.x),
    )
  return out
}

/** A point of the sheet, 0…1 across and down, in shares of a shot's picture; outside 0…1 where the picture is not. */
export function toPicturePoint(
  x01: number,
  y01: number,
  pictureSize: Size,
  sheetSize: Size,
  lies: PictureLies,
): readonly [number, number] {
  const placed = passPlacement(pictureSize, sheetSize, lies)
  return [
    (x01 * sheetSize.width - placed.x) / placed.width,
    (y01 * sheetSize.height - placed.y) / placed.height,
  ]
}
