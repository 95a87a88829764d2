import type { Rgb } from '../math/colour'
import type { Oklab } from '../math/oklab'
import { oklabDistance, oklabToSrgb, srgbToOklab } from '../math/oklab'
import { seededRandom } from '../math/sampling'

/** One colour of a palette, and how much of the picture it stands for. */
export interface PaletteColour {
  readonly rgb: Rgb
  /** Share of the picture, 0…1. */
  readonly share: number
}

/** Cells per axis of the histogram the clusters are found in. */
const CELLS = 20
const ROUNDS = 24

interface Cell {
  readonly at: Oklab
  readonly weight: number
}

/** The picture's colours gathered into cells of OKLab: what is clustered does not grow with the picture. */
function gather(rgba: Uint8ClampedArray | Uint8Array): Cell[] {
  const cells = new Map<number, { sum: [number, number, number]; count: number }>()
  for (let i = 0; i < rgba.length; i += 4) {
    if (rgba[i + 3] < 128) continue
    const lab = srgbToOklab([rgba[i] / 255, rgba[i + 1] / 255, rgba[i + 2] / 255])
    const key =
      Math.floor(lab[0] * CELLS) +
      64 * (Math.floor((lab[1] + 0.5) * CELLS) + 64 * Math.floor((lab[2] + 0.5) * CELLS))
    const cell = cells.get(key) ?? { sum: [0, 0, 0], count: 0 }
    for (let k = 0; k < 3; k++) cell.sum[k] += lab[k]
    cell.count++
    cells.set(key, cell)
  }
  return [...cells.values()].map(({ sum, count }) => ({
    at: [sum[0] / count, sum[1] / count, sum[2] / count],
    // The root, so that a small bright spot is not drowned by a wide grey wall.
    weight: Math.sqrt(count),
  }))
}

/**
 * A palette of a picture: its colours clustered in OKLab (k-means, Lloyd 1982, begun far apart by k-means++, Arthur &
 * Vassilvitskii 2007, from a fixed seed).
 * @param rgba straight 8-bit pixels; those mostly transparent are left out.
 * @param count how many colours are wanted; fewer come where the picture has fewer.
 * @returns from the most to the least frequent.
 */
export function paletteOf(rgba: Uint8ClampedArray | Uint8Array, count: number): PaletteColour[] {
  const cells = gather(rgba)
  if (cells.length === 0) return []
  const random = seededRandom(1)

  // 1. Begin far apart.
  const means: Oklab[] = [cells.reduce((most, cell) => (cell.weight > most.weight ? cell : most)).at]
  const nearest = (at: Oklab) => Math.min(...means.map((m) => oklabDistance(at, m) ** 2))
  while (means.length < Math.min(count, cells.length)) {
    const odds = cells.map((cell) => nearest(cell.at) * cell.weight)
    const total = odds.reduce((a, b) => a + b, 0)
    if (!(total > 1e-12)) break
    let at = random() * total
    const found = odds.findIndex((odd) => (at -= odd) <= 0)
    means.push(cells[found < 0 ? cells.length - 1 : found].at)
  }

  // 2. Move each to the middle of what is nearest to it.
  const owner = new Uint32Array(cells.length)
  for (let round = 0; round < ROUNDS; round++) {
    let moved = false
    cells.forEach((cell, i) => {
      let best = 0
      for (let m = 1; m < means.length; m++)
        if (oklabDistance(cell.at, means[m]) < oklabDistance(cell.at, means[best])) best = m
      if (owner[i] !== best) moved = true
      owner[i] = best
    })
    means.forEach((_, m) => {
      const own = cells.filter((_, i) => owner[i] === m)
      const weight = own.reduce((sum, cell) => sum + cell.weight, 0)
      if (weight === 0) return
      const middle = (axis: number) =>
        own.reduce((sum, cell) => sum + cell.at[axis] * cell.weight, 0) / weight
      means[m] = [middle(0), middle(1), middle(2)]
    })
    if (!moved && round > 0) break
  }

  // 3. By how much of the picture each stands for.
  const shares = means.map((_, m) =>
    cells.reduce((sum, cell, i) => (owner[i] === m ? sum + cell.weight ** 2 : sum), 0),
  )
  const total = shares.reduce((a, b) => a + b, 0)
  return means
    .map((mean, m) => ({ rgb: oklabToSrgb(mean), share: shares[m] / total }))
    .sort((a, b) => b.share - a.share)
}

/**
 * Gives each colour the one of a palette that is nearest to it in OKLab, each palette colour used as evenly as may be:
 * the closest pairs first, and none a second time before all were used once.
 * @returns the index into the palette for each colour.
 */
export function bestMatch(colours: readonly Rgb[], palette: readonly Rgb[]): number[] {
  const out = new Array<number>(colours.length).fill(-1)
  if (palette.length === 0) return out
  const [from, to] = [colours.map(srgbToOklab), palette.map(srgbToOklab)]
  const pairs = from
    .flatMap((a, i) => to.map((b, j) => ({ i, j, away: oklabDistance(a, b) })))
    .sort((a, b) => a.away - b.away || a.i - b.i || a.j - b.j)
  const uses = new Array<number>(palette.length).fill(0)
  for (let most = 1; out.includes(-1); most++) {
    for (const { i, j } of pairs) {
      if (out[i] >= 0 || uses[j] >= most) continue
      out[i] = j
      uses[j]++
    }
  }
  return out
}
