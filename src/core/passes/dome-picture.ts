import type { LightPicture } from '../trace/light-record'

/** A picture of the surroundings in linear light: longitude across, latitude down; the middle column is +Z. */
export interface DomeRaster {
  readonly width: number
  readonly height: number
  /** Float32Array, 3·width·height, linear red, green, blue, from the top row down. */
  readonly pixels: Float32Array
}

/** Brightness of a pixel, never quite 0: every direction must be possible. */
export const pictureWeight = (pixels: Float32Array, at: number): number =>
  0.2126 * pixels[at] + 0.7152 * pixels[at + 1] + 0.0722 * pixels[at + 2] + 1e-6

/**
 * A picture of the surroundings, prepared for directions to be drawn from it in proportion to brightness (piecewise
 * constant density over rows, then columns; Pharr, Jakob & Humphreys 2016, §14.2.4): kernel/light.ts draws them.
 */
export class DomePicture implements LightPicture {
  readonly width: number
  readonly height: number
  readonly rows: Float32Array
  readonly columns: Float32Array
  readonly pixels: Float32Array
  readonly mean: number

  constructor({ width, height, pixels }: DomeRaster) {
    this.width = width
    this.height = height
    this.pixels = pixels
    const rows = new Float64Array(height + 1)
    const columns = new Float64Array(height * (width + 1))
    let total = 0
    for (let y = 0; y < height; y++) {
      const stretch = Math.sin((Math.PI * (y + 0.5)) / height)
      const from = y * (width + 1)
      for (let x = 0; x < width; x++)
        columns[from + x + 1] = columns[from + x] + pictureWeight(pixels, 3 * (y * width + x))
      const sum = columns[from + width]
      for (let x = 1; x <= width; x++) columns[from + x] = sum > 0 ? columns[from + x] / sum : x / width
      total += sum * stretch
      rows[y + 1] = total
    }
    for (let y = 1; y <= height; y++) rows[y] = total > 0 ? rows[y] / total : y / height
    // Mean of the weight over the map with its stretch: what densities are relative to.
    this.mean = total / (width * height)
    this.rows = Float32Array.from(rows)
    this.columns = Float32Array.from(columns)
  }
}
