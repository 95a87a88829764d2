import { MaxRectsPacker, Rectangle } from 'maxrects-packer/dist/maxrects-packer.mjs'
import { z } from 'zod'
import { InvalidValueError } from '../errors'

/** Pictures packed onto pages, for what draws many of them from few files. */

/** What tells where pictures lie on pages. */
export const ATLAS_MANIFEST = 'atlas.json'

export const atlasSettingSchema = z.object({
  /** The most that a page is wide and high, in pixels. */
  side: z.number().int().min(64).max(8192),
  /** Clear pixels around each picture. */
  padding: z.number().int().min(0).max(64),
  /** How far colours at edges go on, in pixels, where nothing is seen: pictures that are drawn smaller or turned keep theirs. */
  bleed: z.number().int().min(0).max(32),
})
export type AtlasSetting = z.infer<typeof atlasSettingSchema>

const place = z.object({ x: z.number(), y: z.number() })
export const atlasManifestSchema = z.object({
  /** Of the whole picture, in pixels. */
  size: z.object({ width: z.number().int(), height: z.number().int() }),
  /** How many times larger than at its first scale. */
  scale: z.number().int(),
  pages: z.array(z.object({ file: z.string(), width: z.number().int(), height: z.number().int() })),
  /** From the front to the back. */
  pictures: z.array(
    z.object({
      /** Of the set. */
      name: z.string(),
      shows: z.enum(['set', 'shadow', 'reflection']),
      page: z.number().int(),
      /** Where it lies on its page. */
      x: z.number().int(),
      y: z.number().int(),
      width: z.number().int(),
      height: z.number().int(),
      /** Where its top left lies in the whole picture. */
      at: place,
      /** What the set turns about, in the whole picture; null where it is nowhere seen. */
      pivot: place.nullable(),
      order: z.number().int(),
      depth: z.number().nullable(),
    }),
  ),
})
export type AtlasManifest = z.infer<typeof atlasManifestSchema>

/** A picture to be packed. */
export interface AtlasItem {
  readonly name: string
  readonly width: number
  readonly height: number
  /** Straight RGBA, 8 bits. */
  readonly pixels: Uint8Array
}

export interface AtlasPage {
  readonly width: number
  readonly height: number
  /** Straight RGBA, 8 bits. */
  readonly pixels: Uint8Array<ArrayBuffer>
}

export interface AtlasPlace {
  readonly page: number
  readonly x: number
  readonly y: number
}

/** @throws {InvalidValueError} naming a picture that no page can hold. */
export function checkFits(
  { name, width, height }: Omit<AtlasItem, 'pixels'>,
  { side, padding, bleed }: AtlasSetting,
): void {
  const most = side - 2 * Math.max(padding, bleed)
  if (Math.max(width, height) > most)
    throw new InvalidValueError(
      'atlas',
      `takes pictures up to ${most} pixels a side, but ${name} has ${width} × ${height}`,
      side,
    )
}

/**
 * Packs pictures onto as few pages as it finds (maximal rectangles; J. Jylänki, 2010); pages are as large as what is on them.
 * @returns the pages, and where each picture lies, in the order of the items.
 * @throws {InvalidValueError} naming a picture that no page can hold.
 */
export function packAtlas(
  items: readonly AtlasItem[],
  { side, padding, bleed }: AtlasSetting,
): { readonly pages: AtlasPage[]; readonly places: AtlasPlace[] } {
  const gap = Math.max(padding, bleed)
  for (const item of items) checkFits(item, { side, padding, bleed })
  // Colours that go on from both sides of a gap must not meet.
  const packer = new MaxRectsPacker(side, side, Math.max(padding, 2 * bleed), {
    smart: true,
    pot: false,
    square: false,
    allowRotation: false,
    border: gap,
  })
  packer.addArray(
    items.map(({ width, height }, index) => {
      const rectangle = new Rectangle(width, height)
      rectangle.data = index
      return rectangle
    }),
  )
  const places = new Array<AtlasPlace>(items.length)
  const pages = packer.bins.map((bin, page): AtlasPage => {
    const pixels = new Uint8Array(4 * bin.width * bin.height)
    for (const { x, y, data } of bin.rects) {
      const index = Number(data)
      places[index] = { page, x, y }
      const { width, height, pixels: own } = items[index]
      for (let row = 0; row < height; row++)
        pixels.set(own.subarray(4 * row * width, 4 * (row + 1) * width), 4 * ((y + row) * bin.width + x))
      if (bleed > 0) bleedEdges(pixels, bin.width, bin.height, { x, y, width, height }, bleed)
    }
    return { width: bin.width, height: bin.height, pixels }
  })
  return { pages, places }
}

/**
 * Lets the colours at the edges of a picture go on where it is clear, ring by ring, each the mean of those beside it; what is seen does
 * not change. In place.
 * @param box of the picture on the page; colours go on around it as well.
 */
export function bleedEdges(
  pixels: Uint8Array,
  pageWidth: number,
  pageHeight: number,
  box: { readonly x: number; readonly y: number; readonly width: number; readonly height: number },
  rings: number,
): void {
  const [left, top] = [Math.max(0, box.x - rings), Math.max(0, box.y - rings)]
  const width = Math.min(pageWidth, box.x + box.width + rings) - left
  const height = Math.min(pageHeight, box.y + box.height + rings) - top
  const at = (x: number, y: number) => 4 * ((top + y) * pageWidth + left + x)
  /** In which ring each pixel got its colour; 0: it is seen. */
  const ring = new Uint8Array(width * height).fill(255)
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) if (pixels[at(x, y) + 3] > 0) ring[y * width + x] = 0
  for (let now = 1; now <= rings; now++)
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++) {
        if (ring[y * width + x] < now) continue
        const sum = [0, 0, 0]
        let count = 0
        for (let dy = -1; dy <= 1; dy++)
          for (let dx = -1; dx <= 1; dx++) {
            const [nx, ny] = [x + dx, y + dy]
            if (nx < 0 || ny < 0 || nx >= width || ny >= height || ring[ny * width + nx] >= now) continue
            const from = at(nx, ny)
            for (let c = 0; c < 3; c++) sum[c] += pixels[from + c]
            count++
          }
        if (count === 0) continue
        const to = at(x, y)
        for (let c = 0; c < 3; c++) pixels[to + c] = Math.round(sum[c] / count)
        ring[y * width + x] = now
      }
}
