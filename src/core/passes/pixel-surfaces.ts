import { NO_SURFACE } from './id'

/** Surfaces told apart in a pixel while it is summed; what still others cover goes to the last of them. */
const ROOM = 16

/** How much of each pixel of a tile which surfaces cover. */
export class PixelSurfaces {
  private readonly counts: Uint8Array
  private readonly surfaces: Uint16Array
  private readonly shares: Float64Array

  constructor(private readonly pixels: number) {
    this.counts = new Uint8Array(pixels)
    this.surfaces = new Uint16Array(ROOM * pixels)
    this.shares = new Float64Array(ROOM * pixels)
  }

  add(pixel: number, surface: number, share: number): void {
    const { counts, surfaces, shares } = this
    const first = ROOM * pixel
    const end = first + counts[pixel]
    let at = first
    while (at < end && surfaces[at] !== surface) at++
    if (at === first + ROOM) at--
    else if (at === end) {
      counts[pixel]++
      surfaces[at] = surface
    }
    shares[at] += share
  }

  /**
   * The surfaces of each pixel from the largest on, the lower number first where two are as large.
   * @returns `pairs` planes of numbers, {@link NO_SURFACE} where there is none, then as many of shares; what further ones
   *   cover counts with the largest.
   */
  ranked(pairs: number): Float32Array[] {
    const { pixels, counts, surfaces, shares } = this
    const ids = Array.from({ length: pairs }, () => new Float32Array(pixels).fill(NO_SURFACE))
    const weights = Array.from({ length: pairs }, () => new Float32Array(pixels))
    const order: number[] = []
    for (let p = 0; p < pixels; p++) {
      order.length = 0
      for (let at = ROOM * p; at < ROOM * p + counts[p]; at++) order.push(at)
      if (order.length > 1) order.sort((a, b) => shares[b] - shares[a] || surfaces[a] - surfaces[b])
      let rest = 0
      for (let k = pairs; k < order.length; k++) rest += shares[order[k]]
      for (let k = 0; k < Math.min(pairs, order.length); k++) {
        ids[k][p] = surfaces[order[k]]
        weights[k][p] = shares[order[k]] + (k === 0 ? rest : 0)
      }
    }
    return [...ids, ...weights]
  }
}
