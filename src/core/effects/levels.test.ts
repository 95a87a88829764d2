import { expect, it } from 'vitest'
import { paramDefaults, type ParamValues } from '../params'
import { levels } from './levels'

const CONTEXT = { width: 1, height: 1, scale: 1 }
const run = (rgba: readonly number[], changes: ParamValues = {}) => {
  const pixels = Float32Array.from(rgba)
  levels.apply(pixels, levels.schema.parse({ ...paramDefaults(levels.schema), ...changes }), CONTEXT as never)
  return [...pixels].map((v) => Number(v.toFixed(6)))
}

it('changes nothing at its defaults', () => {
  expect(run([0.1, 0.5, 0.9, 0.4])).toEqual([0.1, 0.5, 0.9, 0.4])
})

it('maps black to 0, white to 1 and what is between evenly; alpha is left alone', () => {
  expect(run([0.2, 0.5, 0.8, 0.2], { black: 0.2, white: 0.8 })).toEqual([0, 0.5, 1, 0.2])
  expect(run([0.1, 0.9, 0.35, 1], { black: 0.2, white: 0.8 })).toEqual([0, 1, 0.25, 1])
})

it('bends by gamma: the middle of gamma 2 is the root', () => {
  expect(run([0.25, 0.81, 1, 1], { gamma: 2 })).toEqual([0.5, 0.9, 1, 1])
  expect(run([0.5, 0, 1, 1], { gamma: 0.5 })).toEqual([0.25, 0, 1, 1])
})

it('fits the result between two values, which may be turned round', () => {
  expect(run([0, 0.5, 1, 1], { low: 0.2, high: 0.6 })).toEqual([0.2, 0.4, 0.6, 1])
  expect(run([0, 0.25, 1, 1], { low: 1, high: 0 })).toEqual([1, 0.75, 0, 1])
})

it('cuts at a black above its white instead of dividing by nothing', () => {
  expect(run([0.4, 0.6, 0.5, 1], { black: 0.5, white: 0.3 })).toEqual([0, 1, 0, 1])
})
