import { writeExr } from '@/core/formats/exr'
import { srgbToLinear } from '@/core/math/colour'
import type { RowsOf } from '@/core/sheet/evaluate/picture-rows'
import type { RenderSize } from '@/core/sheet/sheet-resources'

/** The picture as an EXR: linear light, premultiplied. */
export function exrOf({ width, height }: RenderSize, rowsOf: RowsOf): Uint8Array {
  const planes = [0, 1, 2, 3].map(() => new Float32Array(width * height))
  for (const { top, pixels } of rowsOf('floats', () => undefined)) {
    const values = new Float32Array(pixels.buffer)
    for (let i = 0, at = top * width; i < values.length; i += 4, at++) {
      const alpha = values[i + 3]
      for (let c = 0; c < 3; c++) planes[c][at] = alpha > 0 ? srgbToLinear(values[i + c] / alpha) * alpha : 0
      planes[3][at] = alpha
    }
  }
  const names = ['R', 'G', 'B', 'A']
  const channels = planes.map((data, c) => ({ name: names[c], type: 'float' as const, data }))
  return writeExr(width, height, channels)
}
