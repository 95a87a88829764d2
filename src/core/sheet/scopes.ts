/** Values that a channel's histogram tells apart. */
export const BINS = 256
/** What a waveform measures: places across the picture, and tones from black at the bottom to white at the top. */
export const WAVE = { columns: 160, rows: 96 } as const

/** How much of a picture is how dark, as a whole and across it. */
export interface Scopes {
  /** Shares of the picture that is not clear, {@link BINS} each: red, green, blue, and brightness. */
  readonly histograms: readonly [number[], number[], number[], number[]]
  /** WAVE.columns · WAVE.rows, row by row from the top: shares of a column, 0…1. */
  readonly waveform: number[]
  /** Shares of what is not clear that are as dark, and as light, as can be. */
  readonly black: number
  readonly white: number
}

/**
 * Measures a picture. Brightness is that of W3C Compositing and Blending, 0.3 R + 0.59 G + 0.11 B of display values.
 * @param rgba straight, 8 bit, width·height pixels; each counts by its alpha.
 */
export function scopesOf(rgba: ArrayLike<number>, width: number, height: number): Scopes {
  const [red, green, blue, tones] = [0, 1, 2, 3].map(() => new Array<number>(BINS).fill(0))
  const waveform = new Array<number>(WAVE.columns * WAVE.rows).fill(0)
  const columns = new Array<number>(WAVE.columns).fill(0)
  let whole = 0
  let [black, white] = [0, 0]
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i += 4) {
      const alpha = rgba[i + 3] / 255
      if (alpha === 0) continue
      const [r, g, b] = [rgba[i], rgba[i + 1], rgba[i + 2]]
      const tone = 0.3 * r + 0.59 * g + 0.11 * b
      whole += alpha
      red[r] += alpha
      green[g] += alpha
      blue[b] += alpha
      tones[Math.round(tone)] += alpha
      if (r + g + b === 0) black += alpha
      if (r + g + b === 765) white += alpha
      const column = Math.floor((x * WAVE.columns) / width)
      const row = Math.min(WAVE.rows - 1, Math.floor((1 - tone / 255) * WAVE.rows))
      columns[column] += alpha
      waveform[row * WAVE.columns + column] += alpha
    }
  const share = (list: number[]) => list.map((v) => (whole > 0 ? v / whole : 0))
  return {
    histograms: [share(red), share(green), share(blue), share(tones)],
    waveform: waveform.map((v, at) => {
      const all = columns[at % WAVE.columns]
      return all > 0 ? v / all : 0
    }),
    black: whole > 0 ? black / whole : 0,
    white: whole > 0 ? white / whole : 0,
  }
}
