import { describe, expect, it } from 'vitest'
import { z } from 'zod'
import { InvalidValueError } from './errors'
import {
  choiceParam,
  colourParam,
  grouped,
  numberParam,
  paramControls,
  paramDefaults,
  parseParams,
  toggleParam,
} from './params'

const schema = z.object({
  reach: numberParam({
    label: 'Reach',
    unit: '%D',
    min: 0.5,
    max: 10,
    step: 0.5,
    default: 2,
    logarithmic: true,
  }),
  ...grouped('More', {
    tint: colourParam({ label: 'Tint', default: '#102030' }),
    invert: toggleParam({ label: 'Invert', default: false }),
  }),
  edges: choiceParam({ label: 'Edges', options: { smooth: 'Smooth', hard: 'Hard' }, default: 'hard' }),
})

it('tells a control for every parameter, in order, with its group', () => {
  const controls = paramControls(schema)
  expect(controls.map(({ name, control, group }) => [name, control, group])).toEqual([
    ['reach', 'number', null],
    ['tint', 'colour', 'More'],
    ['invert', 'toggle', 'More'],
    ['edges', 'choice', null],
  ])
  expect(controls[0]).toMatchObject({ unit: '%D', min: 0.5, max: 10, step: 0.5, logarithmic: true })
  expect(controls[3]).toMatchObject({
    options: [
      { value: 'smooth', label: 'Smooth' },
      { value: 'hard', label: 'Hard' },
    ],
  })
})

it('has a default for everything, and fills in what is left out', () => {
  const defaults = { reach: 2, tint: '#102030', invert: false, edges: 'hard' }
  expect(paramDefaults(schema)).toEqual(defaults)
  expect(parseParams(schema, { reach: 4 }, 'pass')).toEqual({ ...defaults, reach: 4 })
})

describe('a value outside its rule', () => {
  it.each([
    [{ reach: -2 }, /^pass\.reach .*0\.5.*\(got -2\)$/],
    [{ reach: '2' }, /^pass\.reach .*\(got "2"\)$/],
    [{ tint: 'red' }, /^pass\.tint must look like #rrggbb \(got "red"\)$/],
    [{ invert: 1 }, /^pass\.invert .*\(got 1\)$/],
    [{ edges: 'soft' }, /^pass\.edges .*\(got "soft"\)$/],
    [{ raech: 2 }, /raech/],
    [null, /^pass /],
  ])('is named with rule and value: %j', (values, message) => {
    expect(() => parseParams(schema, values, 'pass')).toThrow(InvalidValueError)
    expect(() => parseParams(schema, values, 'pass')).toThrow(message)
  })
})

it('refuses a field that was made past these functions', () => {
  expect(() => paramControls(z.object({ bare: z.number() }))).toThrow(/bare has no control/)
})
