import type { Frame } from '../scene/camera'

/** How frames of two turntables are seen together. */
export const BESIDE = ['side', 'split'] as const
export type Beside = (typeof BESIDE)[number]
export const besideLabels: Readonly<Record<Beside, string>> = {
  side: 'Side by side',
  split: 'Left half and right half',
}

/** How wide the seam between two halves is, as a share of the width; even, so that it lies in the middle. */
const seamOf = (width: number): number => 2 * Math.max(1, Math.round(width / 960))

/** How large frames are that show two. */
export const besideSize = ({ width, height }: Frame, how: Beside): Frame =>
  how === 'side' ? { width: 2 * width, height } : { width, height }

/**
 * A frame of one turntable and a frame of another, as one picture: one beside the other, or the left half of the first and the
 * right half of the second, with a seam between them.
 * @param a, b straight 8-bit RGBA of the same size.
 */
export function framesBeside(
  a: Uint8ClampedArray,
  b: Uint8ClampedArray,
  { width, height }: Frame,
  how: Beside,
): Uint8ClampedArray<ArrayBuffer> {
  const out = besideSize({ width, height }, how)
  const made = new Uint8ClampedArray(4 * out.width * height)
  if (how === 'side') {
    for (let y = 0; y < height; y++) {
      const row = 4 * y * width
      made.set(a.subarray(row, row + 4 * width), 2 * row)
      made.set(b.subarray(row, row + 4 * width), 2 * row + 4 * width)
    }
    return made
  }
  const middle = width >> 1
  const seam = Math.min(seamOf(width), width)
  for (let y = 0; y < height; y++) {
    const row = 4 * y * width
    made.set(a.subarray(row, row + 4 * middle), row)
    made.set(b.subarray(row + 4 * middle, row + 4 * width), row + 4 * middle)
    made.fill(255, row + 4 * (middle - seam / 2), row + 4 * (middle + seam / 2))
  }
  return made
}
