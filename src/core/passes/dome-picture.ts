/** A picture of the surroundings in linear light: longitude across, latitude down; the middle column is +Z. */
export interface DomeRaster {
  readonly width: number
  readonly height: number
  /** Float32Array, 3·width·height, linear red, green, blue, from the top row down. */
  readonly pixels: Float32Array
}

/** Index of the last entry not above `value`, in a rising list that begins with 0. */
function lastAtMost(list: Float64Array, from: number, count: number, value: number): number {
  let low = 0
  let high = count - 1
  while (low < high) {
    const middle = (low + high + 1) >> 1
    if (list[from + middle] <= value) low = middle
    else high = middle - 1
  }
  return low
}

/**
 * Looks up and draws directions from a picture of the surroundings, in proportion to brightness (piecewise constant
 * density over rows, then columns; Pharr, Jakob & Humphreys 2016, §14.2.4).
 */
export class DomePicture {
  /** Running sums of the rows' weight, height + 1, scaled to end at 1; likewise within each row, height·(width + 1). */
  private readonly rows: Float64Array
  private readonly columns: Float64Array
  private readonly mean: number

  constructor(private readonly raster: DomeRaster) {
    const { width, height, pixels } = raster
    this.rows = new Float64Array(height + 1)
    this.columns = new Float64Array(height * (width + 1))
    let total = 0
    for (let y = 0; y < height; y++) {
      const stretch = Math.sin((Math.PI * (y + 0.5)) / height)
      const from = y * (width + 1)
      for (let x = 0; x < width; x++)
        this.columns[from + x + 1] = this.columns[from + x] + this.weight(pixels, 3 * (y * width + x))
      const sum = this.columns[from + width]
      for (let x = 1; x <= width; x++)
        this.columns[from + x] = sum > 0 ? this.columns[from + x] / sum : x / width
      total += sum * stretch
      this.rows[y + 1] = total
    }
    for (let y = 1; y <= height; y++) this.rows[y] = total > 0 ? this.rows[y] / total : y / height
    // Mean of the weight over the map with its stretch: what densities are relative to.
    this.mean = total / (width * height)
  }

  /** Brightness, never quite 0: every direction must be possible. */
  private weight(pixels: Float32Array, at: number): number {
    return 0.2126 * pixels[at] + 0.7152 * pixels[at + 1] + 0.0722 * pixels[at + 2] + 1e-6
  }

  /** Writes a direction and its density per steradian to `out`. */
  sample(u: number, v: number, out: Float64Array): void {
    const { width, height } = this.raster
    const y = Math.min(height - 1, lastAtMost(this.rows, 0, height + 1, v))
    const rowSpan = this.rows[y + 1] - this.rows[y]
    const from = y * (width + 1)
    const x = Math.min(width - 1, lastAtMost(this.columns, from, width + 1, u))
    const columnSpan = this.columns[from + x + 1] - this.columns[from + x]
    const row = (y + (rowSpan > 0 ? (v - this.rows[y]) / rowSpan : 0.5)) / height
    const column = (x + (columnSpan > 0 ? (u - this.columns[from + x]) / columnSpan : 0.5)) / width
    const down = Math.PI * row
    const round = 2 * Math.PI * (column - 0.5)
    const level = Math.sin(down)
    out[0] = Math.sin(round) * level
    out[1] = Math.cos(down)
    out[2] = Math.cos(round) * level
    out[3] = this.density(x, y, level)
  }

  /** Writes linear colour to `rgb`. @returns the density per steradian with which `sample` gives this direction. */
  look(x: number, y: number, z: number, rgb: Float64Array): number {
    const { width, height, pixels } = this.raster
    const column = Math.floor((Math.atan2(x, z) / (2 * Math.PI) + 0.5) * width)
    const row = Math.floor((Math.acos(Math.min(1, Math.max(-1, y))) / Math.PI) * height)
    const cx = Math.min(width - 1, Math.max(0, column))
    const cy = Math.min(height - 1, Math.max(0, row))
    const at = 3 * (cy * width + cx)
    for (let k = 0; k < 3; k++) rgb[k] = pixels[at + k]
    return this.density(cx, cy, Math.sqrt(Math.max(0, 1 - y * y)))
  }

  private density(x: number, y: number, level: number): number {
    const { width, height, pixels } = this.raster
    const stretch = Math.sin((Math.PI * (y + 0.5)) / height)
    const share = (this.weight(pixels, 3 * (y * width + x)) * stretch) / this.mean
    return share / (2 * Math.PI * Math.PI * Math.max(level, 1e-4))
  }
}
