import type { RgbaPicture } from './rgba-picture'

/** For each target place, the first source place and the weights over it: a triangle filter as wide as the step. */
function filterTable(
  source: number,
  target: number,
): { starts: Int32Array; weights: Float32Array; taps: number } {
  const step = source / target
  const radius = Math.max(1, step)
  const taps = Math.ceil(radius * 2) + 1
  const starts = new Int32Array(target)
  const weights = new Float32Array(target * taps)
  for (let i = 0; i < target; i++) {
    const centre = (i + 0.5) * step - 0.5
    const start = Math.ceil(centre - radius)
    starts[i] = start
    let sum = 0
    for (let k = 0; k < taps; k++) {
      const weight = Math.max(0, 1 - Math.abs(start + k - centre) / radius)
      weights[i * taps + k] = weight
      sum += weight
    }
    for (let k = 0; k < taps; k++) weights[i * taps + k] /= sum
  }
  return { starts, weights, taps }
}

/**
 * Resizes interleaved planes by a separable triangle filter; places beyond the border repeat it.
 * @param rowOf the numbers of one row of the source: read before the next is asked for.
 */
function resizePlanes(
  rowOf: (y: number) => Float32Array,
  width: number,
  height: number,
  planes: number,
  toWidth: number,
  toHeight: number,
): Float32Array {
  const horizontal = filterTable(width, toWidth)
  const vertical = filterTable(height, toHeight)
  const middle = new Float32Array(toWidth * height * planes)
  for (let y = 0; y < height; y++) {
    const source = rowOf(y)
    for (let x = 0; x < toWidth; x++) {
      const to = (y * toWidth + x) * planes
      for (let k = 0; k < horizontal.taps; k++) {
        const weight = horizontal.weights[x * horizontal.taps + k]
        if (weight === 0) continue
        const sx = Math.min(width - 1, Math.max(0, horizontal.starts[x] + k))
        const from = sx * planes
        for (let c = 0; c < planes; c++) middle[to + c] += source[from + c] * weight
      }
    }
  }
  const out = new Float32Array(toWidth * toHeight * planes)
  const row = toWidth * planes
  for (let y = 0; y < toHeight; y++) {
    for (let k = 0; k < vertical.taps; k++) {
      const weight = vertical.weights[y * vertical.taps + k]
      if (weight === 0) continue
      const sy = Math.min(height - 1, Math.max(0, vertical.starts[y] + k))
      for (let i = 0; i < row; i++) out[y * row + i] += middle[sy * row + i] * weight
    }
  }
  return out
}

/** Resizes a plane of numbers. */
export const resizePlane = (
  plane: Float32Array,
  width: number,
  height: number,
  toWidth: number,
  toHeight: number,
): Float32Array =>
  width === toWidth && height === toHeight
    ? plane
    : resizePlanes((y) => plane.subarray(y * width, (y + 1) * width), width, height, 1, toWidth, toHeight)

/** Rows of a source that are asked for at a time. */
const BAND_ROWS = 32

/**
 * Makes a picture of one that is never there as a whole; colours are weighted by alpha, so transparent pixels never bleed in.
 * @param bandOf straight-alpha RGBA of some rows of the source.
 */
export function resizeBands(
  bandOf: (y: number, rows: number) => Float32Array,
  width: number,
  height: number,
  toWidth: number,
  toHeight: number,
): RgbaPicture {
  const weighted = new Float32Array(4 * width)
  let band: Float32Array = new Float32Array(0)
  const rowOf = (y: number): Float32Array => {
    const at = y % BAND_ROWS
    if (at === 0) band = bandOf(y, Math.min(BAND_ROWS, height - y))
    weighted.set(band.subarray(4 * width * at, 4 * width * (at + 1)))
    for (let i = 0; i < weighted.length; i += 4) {
      for (let c = i; c < i + 3; c++) weighted[c] *= weighted[i + 3]
    }
    return weighted
  }
  const pixels = resizePlanes(rowOf, width, height, 4, toWidth, toHeight)
  for (let i = 0; i < pixels.length; i += 4) {
    const k = pixels[i + 3] > 0 ? 1 / pixels[i + 3] : 0
    for (let c = i; c < i + 3; c++) pixels[c] *= k
  }
  return { width: toWidth, height: toHeight, pixels }
}

/** Resizes a picture; colours are weighted by alpha, so transparent pixels never bleed in. */
export function resizePicture(picture: RgbaPicture, toWidth: number, toHeight: number): RgbaPicture {
  const { width, height, pixels } = picture
  if (width === toWidth && height === toHeight) return picture
  const bandOf = (y: number, rows: number) => pixels.subarray(4 * width * y, 4 * width * (y + rows))
  return resizeBands(bandOf, width, height, toWidth, toHeight)
}
