import { expect, it } from 'vitest'
import { proofScale } from './use-proof'

it('is what is seen, never finer than the sheet, and never nothing', () => {
  expect(proofScale(0.664)).toBe(0.664)
  expect(proofScale(2)).toBe(1)
  expect(proofScale(0.001)).toBe(1 / 16)
})
