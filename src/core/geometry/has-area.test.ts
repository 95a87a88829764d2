import { expect, it } from 'vitest'
import type { Vec3 } from '../math/vec3'
import { cube, meshOf } from '../testing/shapes'
import { hasArea } from './has-area'

const line: Vec3[] = [
  [0, 0, 0],
  [1, 1, 0],
  [2, 2, 0],
]
const point: Vec3[] = [
  [3, 0, 0],
  [3, 0, 0],
  [3, 0, 0],
]
const sliver: Vec3[] = [
  [0, 0, 0],
  [1, 0, 0],
  [1, 1e-6, 0],
]

it('is there as soon as one polygon has some', () => {
  expect(hasArea(cube())).toBe(true)
  expect(hasArea(meshOf([line, point]))).toBe(false)
  expect(hasArea(meshOf([line, sliver]))).toBe(true)
})
