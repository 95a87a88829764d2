import { EXRLoader } from 'three/addons/loaders/EXRLoader.js'
import { HDRLoader } from 'three/addons/loaders/HDRLoader.js'
import { DataUtils, FloatType, HalfFloatType } from 'three'
import { UnreadableFileError } from '@/core/errors'
import type { DomeRaster } from '@/core/passes/dome-picture'
import { srgbToLinear } from '@/core/math/colour'

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
 * A picture of the surroundings in linear light: HDR, EXR, or any picture the browser reads (PNG, JPEG, WebP).
 * @throws {UnreadableFileError} naming the file.
 */
export async function decodeDome(bytes: Uint8Array, name: string): Promise<DomeRaster> {
  const isExr = bytes[0] === 0x76 && bytes[1] === 0x2f && bytes[2] === 0x31 && bytes[3] === 0x01
  const isHdr = bytes[0] === 0x23 && bytes[1] === 0x3f
  try {
    if (isExr || isHdr) {
      const copy = new Uint8Array(bytes).buffer
      const { width, height, data, type } = isExr
        ? new EXRLoader().setDataType(FloatType).parse(copy)
        : new HDRLoader().setDataType(FloatType).parse(copy)
      if (!data || !width || !height) throw new Error('it is empty')
      const channels = Math.round(data.length / (width * height))
      const decode = type === HalfFloatType ? (v: number) => DataUtils.fromHalfFloat(v) : (v: number) => v
      // The EXR reader gives rows from the bottom.
      const row = (y: number) => (isExr ? height - 1 - y : y)
      return thinned(width, height, (x, y, c) =>
        decode(data[channels * (row(y) * width + x) + Math.min(c, channels - 1)]),
      )
    }
    const bitmap = await createImageBitmap(new Blob([new Uint8Array(bytes)]))
    const context = new OffscreenCanvas(bitmap.width, bitmap.height).getContext('2d')
    if (!context) throw new Error('no canvas')
    context.drawImage(bitmap, 0, 0)
    const { data, width, height } = context.getImageData(0, 0, bitmap.width, bitmap.height)
    return thinned(width, height, (x, y, c) => srgbToLinear(data[4 * (y * width + x) + c] / 255))
  } catch (cause) {
    throw new UnreadableFileError(
      name,
      'is not a picture that can light a scene (HDR, EXR, PNG, JPEG and WebP are)',
      { cause },
    )
  }
}
