import { z } from 'zod'
import type { Tile } from '../../passes/tile'
import { cutPicture, resizeWindow } from '../../picture/resample'
import type { RgbaPicture } from '../../picture/rgba-picture'
import { turnedWindow } from '../../picture/turned-window'
import { warpedWindow } from '../../picture/warped-window'
import { sequenceTimeSchema } from '../../turn/sequence'
import { defineContent } from './content-kind'

const corner = z.tuple([z.number().min(-8).max(9), z.number().min(-8).max(9)])

/** A picture from a file, placed on the sheet. */
export const pictureContent = defineContent({
  kind: 'picture',
  version: 1,
  label: 'Picture',
  summary: 'A picture from a file.',
  shape: {
    pictureId: z.string(),
    /** Its middle, in shares of the sheet's width and height. */
    centre: z.tuple([z.number().min(-8).max(9), z.number().min(-8).max(9)]),
    /** Its width and height before it is turned, in shares of the sheet's. */
    size: z.tuple([z.number().min(0.001).max(64), z.number().min(0.001).max(64)]),
    /** Clockwise. */
    turnDeg: z.number().min(-360).max(360),
    /** Stretched between these places of the sheet instead, from the upper left corner clockwise. */
    corners: z.tuple([corner, corner, corner, corner]).optional(),
    /** Whether it was made of what was seen: a pressing. */
    pressed: z.boolean().optional(),
    /** Its colours were multiplied by its alpha. */
    premultiplied: z.boolean().optional(),
    /** In a turntable it is another picture in every frame; elsewhere the one that is named. */
    sequence: sequenceTimeSchema.optional(),
  },
  uses: ({ pictureId }) => [pictureId],
  paint({ pictureId, centre, size, turnDeg, corners, premultiplied }, { window, view, resources }) {
    const found = resources.picture(pictureId)
    if (!found) return null
    const picture = premultiplied ? divided(found) : found
    if (corners) {
      const at = ([u, v]: readonly [number, number]) => [u * view.width, v * view.height] as const
      return warpedWindow(picture, [at(corners[0]), at(corners[1]), at(corners[2]), at(corners[3])], window)
    }
    const [width, height] = [size[0] * view.width, size[1] * view.height]
    const [x, y] = [centre[0] * view.width, centre[1] * view.height]
    const box = { x: x - width / 2, y: y - height / 2, width, height }
    return turnDeg % 360 === 0
      ? uprightWindow(picture, box, window)
      : turnedWindow(picture, { x, y, width, height, turnDeg }, window)
  },
})

const known = new WeakMap<RgbaPicture, RgbaPicture>()

/** A picture whose colours were multiplied by its alpha, straight: divided by it. */
function divided(picture: RgbaPicture): RgbaPicture {
  const held = known.get(picture)
  if (held) return held
  const pixels = picture.pixels.slice()
  for (let i = 0; i < pixels.length; i += 4) {
    const alpha = pixels[i + 3]
    if (alpha > 0) for (let c = i; c < i + 3; c++) pixels[c] = Math.min(1, pixels[c] / alpha)
  }
  const made = { ...picture, pixels }
  known.set(picture, made)
  return made
}

/** A window of a picture that lies upright in a box, whose sides may cut through pixels; clear beside it. */
function uprightWindow(picture: RgbaPicture, box: Tile, window: Tile): Float32Array | null {
  const left = Math.max(window.x, Math.floor(box.x))
  const top = Math.max(window.y, Math.floor(box.y))
  const right = Math.min(window.x + window.width, Math.ceil(box.x + box.width))
  const bottom = Math.min(window.y + window.height, Math.ceil(box.y + box.height))
  if (left >= right || top >= bottom) return null
  const inside = { x: left, y: top, width: right - left, height: bottom - top }
  const pixels = resizeWindow(
    (rect) => cutPicture(picture, rect),
    { pixels: picture.width, origin: box.x, length: box.width },
    { pixels: picture.height, origin: box.y, length: box.height },
    inside,
  )
  // Where it covers the window it is that, with nothing cut through.
  const isCovering =
    box.x <= window.x &&
    box.y <= window.y &&
    box.x + box.width >= window.x + window.width &&
    box.y + box.height >= window.y + window.height
  if (isCovering) return pixels
  /** How much of a pixel lies between two borders. */
  const share = (at: number, from: number, length: number) =>
    Math.max(0, Math.min(at + 1, from + length) - Math.max(at, from))
  const whole = new Float32Array(4 * window.width * window.height)
  for (let row = 0; row < inside.height; row++) {
    const down = share(top + row, box.y, box.height)
    let to = 4 * ((top - window.y + row) * window.width + left - window.x)
    for (let column = 0, i = 4 * row * inside.width; column < inside.width; column++, i += 4, to += 4) {
      for (let c = 0; c < 3; c++) whole[to + c] = pixels[i + c]
      whole[to + 3] = pixels[i + 3] * down * share(left + column, box.x, box.width)
    }
  }
  return whole
}
