import { describe, expect, it } from 'vitest'
import { validateMesh } from '../geometry/polygon-mesh'
import { CORNERS, FOLDS, paperMesh, type PaperForm, type PaperHold } from './paper-form'

const FLAT: PaperForm = {
  folds: 'none',
  foldDeg: 0,
  creases: 0,
  waves: 0,
  curl: 0,
  curlAcross: false,
  corner: 'none',
  cornerRoll: 0,
  seed: 1,
}
const HOLD: PaperHold = { relief: 1, gap: 0.002 }
const A = 1 / Math.SQRT2

/** Length of a path over the surface from one side to the other, at a share of the other axis. */
function pathLength(form: PaperForm, along: 'u' | 'v', at: number): number {
  const { place } = paperMesh(form, A, HOLD, 8)
  const steps = 4000
  let sum = 0
  let [px, py, pz] = along === 'u' ? place(0, at) : place(at, 0)
  for (let i = 1; i <= steps; i++) {
    const t = i / steps
    const [x, y, z] = along === 'u' ? place(t, at) : place(at, t)
    sum += Math.hypot(x - px, y - py, z - pz)
    ;[px, py, pz] = [x, y, z]
  }
  return sum
}

describe('a sheet of paper', () => {
  it('is a flat rectangle where nothing was done to it, the gap off what it lies on', () => {
    const { mesh, place } = paperMesh(FLAT, A, HOLD, 20)
    for (let i = 2; i < mesh.positions.length; i += 3) expect(mesh.positions[i]).toBeCloseTo(0.002, 9)
    expect(place(0, 0).slice(0, 2)).toEqual([-A / 2, 0.5])
    expect(place(1, 1).slice(0, 2)).toEqual([A / 2, -0.5])
    for (let c = 0; c < mesh.cornerNormals.length; c += 3) expect(mesh.cornerNormals[c + 2]).toBe(1)
  })
  it('is a sound mesh whatever was done to it', () => {
    for (const folds of FOLDS)
      for (const corner of CORNERS) {
        const form = { ...FLAT, folds, corner, foldDeg: 20, creases: 1, waves: 1, curl: 0.5, cornerRoll: 0.6 }
        expect(() => validateMesh(paperMesh(form, 1.5, HOLD, 24).mesh)).not.toThrow()
      }
  })
  it('faces the viewer, its picture the right way up', () => {
    const { mesh } = paperMesh({ ...FLAT, creases: 1, waves: 1, folds: 'quarters', foldDeg: 12 }, A, HOLD, 60)
    let [up, right] = [0, 0]
    for (let c = 0; c < mesh.cornerVertices.length; c++) {
      expect(mesh.cornerNormals[3 * c + 2]).toBeGreaterThan(0)
      const v = 3 * mesh.cornerVertices[c]
      const [u, t] = [mesh.cornerUvs?.[2 * c] ?? NaN, mesh.cornerUvs?.[2 * c + 1] ?? NaN]
      right = Math.max(right, Math.abs(u - (mesh.positions[v] / A + 0.5)))
      up = Math.max(up, Math.abs(t - (mesh.positions[v + 1] + 0.5)))
    }
    expect([up, right]).toEqual([0, 0].map(() => expect.closeTo(0, 5) as number))
  })
  it('keeps its length when it is curled or its corner is rolled: paper does not stretch', () => {
    expect(pathLength({ ...FLAT, curl: 0.7 }, 'v', 0.5)).toBeCloseTo(1, 4)
    expect(pathLength({ ...FLAT, curl: -0.7, curlAcross: true }, 'u', 0.3)).toBeCloseTo(A, 4)
    const rolled = { ...FLAT, corner: 'lower right', cornerRoll: 0.5 } as const
    expect(pathLength(rolled, 'u', 0.98)).toBeCloseTo(A, 3)
    expect(pathLength(rolled, 'v', 0.98)).toBeCloseTo(1, 3)
  })
  it('bends its sides towards the viewer by a positive curl, and back by a negative one', () => {
    const z = (curl: number, v: number) => paperMesh({ ...FLAT, curl }, A, HOLD, 40).place(0.5, v)[2]
    expect(z(0.5, 0) - z(0.5, 0.5)).toBeGreaterThan(0.05)
    expect(z(-0.5, 0) - z(-0.5, 0.5)).toBeLessThan(-0.05)
  })
  it('rises at a fold by as much as the fold stands open', () => {
    const form = { ...FLAT, folds: 'half', foldDeg: 20 } as const
    const { place } = paperMesh(form, A, HOLD, 40)
    const slope = (place(0.5, 0.49)[2] - place(0.5, 0.46)[2]) / 0.03
    expect(Math.abs(slope)).toBeGreaterThan(0.6 * Math.tan((10 * Math.PI) / 180))
    expect(Math.abs(slope)).toBeLessThan(1.02 * Math.tan((10 * Math.PI) / 180))
  })
  it('is the same for a seed, another for another', () => {
    const of = (seed: number) => paperMesh({ ...FLAT, creases: 0.6, seed }, A, HOLD, 30).mesh.positions
    expect(of(4)).toEqual(of(4))
    expect(of(4)).not.toEqual(of(5))
  })
})
