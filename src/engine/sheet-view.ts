import type { RenderSize } from '@/core/sheet/sheet-resources'
import {
  emptyWindow,
  isWholePicture,
  takeFresh,
  takeOver,
  type WindowPixels,
} from '@/core/sheet/evaluate/window-pixels'
import type { ViewWindow } from '@/core/sheet/evaluate/view-window'

/** What shows a view: a canvas that this thread owns. */
export interface Surface {
  /** Shows parts of a window's pixels. */
  readonly put: (pixels: WindowPixels, parts: readonly ViewWindow[]) => void
}

/** A view of the sheet: its window's pixels, and the canvas that they are shown on. */
export interface ShownView {
  readonly size: RenderSize
  readonly pixels: WindowPixels
  readonly canvas: OffscreenCanvas
  readonly surface: Surface
  /** Whether nothing was shown on this canvas yet. */
  isNew: boolean
  /** Where in its order of tiles the last request was ended: there the next one begins, or some would never be painted. */
  resumeAt: number
}

/** A view on a new canvas; what it had in common with the one before it is taken over. */
export function viewOn(
  canvas: OffscreenCanvas,
  size: RenderSize,
  window: ViewWindow,
  isShared: boolean,
  before: ShownView | undefined,
): ShownView {
  const pixels = emptyWindow(window, isShared)
  if (before?.size.width === size.width && before.size.height === size.height) takeOver(before.pixels, pixels)
  return { size, pixels, canvas, surface: canvasSurface(canvas, pixels), isNew: true, resumeAt: 0 }
}

/** Puts on its canvas what was painted since it was last shown. */
export function present({ pixels, surface }: ShownView): void {
  const parts = takeFresh(pixels)
  if (parts.length > 0) surface.put(pixels, parts)
}

/** A canvas shows no memory that threads share: its pixels are then copied. */
function canvasSurface(canvas: OffscreenCanvas, { window, rgba }: WindowPixels): Surface {
  const { width, height } = window
  canvas.width = width
  canvas.height = height
  const context = canvas.getContext('2d', { willReadFrequently: true })
  if (!context) throw new Error('the browser gives no canvas to draw on')
  const { buffer } = rgba
  const isOwn = buffer instanceof ArrayBuffer
  const image = isOwn
    ? new ImageData(new Uint8ClampedArray(buffer), width, height)
    : new ImageData(width, height)
  return {
    put: (pixels, parts) => {
      for (const part of parts) {
        if (!isOwn)
          for (let y = part.y; y < part.y + part.height; y++) {
            const at = 4 * (y * width + part.x)
            image.data.set(pixels.rgba.subarray(at, at + 4 * part.width), at)
          }
        context.putImageData(image, 0, 0, part.x, part.y, part.width, part.height)
      }
    },
  }
}

/** All that a view shows, cut to a shape, as PNG; null where it shows a part of the sheet only. */
export const viewSnapshot = async (
  view: ShownView,
  size: RenderSize,
): Promise<Uint8Array<ArrayBuffer> | null> =>
  isWholePicture(view.pixels, view.size) && !view.isNew ? snapshot(view.canvas, size) : null

/** A picture cut to a shape, as PNG. */
export async function snapshot(
  picture: OffscreenCanvas | ImageBitmap,
  { width, height }: RenderSize,
): Promise<Uint8Array<ArrayBuffer>> {
  const small = new OffscreenCanvas(width, height)
  const context = small.getContext('2d')
  if (!context) throw new Error('the browser gives no canvas to draw on')
  const scale = Math.max(width / picture.width, height / picture.height)
  const [across, down] = [picture.width * scale, picture.height * scale]
  context.imageSmoothingQuality = 'high'
  context.drawImage(picture, (width - across) / 2, (height - down) / 2, across, down)
  return new Uint8Array(await (await small.convertToBlob({ type: 'image/png' })).arrayBuffer())
}
