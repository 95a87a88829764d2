import { ID_PAIRS } from '../../passes/id'
import type { PassResult } from '../../passes/pass-result'
import { filterTable } from '../../picture/resample'
import type { PaintTarget } from '../contents/content-kind'
import { passPlacement } from '../pass-placement'

/** How much of each pixel of a window every part covers: most pixels are of one part, or of none. */
export interface PartCover {
  /** Uint32Array, pixels + 1: where the entries of each pixel begin. */
  readonly starts: Uint32Array
  /** Uint16Array: the place of a part in the order that was asked for. */
  readonly ranks: Uint16Array
  /** Float32Array, 0…1. */
  readonly covers: Float32Array
}

/** A surface that counts as nothing. */
export const NO_RANK = 0xffff

/**
 * All parts at once, resized as {@link PassResult}s' pictures are: what takes a filter for each part otherwise.
 * @param rankOf the place of the part of each surface of the ID pass in an order; {@link NO_RANK} leaves it out.
 * @param rankCount how many places there are.
 */
export function partCover(
  idPass: PassResult,
  rankOf: Uint16Array,
  rankCount: number,
  { window, view, sheet }: Pick<PaintTarget, 'window' | 'view' | 'sheet'>,
): PartCover {
  const { width, height, channels } = idPass
  const placed = passPlacement(idPass, view, sheet)
  const across = filterTable(
    { pixels: width, origin: placed.x, length: placed.width },
    window.x,
    window.width,
  )
  const down = filterTable(
    { pixels: height, origin: placed.y, length: placed.height },
    window.y,
    window.height,
  )
  const starts = new Uint32Array(window.width * window.height + 1)
  const ranks: number[] = []
  const covers: number[] = []
  const [ids, weights] = [channels[0], channels[ID_PAIRS]]
  const sums = new Float64Array(rankCount)
  const touched: number[] = []
  const add = (id: number, cover: number): void => {
    const rank = id < rankOf.length ? rankOf[id] : NO_RANK
    if (rank === NO_RANK) return
    if (sums[rank] === 0) touched.push(rank)
    sums[rank] += cover
  }
  const columns = placesOf(across, window.width, width)
  const rows = placesOf(down, window.height, height)
  for (let y = 0, pixel = 0; y < window.height; y++)
    for (let x = 0; x < window.width; x++, pixel++) {
      starts[pixel] = ranks.length
      // Beside the picture there is nothing.
      const [px, py] = [window.x + x - placed.x, window.y + y - placed.y]
      if (px < 0 || py < 0 || px >= placed.width || py >= placed.height) continue
      for (let k = y * down.taps; k < (y + 1) * down.taps; k++) {
        const share = down.weights[k]
        if (share === 0) continue
        const row = rows[k] * width
        for (let j = x * across.taps; j < (x + 1) * across.taps; j++) {
          if (across.weights[j] === 0) continue
          const i = row + columns[j]
          const weight = (share * across.weights[j]) / 255
          add(ids[i], weight * weights[i])
          // Most pixels are one surface's alone; the largest share comes first.
          if (weights[i] < 255)
            for (let c = 1; c < ID_PAIRS && channels[ID_PAIRS + c][i] > 0; c++)
              add(channels[c][i], weight * channels[ID_PAIRS + c][i])
        }
      }
      for (const rank of touched) {
        ranks.push(rank)
        covers.push(sums[rank])
        sums[rank] = 0
      }
      touched.length = 0
    }
  starts[starts.length - 1] = ranks.length
  return { starts, ranks: Uint16Array.from(ranks), covers: Float32Array.from(covers) }
}

/** The source place of every tap: places beyond the border repeat it. */
function placesOf(
  { starts, taps }: { readonly starts: Int32Array; readonly taps: number },
  count: number,
  pixels: number,
): Int32Array {
  const places = new Int32Array(count * taps)
  for (let i = 0; i < count; i++)
    for (let k = 0; k < taps; k++) places[i * taps + k] = Math.min(pixels - 1, Math.max(0, starts[i] + k))
  return places
}

/** How much of a pixel parts cover whose places are not before one. 0…1. */
export function coveredFrom({ starts, ranks, covers }: PartCover, pixel: number, rank: number): number {
  let sum = 0
  for (let i = starts[pixel]; i < starts[pixel + 1]; i++) if (ranks[i] >= rank) sum += covers[i]
  return sum > 1 ? 1 : sum
}
