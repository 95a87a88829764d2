import { describe, expect, it } from 'vitest'
import { distanceBetween } from '../testing/shapes'
import type { Affine, Copies, Placement } from './placement'
import {
  AT_ORIGIN,
  copyMatrices,
  IDENTITY,
  mapNormal,
  mapPoint,
  multiply,
  normalMatrix,
  placementMatrix,
} from './placement'

const at = (matrix: Affine, x: number, y: number, z: number): number[] => {
  const out = [0, 0, 0]
  mapPoint(matrix, x, y, z, out)
  return out
}
const near = (a: readonly number[], b: readonly number[]) => expect(distanceBetween(a, b)).toBeLessThan(1e-9)
const copiesOf = (copies: Copies, placement: Placement = AT_ORIGIN) =>
  copyMatrices(placement, copies).map((m) => at(m, 0, 0, 0))

describe('placement', () => {
  it('scales, then rolls, tilts and turns, then moves', () => {
    const placement: Placement = { position: [10, 0, 0], rotationDeg: [0, 90, 0], scale: [2, 3, 4] }
    // X goes to −Z by a quarter turn about Y.
    near(at(placementMatrix(placement), 1, 1, 0), [10, 3, -2])
    near(at(placementMatrix({ ...AT_ORIGIN, rotationDeg: [90, 0, 0] }), 0, 1, 0), [0, 0, 1])
    near(at(placementMatrix({ ...AT_ORIGIN, rotationDeg: [0, 0, 90] }), 1, 0, 0), [0, 1, 0])
    // Ry · Rx · Rz: a roll comes first, so that it is about the model's own axis.
    near(at(placementMatrix({ ...AT_ORIGIN, rotationDeg: [0, 90, 90] }), 1, 0, 0), [0, 1, 0])
  })
  it('is the identity at the origin, and multiplies as maps follow each other', () => {
    expect(placementMatrix(AT_ORIGIN).map((v) => v + 0)).toEqual([...IDENTITY])
    const a = placementMatrix({ position: [1, 2, 3], rotationDeg: [10, 20, 30], scale: [1, 2, 1] })
    const b = placementMatrix({ position: [-4, 0, 1], rotationDeg: [50, -20, 5], scale: [3, 1, 1] })
    near(at(multiply(a, b), 1, 2, 3), at(a, ...(at(b, 1, 2, 3) as [number, number, number])))
  })
  it('keeps normals at right angles to their faces under an uneven scale', () => {
    const matrix = placementMatrix({ position: [0, 0, 0], rotationDeg: [15, 40, -70], scale: [1, 5, 0.2] })
    // The plane through (1, 0, 0), (0, 1, 0) and (0, 0, 1).
    const [a, b, c] = [at(matrix, 1, 0, 0), at(matrix, 0, 1, 0), at(matrix, 0, 0, 1)]
    const out = [0, 0, 0]
    const s = 1 / Math.sqrt(3)
    mapNormal(normalMatrix(matrix), s, s, s, out)
    for (const p of [b, c]) {
      const side = p.map((v, i) => v - a[i])
      expect(side.reduce((sum, v, i) => sum + v * out[i], 0)).toBeCloseTo(0, 9)
    }
    expect(Math.hypot(...out)).toBeCloseTo(1, 9)
  })
})

describe('copies', () => {
  const moved: Placement = { ...AT_ORIGIN, position: [1, 2, 3] }
  it('stand in a row, the first at the model’s own place', () => {
    expect(copiesOf({ kind: 'row', count: 3, step: [2, 0, -1] }, moved)).toEqual([
      [1, 2, 3],
      [3, 2, 2],
      [5, 2, 1],
    ])
  })
  it('stand on a grid', () => {
    const places = copiesOf({ kind: 'grid', columns: 2, rows: 2, stepX: 5, stepZ: 7 }, moved)
    expect(places).toEqual([
      [1, 2, 3],
      [6, 2, 3],
      [1, 2, 10],
      [6, 2, 10],
    ])
  })
  it('stand in a ring at equal distances, and face outwards where they turn along', () => {
    const ring: Copies = { kind: 'ring', count: 6, radius: 2, sweepDeg: 360, turning: true }
    const places = copiesOf(ring, moved)
    expect(places).toHaveLength(6)
    for (const [i, place] of places.entries()) {
      expect(distanceBetween(place, [1, 2, 3])).toBeCloseTo(2, 9)
      expect(distanceBetween(place, places[(i + 1) % 6])).toBeCloseTo(2, 9)
    }
    // The copy's own +Z points away from the middle.
    for (const m of copyMatrices(moved, ring)) {
      const [middle, ahead] = [at(m, 0, 0, 0), at(m, 0, 0, 1)]
      expect(distanceBetween(ahead, [1, 2, 3])).toBeCloseTo(distanceBetween(middle, [1, 2, 3]) + 1, 9)
    }
  })
  it('of half a ring stand at both of its ends', () => {
    const places = copiesOf({ kind: 'ring', count: 3, radius: 1, sweepDeg: 180, turning: false })
    near(places[0], [0, 0, 1])
    near(places[1], [1, 0, 0])
    near(places[2], [0, 0, -1])
  })
})
