import { describe, expect, it } from 'vitest'
import { cameraBasis, projectPoint, type Camera } from '../scene/camera'
import { LinePlaces } from './line-places'

const FRAME = { width: 900, height: 600 }
const camera = (degrees: number, changes: Partial<Camera> = {}): Camera => ({
  eye: [6 * Math.sin((degrees * Math.PI) / 180), 2, 6 * Math.cos((degrees * Math.PI) / 180)],
  target: [0.2, 0.1, 0],
  fovDeg: 32,
  orthoHeight: null,
  shift: [0.1, -0.05],
  ...changes,
})
/** A slanted line of the world, so many points. */
const COUNT = 200
const worldAt = (i: number) => [-1 + (2 * i) / COUNT, 0.4 - (0.7 * i) / COUNT, (0.8 * i) / COUNT] as const

/** The line as it is seen. */
function seenFrom(from: Camera) {
  const basis = cameraBasis(from, FRAME)
  const out = new Float64Array(3)
  const [xs, ys, depths] = [0, 1, 2].map(() => new Float32Array(COUNT))
  for (let i = 0; i < COUNT; i++) {
    projectPoint(basis, FRAME, ...worldAt(i), out)
    xs[i] = out[0] / FRAME.height
    ys[i] = out[1] / FRAME.height
    depths[i] = out[2]
  }
  return { basis, line: { xs, ys, depths, count: COUNT } }
}

function noisesFrom(from: Camera, wavelength = 0.06): number[] {
  const { basis, line } = seenFrom(from)
  const places = new LinePlaces()
  places.load(line, 1.5, basis)
  return Array.from({ length: COUNT }, (_, i) => {
    places.noise(i, wavelength, 7)
    return [...places.found]
  }).flat()
}
const mean = (values: readonly number[]) => values.reduce((sum, v) => sum + v, 0) / values.length
const apart = (a: readonly number[], b: readonly number[]) => mean(a.map((v, i) => Math.abs(v - b[i])))
/** Middle lines that the noise crosses in a picture height of the line. */
function crossings(from: Camera, wavelength: number): number {
  const all = noisesFrom(from, wavelength).filter((_, i) => i % 2 === 0)
  const { line } = seenFrom(from)
  let length = 0
  for (let i = 1; i < COUNT; i++)
    length += Math.hypot(line.xs[i] - line.xs[i - 1], line.ys[i] - line.ys[i - 1])
  return all.filter((v, i) => i > 0 && v * all[i - 1] < 0).length / length
}

describe('LinePlaces', () => {
  it('finds where in the world a line lies, whatever the projection', () => {
    for (const from of [
      camera(20),
      camera(-50, { rollDeg: 12 }),
      camera(35, { orthoHeight: 3.1 }),
      camera(10, { keepVerticals: true }),
    ]) {
      const { basis, line } = seenFrom(from)
      const places = new LinePlaces()
      places.load(line, 1.5, basis)
      for (let i = 0; i < COUNT; i++)
        worldAt(i).forEach((number, axis) => expect(places.at(i)[axis]).toBeCloseTo(number, 4))
    }
  })
  it('stays where it is while the subject turns: little changes in a step, all of it over many', () => {
    const still = noisesFrom(camera(0))
    const step = apart(still, noisesFrom(camera(3)))
    expect(step).toBeLessThan(0.06)
    expect(apart(still, noisesFrom(camera(1)))).toBeLessThan(step)
    // Somewhere else altogether it is other noise: the bound above tells something.
    const elsewhere = noisesFrom(camera(0), 0.031)
    expect(apart(still, elsewhere)).toBeGreaterThan(0.25)
  })
  it('does not jump where a size of the lattice gives way to the next', () => {
    let last = noisesFrom(camera(0, { fovDeg: 20 }))
    for (let fovDeg = 20.5; fovDeg < 60; fovDeg += 0.5) {
      const now = noisesFrom(camera(0, { fovDeg }))
      expect(apart(last, now)).toBeLessThan(0.08)
      last = now
    }
  })
  it('is as long in the picture as is asked, near and far', () => {
    for (const fovDeg of [20, 40, 70]) {
      const [fine, coarse] = [0.02, 0.08].map((length) => crossings(camera(0, { fovDeg }), length))
      // Once or less in a wavelength, more than once in four.
      expect(fine * 0.02).toBeGreaterThan(0.25)
      expect(fine * 0.02).toBeLessThan(1.1)
      expect(coarse).toBeLessThan(fine)
    }
  })
  it('stays within its bounds and is even in the mean', () => {
    const all = noisesFrom(camera(0), 0.005)
    expect(Math.max(...all.map(Math.abs))).toBeLessThanOrEqual(1)
    expect(Math.abs(mean(all))).toBeLessThan(0.1)
    expect(Math.sqrt(mean(all.map((v) => v * v)))).toBeGreaterThan(0.3)
  })
})
