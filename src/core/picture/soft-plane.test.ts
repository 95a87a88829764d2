import { expect, it } from 'vitest'
import { softAt, softPlane } from './soft-plane'

const SIDE = 96
/** The left half is 1. */
const halfPlane = softPlane(
  Float32Array.from({ length: SIDE * SIDE }, (_, i) => Number(i % SIDE < SIDE / 2)),
  SIDE,
  SIDE,
)
/** Integral of the normal distribution: Abramowitz and Stegun 7.1.26. */
function normal(x: number): number {
  const t = 1 / (1 + 0.3275911 * (Math.abs(x) / Math.SQRT2))
  const poly =
    t * (0.254829592 + t * (-0.284496736 + t * (1.421413741 + t * (-1.453152027 + t * 1.061405429))))
  const erf = 1 - poly * Math.exp(-(x * x) / 2)
  return 0.5 * (1 + (x < 0 ? -erf : erf))
}

it('shows its values where it is not blurred', () => {
  for (let x = 0; x < SIDE; x++) expect(softAt(halfPlane, x + 0.5, 40.5, 0)).toBe(x < SIDE / 2 ? 1 : 0)
})

it.each([1, 2.3, 4, 7.5])('blurs an edge by a deviation of %f as a Gaussian does, nearly', (sigma) => {
  for (let d = -12; d <= 12; d += 0.5) {
    const wanted = normal(-d / sigma)
    expect(Math.abs(softAt(halfPlane, SIDE / 2 + d, SIDE / 2, sigma) - wanted)).toBeLessThan(0.045)
  }
})

it('changes little by little with the blur', () => {
  let before = softAt(halfPlane, 50, 48, 0)
  for (let sigma = 0.02; sigma < 12; sigma += 0.02) {
    const now = softAt(halfPlane, 50, 48, sigma)
    expect(Math.abs(now - before)).toBeLessThan(0.03)
    before = now
  }
})

it('is nothing beyond its border', () => {
  for (const place of [-40, SIDE + 40]) expect(softAt(halfPlane, place, place, 1)).toBe(0)
})
