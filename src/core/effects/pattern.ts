import type { Place } from './effect-kind'

/**
 * The mean of a pattern over a pixel, so that it is as dark small as large.
 * @param pattern its value at a place of the sheet, in sheet pixels; `softPx` is how wide its edges are to be.
 */
export function overPixel(
  { x, y, scale, points }: Place,
  pattern: (x: number, y: number, softPx: number) => number,
): number {
  if (points === 1) return pattern(x, y, 1 / scale)
  const step = 1 / (scale * points)
  const first = (-(points - 1) / 2) * step
  let sum = 0
  for (let j = 0; j < points; j++)
    for (let i = 0; i < points; i++) sum += pattern(x + first + i * step, y + first + j * step, step)
  return sum / (points * points)
}

/** How much of an edge of so many pixels' width is covered. @param inside how far inside, in the same unit; negative outside. */
export const covered = (inside: number, softPx: number): number =>
  Math.min(1, Math.max(0, 0.5 + inside / softPx))

/** W3C luminosity of display values. */
export const brightness = (rgb: Float64Array): number => 0.3 * rgb[0] + 0.59 * rgb[1] + 0.11 * rgb[2]

/** 0 up to `from`, 1 from `to` on, smooth between (Hermite). */
export function smoothStep(from: number, to: number, value: number): number {
  const t = Math.min(1, Math.max(0, (value - from) / Math.max(1e-9, to - from)))
  return t * t * (3 - 2 * t)
}
