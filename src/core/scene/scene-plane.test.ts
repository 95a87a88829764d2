import { describe, expect, it } from 'vitest'
import { dot, subtract } from '../math/vec3'
import type { Camera } from './camera'
import { cameraBasis, projectPoint } from './camera'
import { laidCorners, readingAxes, seenPoint, sightOn } from './scene-plane'

const FRAME = { width: 400, height: 300 }
const CAMERA: Camera = { eye: [2, 3, 6], target: [0, 0.5, 0], fovDeg: 35, orthoHeight: null }
const FLOOR = { at: [0.3, 0, 0.4], normal: [0, 1, 0] } as const
const WALL = { at: [0, 1, -1], normal: [0, 0, 1] } as const
const seen = (point: readonly [number, number, number]) => {
  const out = new Float64Array(3)
  projectPoint(cameraBasis(CAMERA, FRAME), FRAME, ...point, out)
  return { place: [out[0] / FRAME.width, out[1] / FRAME.height] as const, depth: out[2] }
}

describe('a plane of the scene', () => {
  it('has its places found again from where they are seen, and how far away', () => {
    const { place, depth } = seen(FLOOR.at)
    seenPoint(CAMERA, FRAME, place, depth).forEach((v, i) => expect(v).toBeCloseTo(FLOOR.at[i], 9))
  })
  it('is read upright on a wall, and from where the camera stands on a floor', () => {
    const [across, down] = readingAxes(WALL, CAMERA, FRAME)
    expect(down).toEqual([0, -1, 0].map((v) => expect.closeTo(v, 9) as number))
    expect(across[0]).toBeCloseTo(1, 9)
    const [right, near] = readingAxes(FLOOR, CAMERA, FRAME)
    const { back } = cameraBasis(CAMERA, FRAME)
    expect(dot(near, back)).toBeGreaterThan(0)
    expect(dot(right, near)).toBeCloseTo(0, 9)
    expect(near[1]).toBeCloseTo(0, 9)
  })
  it('keeps a rectangle’s corners in its plane, its middle at its place', () => {
    for (const plane of [FLOOR, WALL])
      for (const turnDeg of [0, 30, -75]) {
        const corners = laidCorners(plane, 1.2, 0.5, turnDeg, CAMERA, FRAME)
        expect(corners).not.toBeNull()
        const points = (corners ?? []).map((place) => sightOn(plane, CAMERA, FRAME, place))
        const [a, b, c, d] = points.map((point) => point ?? ([NaN, NaN, NaN] as const))
        expect(Math.hypot(...subtract(b, a))).toBeCloseTo(1.2, 6)
        expect(Math.hypot(...subtract(d, a))).toBeCloseTo(0.5, 6)
        expect(dot(subtract(b, a), subtract(d, a))).toBeCloseTo(0, 6)
        for (let i = 0; i < 3; i++) expect((a[i] + c[i]) / 2).toBeCloseTo(plane.at[i], 6)
      }
  })
  it('is met by the sight through a place where it is seen', () => {
    const met = sightOn(FLOOR, CAMERA, FRAME, seen([-0.7, 0, 1.1]).place)
    expect(met).toEqual([-0.7, 0, 1.1].map((v) => expect.closeTo(v, 9) as number))
    expect(sightOn(FLOOR, { ...CAMERA, eye: [0, 3, 6], target: [0, 9, 0] }, FRAME, [0.5, 0.2])).toBeNull()
  })
  it('has no place in the picture behind the eye', () => {
    expect(laidCorners({ at: [2, 0, 6.5], normal: [0, 1, 0] }, 4, 4, 0, CAMERA, FRAME)).toBeNull()
  })
})
