import { expect, it } from 'vitest'
import { proofScale } from './use-proof'

it('is at least as fine as what is seen, in steps of √2, and never finer than the sheet', () => {
  for (let zoom = 1 / 16; zoom <= 4; zoom *= 1.07) {
    const scale = proofScale(zoom)
    expect(scale).toBeGreaterThanOrEqual(Math.min(1, zoom) - 1e-9)
    expect(scale).toBeLessThanOrEqual(Math.min(1, zoom * Math.SQRT2) + 1e-9)
    const steps = 2 * Math.log2(scale)
    expect(steps).toBeCloseTo(Math.round(steps), 9)
  }
  expect(proofScale(0.5)).toBeCloseTo(0.5, 9)
  expect(proofScale(0.001)).toBe(1 / 16)
})
