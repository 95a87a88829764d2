import type { RenderSize } from '@/core/sheet/sheet-resources'
import { coarser, type Coarseness } from '@/core/sheet/evaluate/sheet-plan'
import {
  cover,
  emptyWindow,
  isWholePicture,
  takeFresh,
  takeOver,
  type WindowPixels,
} from '@/core/sheet/evaluate/window-pixels'
import { coarserWindow, type ViewWindow } from '@/core/sheet/evaluate/view-window'
import { DraftPace } from './draft-pace'

/** What shows a view: a canvas that this thread owns. */
export interface Surface {
  /** Shows parts of a window's pixels. */
  readonly put: (pixels: WindowPixels, parts: readonly ViewWindow[]) => void
  /** Shows parts of a coarser window's pixels, enlarged, where they lie. @returns the parts of its own window that are covered. */
  readonly enlarge: (draft: Draft, parts: readonly ViewWindow[]) => readonly ViewWindow[]
}

/** Pixels that are painted tile by tile. */
interface Painted {
  readonly pixels: WindowPixels
  /** Where in its order of tiles the last request was ended: there the next one begins, or some would never be painted. */
  resumeAt: number
}

/** A coarser picture of a view, for a hand that moves. */
export interface Draft extends Painted {
  readonly coarse: Coarseness
}

/** A view of the sheet: its window's pixels, and the canvas that they are shown on. */
export interface ShownView extends Painted {
  readonly size: RenderSize
  readonly canvas: OffscreenCanvas
  readonly surface: Surface
  readonly pace: DraftPace
  /** Its coarser pictures, as far as some were asked for. */
  readonly drafts: Map<Coarseness, Draft>
  /** Whether nothing was shown on this canvas yet. */
  isNew: boolean
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
  return {
    size,
    pixels,
    canvas,
    surface: canvasSurface(canvas, pixels),
    pace: before?.pace ?? new DraftPace(),
    drafts: new Map(),
    isNew: true,
    resumeAt: 0,
  }
}

/** The coarser picture of a view. @param isShared whether threads paint it together. */
export function draftOf(view: ShownView, coarse: Coarseness, isShared: boolean): Draft {
  const known = view.drafts.get(coarse)
  if (known) return known
  const window = coarserWindow(view.pixels.window, coarse, coarser(view.size, coarse))
  const draft: Draft = { coarse, pixels: emptyWindow(window, isShared), resumeAt: 0 }
  view.drafts.set(coarse, draft)
  return draft
}

/** Puts on its canvas what was painted since it was last shown. @param draft what of: a coarser picture, or the view's own. */
export function present({ pixels, surface }: ShownView, draft: Draft | null): void {
  const parts = takeFresh(draft?.pixels ?? pixels)
  if (parts.length === 0) return
  if (draft) cover(pixels, surface.enlarge(draft, parts))
  else surface.put(pixels, parts)
}

/** A canvas shows no memory that threads share: its pixels are then copied. */
function canvasSurface(canvas: OffscreenCanvas, { window, rgba }: WindowPixels): Surface {
  const { width, height } = window
  const { context, put } = windowOn(canvas, window, rgba)
  context.imageSmoothingEnabled = true
  context.imageSmoothingQuality = 'low'
  const smaller = new Map<Coarseness, ReturnType<typeof windowOn> & { readonly canvas: OffscreenCanvas }>()
  return {
    put,
    enlarge: ({ coarse, pixels }, parts) => {
      let own = smaller.get(coarse)
      if (!own) {
        const small = new OffscreenCanvas(1, 1)
        own = { canvas: small, ...windowOn(small, pixels.window, pixels.rgba) }
        smaller.set(coarse, own)
      }
      own.put(pixels, parts)
      const from = pixels.window
      return parts.map((part) => {
        // A pixel more on every side: colours run on over the borders of tiles.
        const x = Math.max(0, part.x - 1)
        const y = Math.max(0, part.y - 1)
        const right = Math.min(from.width, part.x + part.width + 1)
        const bottom = Math.min(from.height, part.y + part.height + 1)
        const left = coarse * (from.x + x) - window.x
        const top = coarse * (from.y + y) - window.y
        const [across, down] = [coarse * (right - x), coarse * (bottom - y)]
        context.clearRect(left, top, across, down)
        context.drawImage(own.canvas, x, y, right - x, bottom - y, left, top, across, down)
        return cut({ x: left, y: top, width: across, height: down }, width, height)
      })
    },
  }
}

/** The part of a rectangle that lies within a picture. */
function cut(part: ViewWindow, width: number, height: number): ViewWindow {
  const [x, y] = [Math.max(0, part.x), Math.max(0, part.y)]
  return {
    x,
    y,
    width: Math.max(0, Math.min(width, part.x + part.width) - x),
    height: Math.max(0, Math.min(height, part.y + part.height) - y),
  }
}

/** A canvas of a window's size, and what puts parts of the window's pixels on it. */
function windowOn(
  canvas: OffscreenCanvas,
  { width, height }: ViewWindow,
  { buffer }: Uint8Array,
): { readonly context: OffscreenCanvasRenderingContext2D; readonly put: Surface['put'] } {
  canvas.width = width
  canvas.height = height
  const context = canvas.getContext('2d', { willReadFrequently: true })
  if (!context) throw new Error('the browser gives no canvas to draw on')
  const isOwn = buffer instanceof ArrayBuffer
  const image = isOwn
    ? new ImageData(new Uint8ClampedArray(buffer), width, height)
    : new ImageData(width, height)
  return {
    context,
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
