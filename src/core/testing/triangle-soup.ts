import { seededRandom } from '../math/sampling'

/** Random triangles of many sizes, some without area, some twice, some flat on an axis: 9 numbers each. */
export function triangleSoup(count: number, seed: number, size: number): Float32Array {
  const random = seededRandom(seed)
  const out = new Float32Array(9 * count)
  for (let t = 0; t < count; t++) {
    const centre = [random() - 0.5, random() - 0.5, random() - 0.5]
    const spread = 10 ** (-3 * random())
    for (let k = 0; k < 9; k++) out[9 * t + k] = (centre[k % 3] + (random() - 0.5) * spread) * size
    if (t % 17 === 0) out.copyWithin(9 * t + 6, 9 * t, 9 * t + 3)
    if (t % 13 === 5) for (const k of [1, 4, 7]) out[9 * t + k] = Math.fround(0.25 * size)
    if (t % 29 === 7) out.copyWithin(9 * t, 9 * (t - 1), 9 * t)
  }
  return out
}
