import { TILE } from './tile-form'

/** A gaussian by way of means of d × d pixels: see kernel/picture/blur.ts. */
export interface WideBlur {
  /** Pixels of a cell on each side: a power of two, 1 to 128. */
  readonly d: number
  /** Cells to each side that the filter over them reads. */
  readonly radius: number
  /** 2 · radius + 1 weights of that filter; their sum is 1. */
  readonly weights: Float32Array
}

/** Up to this width, in pixels, the pixels themselves are filtered. */
const FINE = 4
/** How far the filter over cells reaches, in its own standard deviations: what is left out is under 0.2 %. */
const REACH = 3.2

/**
 * @param sigmaPx standard deviation in pixels of the view, above 0.
 * The mean of d pixels has a variance of (d² − 1) / 12, the straight lines between cells one of d² / 6 less what their
 * places at the middles of pixels take off, 1 / 6: what is left is the filter's.
 */
export function wideBlur(sigmaPx: number): WideBlur {
  const d = sigmaPx <= FINE ? 1 : Math.min(TILE, 2 ** Math.max(1, Math.round(Math.log2(sigmaPx / FINE))))
  const taken = d === 1 ? 0 : (d * d - 1) / 12 + (d * d - 1) / 6
  const sigma = Math.sqrt(Math.max(1e-6, sigmaPx * sigmaPx - taken)) / d
  const radius = Math.max(1, Math.ceil(REACH * sigma))
  const weights = Float32Array.from({ length: 2 * radius + 1 }, (_, k) =>
    Math.exp(-((k - radius) ** 2) / (2 * sigma * sigma)),
  )
  const sum = weights.reduce((a, b) => a + b, 0)
  return { d, radius, weights: weights.map((w) => w / sum) }
}
