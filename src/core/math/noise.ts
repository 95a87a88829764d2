import { hash32 } from './sampling'

/** Seeded noise over the plane: the same at a place whatever is asked before, without tables. */

/** A number of a grid point, 0 to below 1. */
export const gridNoise = (x: number, y: number, seed: number): number =>
  hash32(Math.imul(x, 0x9e3779b1) ^ Math.imul(y, 0x85ebca6b) ^ Math.imul(seed + 1, 0xc2b2ae35)) / 0x100000000

/** Smooth between grid points, 0…1: Perlin's quintic (2002) between numbers of the four about it. */
export function smoothNoise(x: number, y: number, seed: number): number {
  const x0 = Math.floor(x)
  const y0 = Math.floor(y)
  const u = fade(x - x0)
  const v = fade(y - y0)
  const a = gridNoise(x0, y0, seed)
  const b = gridNoise(x0 + 1, y0, seed)
  const c = gridNoise(x0, y0 + 1, seed)
  const d = gridNoise(x0 + 1, y0 + 1, seed)
  const top = a + (b - a) * u
  return top + (c + (d - c) * u - top) * v
}

const fade = (t: number): number => t * t * t * (t * (t * 6 - 15) + 10)

/** Noise of several sizes, each half as large and half as strong as the one before, 0…1 with a mean of ½. */
export function cloudNoise(x: number, y: number, seed: number, octaves: number): number {
  let sum = 0
  let most = 0
  for (let k = 0, size = 1, weight = 1; k < octaves; k++, size *= 2, weight /= 2) {
    sum += weight * smoothNoise(x * size, y * size, seed + 101 * k)
    most += weight
  }
  return sum / most
}

const around = (v: number, period: number): number => v - Math.floor(v / period) * period

/** The same as {@link smoothNoise}, but it begins again after whole numbers of grid points across and down. */
export function tiledNoise(x: number, y: number, across: number, down: number, seed: number): number {
  const x0 = Math.floor(x)
  const y0 = Math.floor(y)
  const u = fade(x - x0)
  const v = fade(y - y0)
  const [left, right] = [around(x0, across), around(x0 + 1, across)]
  const [top, below] = [around(y0, down), around(y0 + 1, down)]
  const a = gridNoise(left, top, seed)
  const b = gridNoise(right, top, seed)
  const c = gridNoise(left, below, seed)
  const d = gridNoise(right, below, seed)
  const upper = a + (b - a) * u
  return upper + (c + (d - c) * u - upper) * v
}
