import { expect, it } from 'vitest'
import { gaussianBlur } from './gaussian-blur'

const sum = (values: Float32Array) => values.reduce((a, b) => a + b, 0)

it('spreads a point by the normal distribution of its sigma, as far as three of them', () => {
  const [width, sigma] = [41, 3]
  const plane = new Float32Array(width * width)
  plane[20 * width + 20] = 1
  gaussianBlur(plane, width, width, sigma)
  expect(sum(plane)).toBeCloseTo(1, 5)
  for (const [x, y] of [
    [20, 20],
    [23, 20],
    [20, 26],
    [17, 23],
  ]) {
    const squared = (x - 20) ** 2 + (y - 20) ** 2
    const ideal = Math.exp(-squared / (2 * sigma * sigma)) / (2 * Math.PI * sigma * sigma)
    expect(plane[y * width + x] / ideal).toBeCloseTo(1, 1)
  }
  expect(plane[20 * width + 20 + 10]).toBe(0)
  // The variance along one axis is sigma squared, less what is cut off beyond three sigma.
  let variance = 0
  plane.forEach((v, i) => (variance += v * ((i % width) - 20) ** 2))
  expect(variance).toBeGreaterThan(0.94 * sigma * sigma)
  expect(variance).toBeLessThan(sigma * sigma)
})

it('leaves an even plane even up to its border, which repeats', () => {
  const plane = new Float32Array(7 * 5).fill(0.3)
  gaussianBlur(plane, 7, 5, 4)
  for (const v of plane) expect(v).toBeCloseTo(0.3, 6)
})

it('does the same along both axes', () => {
  const random = Float32Array.from({ length: 81 }, (_, i) => ((i * 7919) % 97) / 97)
  const turned = Float32Array.from(random, (_, i) => random[(i % 9) * 9 + Math.floor(i / 9)])
  gaussianBlur(random, 9, 9, 1.3)
  gaussianBlur(turned, 9, 9, 1.3)
  random.forEach((v, i) => expect(turned[(i % 9) * 9 + Math.floor(i / 9)]).toBeCloseTo(v, 5))
})

it('does nothing below a twentieth of a pixel', () => {
  const plane = Float32Array.of(0, 1, 0)
  gaussianBlur(plane, 3, 1, 0.04)
  expect([...plane]).toEqual([0, 1, 0])
})
