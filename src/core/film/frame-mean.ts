import { linearToSrgb, srgbToLinear } from '../math/colour'
import type { PictureRows, PixelForm, RowsOf } from '../sheet/evaluate/picture-rows'

/** Rows that are given at once. */
const ROWS = 128

/**
 * The mean of several pictures of one frame, in linear light: what an open shutter sees. Each counts as much as it covers.
 */
export class FrameMean {
  /** Linear light, premultiplied. */
  private readonly sums: Float32Array
  private count = 0

  constructor(
    private readonly width: number,
    private readonly height: number,
  ) {
    this.sums = new Float32Array(4 * width * height)
  }

  /** @param rows of a picture, as floats: display values, premultiplied. */
  add(rows: Iterable<PictureRows>): void {
    const { sums, width } = this
    for (const { top, pixels } of rows) {
      const values = new Float32Array(pixels.buffer, pixels.byteOffset, pixels.byteLength >> 2)
      const from = 4 * top * width
      for (let i = 0; i < values.length; i += 4) {
        const alpha = values[i + 3]
        if (alpha <= 0) continue
        for (let c = 0; c < 3; c++) sums[from + i + c] += srgbToLinear(values[i + c] / alpha) * alpha
        sums[from + i + 3] += alpha
      }
    }
    this.count++
  }

  /** The mean, as rows of a picture. */
  readonly rowsOf: RowsOf = (form) => this.rows(form)

  private *rows(form: PixelForm): Generator<PictureRows, void> {
    const { width, height, sums, count } = this
    for (let top = 0; top < height; top += ROWS) {
      const rows = Math.min(ROWS, height - top)
      const numbers = 4 * width * rows
      const out =
        form === 'floats' ? new Float32Array(numbers) : form === 'words' ? new Uint16Array(numbers) : null
      const bytes = out ? new Uint8Array(out.buffer) : new Uint8Array(numbers)
      const view = new DataView(bytes.buffer)
      for (let i = 0, at = 4 * top * width; i < numbers; i += 4, at += 4) {
        const sum = sums[at + 3]
        const alpha = count > 0 ? Math.min(1, sum / count) : 0
        for (let c = 0; c < 4; c++) {
          const straight = c === 3 ? alpha : sum > 0 ? Math.min(1, linearToSrgb(sums[at + c] / sum)) : 0
          if (form === 'floats') view.setFloat32(4 * (i + c), c === 3 ? alpha : straight * alpha, true)
          else if (form === 'words') view.setUint16(2 * (i + c), Math.round(65535 * straight), false)
          else bytes[i + c] = Math.round(255 * straight)
        }
      }
      yield { top, height: rows, pixels: bytes }
    }
  }
}
