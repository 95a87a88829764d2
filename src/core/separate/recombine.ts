/** How separate pictures come together again: whole ones are laid under each other, those cut as seen are added. */
export type Togetherness = 'over' | 'plus'

/** A rectangle of pixels. */
export interface PixelBox {
  readonly x: number
  readonly y: number
  readonly width: number
  readonly height: number
}

/**
 * Lays a picture beneath what is there, or adds it. In place.
 * @param sum premultiplied RGBA, begins clear.
 * @param width of it.
 * @param picture premultiplied RGBA, the next from the front.
 * @param box where it lies.
 */
export function takeIn(
  sum: Float32Array,
  width: number,
  picture: Float32Array,
  box: PixelBox,
  how: Togetherness,
): void {
  for (let y = 0; y < box.height; y++)
    for (let x = 0; x < box.width; x++) {
      const from = 4 * (y * box.width + x)
      const to = 4 * ((box.y + y) * width + box.x + x)
      const open = how === 'over' ? 1 - sum[to + 3] : 1
      if (open <= 0 || picture[from + 3] <= 0) continue
      for (let c = 0; c < 4; c++) sum[to + c] += open * picture[from + c]
    }
}

/** Mean over all pixels and channels of how far two premultiplied pictures differ, 0…1. */
export function meanDifference(a: Float32Array, b: Float32Array): number {
  let sum = 0
  for (let i = 0; i < a.length; i++) sum += Math.abs(a[i] - b[i])
  return a.length > 0 ? sum / a.length : 0
}

/** The smallest rectangle around all places that hold something; one pixel at the corner where none does. */
export function filledBox(width: number, height: number, holds: (place: number) => boolean): PixelBox {
  let [left, right, top, bottom] = [width, -1, height, -1]
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      if (!holds(y * width + x)) continue
      if (x < left) left = x
      if (x > right) right = x
      if (y < top) top = y
      bottom = y
    }
  return right < 0
    ? { x: 0, y: 0, width: 1, height: 1 }
    : { x: left, y: top, width: right - left + 1, height: bottom - top + 1 }
}

/** What numbers say in a rectangle. @param each numbers a pixel. */
export function cutOut<A extends Float32Array | Uint16Array | Uint8Array>(
  numbers: A,
  width: number,
  box: PixelBox,
  each: number,
): A {
  const out = numbers.slice(0, each * box.width * box.height) as A
  for (let y = 0; y < box.height; y++) {
    const from = each * ((box.y + y) * width + box.x)
    out.set(numbers.subarray(from, from + each * box.width), each * y * box.width)
  }
  return out
}
