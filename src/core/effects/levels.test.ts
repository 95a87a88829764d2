import { expect, it } from 'vitest'
import { paramDefaults, type ParamValues } from '../params'
import { levels } from './levels'

const run = (rgb: readonly number[], changes: ParamValues = {}) => {
  const work = levels.work(levels.schema.parse({ ...paramDefaults(levels.schema), ...changes }))
  if (work.by !== 'tone') throw new Error('levels are curves')
  return rgb.map((v) => Number(work.curve(v, 0).toFixed(6)))
}

it('changes nothing at its defaults', () => {
  expect(run([0.1, 0.5, 0.9])).toEqual([0.1, 0.5, 0.9])
})

it('maps black to 0, white to 1 and what is between evenly', () => {
  expect(run([0.2, 0.5, 0.8], { black: 0.2, white: 0.8 })).toEqual([0, 0.5, 1])
  expect(run([0.1, 0.9, 0.35], { black: 0.2, white: 0.8 })).toEqual([0, 1, 0.25])
})

it('bends by gamma: the middle of gamma 2 is the root', () => {
  expect(run([0.25, 0.81, 1], { gamma: 2 })).toEqual([0.5, 0.9, 1])
  expect(run([0.5, 0, 1], { gamma: 0.5 })).toEqual([0.25, 0, 1])
})

it('fits the result between two values, which may be turned round', () => {
  expect(run([0, 0.5, 1], { low: 0.2, high: 0.6 })).toEqual([0.2, 0.4, 0.6])
  expect(run([0, 0.25, 1], { low: 1, high: 0 })).toEqual([1, 0.75, 0])
})

it('cuts at a black above its white instead of dividing by nothing', () => {
  expect(run([0.4, 0.6, 0.5], { black: 0.5, white: 0.3 })).toEqual([0, 1, 0])
})
