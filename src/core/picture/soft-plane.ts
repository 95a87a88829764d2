/** A plane of numbers that is looked at with more or less blur at each place: a pyramid of ever softer, smaller planes. */
export interface SoftPlane {
  readonly levels: readonly {
    readonly width: number
    readonly height: number
    readonly values: Uint8Array
  }[]
}

/** Binomial weights of Burt and Adelson's pyramid (1983): each level has a variance of one more of its pixels. */
const WEIGHTS = [1, 4, 6, 4, 1] as const

/** @param values 0…1, width·height, row by row; beyond its border it is nothing. */
export function softPlane(values: Float32Array, width: number, height: number): SoftPlane {
  const levels = [{ width, height, values: Uint8Array.from(values, (v) => Math.round(255 * v)) }]
  for (let own = levels[0]; own.width > 4 || own.height > 4; own = levels[levels.length - 1])
    levels.push(halved(own.values, own.width, own.height))
  return { levels }
}

function halved(values: Uint8Array, width: number, height: number) {
  const [w, h] = [Math.ceil(width / 2), Math.ceil(height / 2)]
  // Across first: a column of the smaller plane for each row of the larger.
  const across = new Float32Array(w * height)
  for (let y = 0; y < height; y++)
    for (let x = 0; x < w; x++) {
      let sum = 0
      for (let k = -2; k <= 2; k++) {
        const at = 2 * x + k
        if (at >= 0 && at < width) sum += WEIGHTS[k + 2] * values[y * width + at]
      }
      across[y * w + x] = sum / 16
    }
  const out = new Uint8Array(w * h)
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      let sum = 0
      for (let k = -2; k <= 2; k++) {
        const at = 2 * y + k
        if (at >= 0 && at < height) sum += WEIGHTS[k + 2] * across[at * w + x]
      }
      out[y * w + x] = Math.round(sum / 16)
    }
  return { width: w, height: h, values: out }
}

/**
 * What a plane shows at a place, blurred.
 * @param x, y of the plane's own pixels, their middles at halves. @param sigma about the deviation of the blur, in the same.
 * @returns 0…1.
 */
export function softAt({ levels }: SoftPlane, x: number, y: number, sigma: number): number {
  if (sigma < 0.6) {
    const sharp = linearAt(levels[0], x - 0.5, y - 0.5)
    if (sigma < 0.05) return sharp
    const t = sigma / 0.6
    return sharp + (splineAt(levels[0], x - 0.5, y - 0.5) - sharp) * t
  }
  // Level l, read by B-splines, is blurred by a variance of (4ˡ − 1) / 3 + 4ˡ / 3 of the first level's pixels.
  const wanted = Math.log2((3 * sigma * sigma + 1) / 2) / 2
  const level = Math.min(levels.length - 1, Math.max(0, wanted))
  const low = Math.floor(level)
  const at = (l: number): number => {
    const scale = 2 ** l
    return splineAt(levels[l], (x - 0.5) / scale, (y - 0.5) / scale)
  }
  const share = level - low
  return share === 0 || low + 1 >= levels.length ? at(low) : at(low) * (1 - share) + at(low + 1) * share
}

type Level = SoftPlane['levels'][number]

function linearAt({ width, height, values }: Level, x: number, y: number): number {
  const [x0, y0] = [Math.floor(x), Math.floor(y)]
  if (x0 < -1 || y0 < -1 || x0 >= width || y0 >= height) return 0
  const [u, v] = [x - x0, y - y0]
  const value = (i: number, j: number) =>
    i >= 0 && j >= 0 && i < width && j < height ? values[j * width + i] : 0
  const top = value(x0, y0) * (1 - u) + value(x0 + 1, y0) * u
  const bottom = value(x0, y0 + 1) * (1 - u) + value(x0 + 1, y0 + 1) * u
  return (top * (1 - v) + bottom * v) / 255
}

/** By cubic B-splines over 4 × 4 values. */
function splineAt({ width, height, values }: Level, x: number, y: number): number {
  const [x0, y0] = [Math.floor(x), Math.floor(y)]
  if (x0 < -2 || y0 < -2 || x0 > width || y0 > height) return 0
  const [u, v] = [x - x0, y - y0]
  const a = (1 - u) ** 3 / 6
  const b = (4 - 6 * u * u + 3 * u ** 3) / 6
  const d = u ** 3 / 6
  const c = 1 - a - b - d
  let sum = 0
  for (let j = -1; j <= 2; j++) {
    const row = y0 + j
    if (row < 0 || row >= height) continue
    const at = row * width + x0
    const weight =
      j === -1
        ? (1 - v) ** 3 / 6
        : j === 0
          ? (4 - 6 * v * v + 3 * v ** 3) / 6
          : j === 1
            ? (1 + 3 * v + 3 * v * v - 3 * v ** 3) / 6
            : v ** 3 / 6
    const inner =
      (x0 > 0 && x0 <= width ? a * values[at - 1] : 0) +
      (x0 >= 0 && x0 < width ? b * values[at] : 0) +
      (x0 >= -1 && x0 < width - 1 ? c * values[at + 1] : 0) +
      (x0 >= -2 && x0 < width - 2 ? d * values[at + 2] : 0)
    sum += weight * inner
  }
  return sum / 255
}
