import { expect, it } from 'vitest'
import { seededRandom } from '../math/sampling'
import { weldCorners } from './weld'

it('numbers corners by their places as a map would, through every growth of its table', () => {
  const random = seededRandom(3)
  for (const [corners, places] of [
    [10, 3],
    [600, 599],
    [30_000, 5000],
    [30_000, 1e9],
  ]) {
    const given = Float32Array.from({ length: 3 * corners }, () => Math.floor(random() * Math.cbrt(places)))
    const known = new Map<string, number>()
    const expected = Array.from({ length: corners }, (_, c) => {
      const key = given.subarray(3 * c, 3 * c + 3).join()
      if (!known.has(key)) known.set(key, known.size)
      return known.get(key)
    })
    const { positions, numbers } = weldCorners(given.slice())
    expect([...numbers]).toEqual(expected)
    expect(positions).toHaveLength(3 * known.size)
    for (let c = 0; c < corners; c += 97)
      expect(positions.slice(3 * numbers[c], 3 * numbers[c] + 3)).toEqual(given.slice(3 * c, 3 * c + 3))
  }
})

it('takes −0 for 0, and what is no number for nothing else', () => {
  const { numbers } = weldCorners(Float32Array.of(0, 1, 2, -0, 1, 2, NaN, 0, 0, NaN, 0, 0))
  expect([...numbers]).toEqual([0, 0, 1, 2])
})
