import { expect, it } from 'vitest'
import { paramDefaults, type ParamValues } from '../params'
import { tint } from './tint'

const run = (colour: readonly number[], changes: ParamValues) => {
  const work = tint.work(tint.schema.parse({ ...paramDefaults(tint.schema), ...changes }))
  if (work.by !== 'colour') throw new Error('a tint is of whole colours')
  const rgb = Float64Array.from(colour)
  work.change(rgb, [])
  return [...rgb].map((v) => Number(v.toFixed(5)))
}
const TWO = { dark: '#000000', light: '#ff0000' }

it('gives black the dark colour, white the light one, and grey the middle of both', () => {
  expect(run([0, 0, 0], { dark: '#336699', light: '#ffffff' })).toEqual([0.2, 0.4, 0.6])
  expect(run([1, 1, 1], TWO)).toEqual([1, 0, 0])
  expect(run([0.5, 0.5, 0.5], TWO)).toEqual([0.5, 0, 0])
})

it('takes tone from Rec. 709 luma, whose weights sum to one', () => {
  expect(run([1, 0, 0], TWO)[0]).toBeCloseTo(0.2126, 5)
  expect(run([0, 1, 0], TWO)[0]).toBeCloseTo(0.7152, 5)
  expect(run([0, 0, 1], TWO)[0]).toBeCloseTo(0.0722, 5)
})

it('goes as far as its amount', () => {
  expect(run([0.5, 0.5, 0.5], { ...TWO, amount: 0 })).toEqual([0.5, 0.5, 0.5])
  expect(run([0.5, 0.5, 0.5], { ...TWO, amount: 0.5 })).toEqual([0.5, 0.25, 0.25])
})
