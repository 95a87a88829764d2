import { findTexture } from '../sheet/contents/textures/registry'
import type { BrushParams } from './brush'
import { OWN_TIP_SIDE, readOwnTip } from './own-tip'
import { findTip, TIPS } from './tips/registry'

/** Planes that the kernel presses: numbers 0…1, row by row. */

/** Pixels of a tip's largest plane; each next one has half as many. */
export const TIP_SIDE = 256
/** Pixels of a grain's plane. */
export const GRAIN_SIDE = 512

export interface TipPlane {
  readonly side: number
  /** (side + 2)² numbers: the tip with a border of nothing. */
  readonly plane: Float32Array<ArrayBuffer>
}

/** A tip, one of one's own among them, from its largest plane to one of 2 pixels: each the mean of 2 × 2 of the one before. */
export function tipPlanes(kind: string, seed: number): TipPlane[] {
  const own = readOwnTip(kind)
  if (own) return planesOf(own, OWN_TIP_SIDE)
  const tip = findTip(kind) ?? TIPS[0]
  const values = new Float32Array(TIP_SIDE * TIP_SIDE)
  for (let y = 0, i = 0; y < TIP_SIDE; y++)
    for (let x = 0; x < TIP_SIDE; x++, i++) {
      const [u, v] = [(2 * x + 1) / TIP_SIDE - 1, (2 * y + 1) / TIP_SIDE - 1]
      values[i] = Math.min(1, Math.max(0, tip.touches(u, v, seed, 1 / TIP_SIDE)))
    }
  return planesOf(values, TIP_SIDE)
}

/** Planes of a square of numbers. @param side a power of two. */
export function planesOf(values: Float32Array, side: number): TipPlane[] {
  const planes: TipPlane[] = []
  let own = values
  for (let n = side; ; n /= 2) {
    planes.push({ side: n, plane: bordered(own, n) })
    if (n <= 2) return planes
    const half = new Float32Array((n * n) / 4)
    for (let y = 0; y < n / 2; y++)
      for (let x = 0; x < n / 2; x++) {
        const at = 2 * y * n + 2 * x
        half[(y * n) / 2 + x] = (own[at] + own[at + 1] + own[at + n] + own[at + n + 1]) / 4
      }
    own = half
  }
}

function bordered(values: Float32Array, side: number): Float32Array<ArrayBuffer> {
  const plane = new Float32Array((side + 2) ** 2)
  for (let y = 0; y < side; y++)
    plane.set(values.subarray(y * side, (y + 1) * side), (y + 1) * (side + 2) + 1)
  return plane
}

/** Of a tip that is pressed with a radius, the plane that has about as many pixels as it covers. Sheet pixels. */
export function planeFor(planes: readonly TipPlane[], radius: number): TipPlane {
  const wanted = 2 * radius
  let found = planes[0]
  for (const plane of planes) if (plane.side >= wanted) found = plane
  return found
}

const STYLES: Readonly<
  Record<Exclude<BrushParams['grain'], 'none'>, readonly [style: string, gain: number]>
> = {
  paper: ['paperFibre', 2.2],
  chalk: ['plaster', 2.6],
  canvas: ['canvas', 2.2],
  plaster: ['plaster', 1.6],
}

/**
 * A grain, which repeats: (side + 1)² numbers, its first row and column again at its end. How much is touched where the tip is
 * pressed: what stands up first.
 */
export function grainPlane(grain: Exclude<BrushParams['grain'], 'none'>): Float32Array<ArrayBuffer> {
  const [style, gain] = STYLES[grain]
  const texture = findTexture(style)
  const n = GRAIN_SIDE
  const plane = new Float32Array((n + 1) ** 2)
  for (let y = 0; y < n; y++)
    for (let x = 0; x < n; x++) {
      const tone = texture?.tone({ x: (x + 0.5) / n, y: (y + 0.5) / n, pixels: n, seed: 3 }) ?? 0.5
      plane[y * (n + 1) + x] = Math.min(1, Math.max(0, 0.5 + gain * (tone - 0.5)))
    }
  for (let y = 0; y < n; y++) plane[y * (n + 1) + n] = plane[y * (n + 1)]
  plane.copyWithin(n * (n + 1), 0, n + 1)
  return plane
}
