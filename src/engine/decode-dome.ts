import { UnreadableFileError } from '@/core/errors'
import { PICTURE_KINDS } from '@/core/formats/picture-kinds'
import { srgbToLinear } from '@/core/math/colour'
import type { DomeRaster } from '@/core/passes/dome-picture'
import { decodeAnyPicture } from './decode-picture'

/** Largest picture a dome uses, in pixels; larger ones are thinned: light has no finer grain. */
const MOST_PIXELS = 1024 * 512

/** Rows from the top, averaged down to a size that lighting needs. */
function thinned(
  width: number,
  height: number,
  valueAt: (x: number, y: number, channel: number) => number,
): DomeRaster {
  const step = Math.max(1, Math.ceil(Math.sqrt((width * height) / MOST_PIXELS)))
  const [w, h] = [Math.max(1, Math.floor(width / step)), Math.max(1, Math.floor(height / step))]
  const pixels = new Float32Array(3 * w * h)
  for (let y = 0; y < h; y++) {
    for (let x = 0; x < w; x++) {
      for (let c = 0; c < 3; c++) {
        let sum = 0
        for (let j = 0; j < step; j++)
          for (let i = 0; i < step; i++) {
            const value = valueAt(x * step + i, y * step + j, c)
            sum += value > 0 && Number.isFinite(value) ? value : 0
          }
        pixels[3 * (y * w + x) + c] = sum / (step * step)
      }
    }
  }
  return { width: w, height: h, pixels }
}

/**
 * A picture of the surroundings in linear light, from any picture that is read.
 * @throws {UnreadableFileError} naming the file.
 */
export async function decodeDome(bytes: Uint8Array, name: string): Promise<DomeRaster> {
  try {
    const decoded = await decodeAnyPicture(bytes, name)
    if (decoded.space === 'linear') {
      const { width, height, channels, valueAt } = decoded
      return thinned(width, height, (x, y, c) => valueAt(channels * (y * width + x) + (channels < 3 ? 0 : c)))
    }
    const { width, height, pixels } = decoded.picture
    return thinned(width, height, (x, y, c) => {
      const at = 4 * (y * width + x)
      return srgbToLinear(pixels[at + c]) * pixels[at + 3]
    })
  } catch (cause) {
    throw new UnreadableFileError(name, `is not a picture that can light a scene (${PICTURE_KINDS} are)`, {
      cause,
    })
  }
}
