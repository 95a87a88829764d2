import { decode } from 'jpeg-js'
import type { SceneTexture } from '../scene/scene-texture'
import { readPng } from './png'

/** The largest JPEG that is decoded, in megapixels and megabytes of memory: a guard against files that claim more. */
const MOST_MEGAPIXELS = 160
const MOST_MEGABYTES = 2048

/** Whether bytes begin as a file of that kind does. */
const begins = (bytes: Uint8Array, ...signature: number[]): boolean =>
  signature.every((v, i) => bytes[i] === v)

/**
 * A material's picture, from PNG or JPEG bytes, as display RGBA.
 * @returns null where it is of another kind or damaged: the material then keeps its plain colour, and the report of the
 *   import names the picture.
 */
export function readTexture(bytes: Uint8Array): SceneTexture | null {
  try {
    if (begins(bytes, 0xff, 0xd8, 0xff)) {
      const { width, height, data } = decode(bytes, {
        useTArray: true,
        formatAsRGBA: true,
        maxResolutionInMP: MOST_MEGAPIXELS,
        maxMemoryUsageInMB: MOST_MEGABYTES,
      })
      return { width, height, rgba: data }
    }
    if (!begins(bytes, 0x89, 0x50, 0x4e, 0x47)) return null
    const { width, height, pixels } = readPng(bytes, 'texture')
    const rgba = new Uint8Array(pixels.length)
    for (let i = 0; i < rgba.length; i++) rgba[i] = pixels[i] * 255 + 0.5
    return { width, height, rgba }
  } catch {
    return null
  }
}
