import { expect, it } from 'vitest'
import { throughTable } from '../formats/cube-table'
import { tableOfEffects } from './table-of-effects'
import { effect, pictureMask } from './testing/random-sheet'

const through = (effects: Parameters<typeof tableOfEffects>[1], rgb: readonly number[]): number[] => {
  const made = tableOfEffects('t', effects, () => null)
  if (!made) throw new Error('no table was made')
  const out = Float64Array.from(rgb)
  throughTable(made.table, out)
  return [...out]
}

it('makes one table of effects that follow each other, as far as their opacity goes', () => {
  const list = [effect('invert', {}), effect('levels', { low: 0.5 })]
  through(list, [0.25, 0.5, 1]).forEach((v, c) => expect(v).toBeCloseTo([0.875, 0.75, 0.5][c], 5))
  const half = [effect('invert', {}, { opacity: 0.5 })]
  through(half, [0.25, 0.5, 1]).forEach((v) => expect(v).toBeCloseTo(0.5, 5))
})
it('names those it cannot hold, and passes over what is switched off', () => {
  const blur = effect('gaussianBlur', { sigma: 4 })
  const masked = effect('invert', {}, { mask: pictureMask('p') })
  const off = effect('posterise', { steps: 2 }, { enabled: false })
  const made = tableOfEffects('t', [blur, effect('invert', {}), masked, off], () => null)
  expect(made?.left).toEqual([blur, masked])
  expect(tableOfEffects('t', [blur, off], () => null)).toBeNull()
})
it('counts a table within it', () => {
  const graded = [effect('gradingTable', { table: 'inkAndCream', strength: 1 })]
  const [r, g, b] = through(graded, [1, 0, 0])
  // Ink and cream knows hardly any colour.
  expect(Math.max(r, g, b) - Math.min(r, g, b)).toBeLessThan(0.2)
})
