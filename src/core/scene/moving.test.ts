import { describe, expect, it } from 'vitest'
import { distanceBetween, toScreen } from '../testing/shapes'
import { length, subtract } from '../math/vec3'
import type { Camera, Frame, PointSource } from './camera'
import { anglesOf, boxCorners, cameraBasis, framePoints, plainLens, projectPoint } from './camera'
import type { CameraMove } from './camera-move'
import { eased, EASINGS, moveAt } from './camera-move'
import { PICTURE_SIZES, sizeInPixels, sizeOf } from './picture-size'
import { approach, sightLine, slide, walkRound } from './walk-camera'

const FRAME: Frame = { width: 1200, height: 800 }
const CAMERA: Camera = { ...plainLens(), eye: [3, 2, 5], target: [0.2, 0.5, -0.1] }

describe('lens', () => {
  it('keeps vertical lines vertical, and the target where it was', () => {
    const upright = { ...CAMERA, eye: [3, 6, 5] as const, keepVerticals: true }
    const basis = cameraBasis(upright, FRAME)
    const out = new Float64Array(3)
    const foot = toScreen(basis, FRAME, [1, 0, 0])
    const top = toScreen(basis, FRAME, [1, 2, 0])
    expect(foot[0]).toBeCloseTo(top[0], 6)
    projectPoint(basis, FRAME, ...upright.target, out)
    expect([out[0], out[1]].map(Math.round)).toEqual([600, 400])
    // Without it they lean.
    const leaning = cameraBasis({ ...upright, keepVerticals: false }, FRAME)
    expect(
      Math.abs(toScreen(leaning, FRAME, [1, 0, 0])[0] - toScreen(leaning, FRAME, [1, 2, 0])[0]),
    ).toBeGreaterThan(10)
  })
  it('shifts by shares of the height, and rolls clockwise', () => {
    const target = (patch: Partial<Camera>) =>
      toScreen(cameraBasis({ ...CAMERA, ...patch }, FRAME), FRAME, CAMERA.target)
        .slice(0, 2)
        .map(Math.round)
    // A lens shifted to the right shows what is further right: the target moves left.
    expect(target({ shift: [0.25, 0] })).toEqual([600 - 200, 400])
    expect(target({ shift: [0, 0.25] })).toEqual([600, 400 + 200])
    const up = cameraBasis({ ...CAMERA, rollDeg: 90 }, FRAME)
    const above = toScreen(up, FRAME, [CAMERA.target[0], CAMERA.target[1] + 0.5, CAMERA.target[2]])
    expect(above[0] - 600).toBeGreaterThan(Math.abs(above[1] - 400) * 5)
  })
})

describe('framePoints', () => {
  const box: PointSource = boxCorners({ min: [-1, 0, -2], max: [1, 3, 0.5] })
  const extent = (camera: Camera) => {
    const basis = cameraBasis(camera, FRAME)
    const xs: number[] = []
    const ys: number[] = []
    box((x, y, z) => {
      const [px, py, depth] = toScreen(basis, FRAME, [x, y, z])
      expect(camera.orthoHeight !== null || depth > 0).toBe(true)
      xs.push(px)
      ys.push(py)
    })
    return { left: Math.min(...xs), right: Math.max(...xs), top: Math.min(...ys), bottom: Math.max(...ys) }
  }
  it.each([
    [-30, 16, {}],
    [90, 0, {}],
    [0, 90, {}],
    [140, -40, {}],
    [-30, 16, { orthoHeight: 1 }],
    [20, 30, { shift: [0.2, -0.1] as const }],
    [20, 30, { rollDeg: 25 }],
  ])('fits a box exactly, seen from %i°, %i° (%o)', (azimuth, elevation, patch) => {
    const camera = framePoints(box, azimuth, elevation, FRAME, { ...plainLens(), ...patch }, 0.05)
    const { left, right, top, bottom } = extent(camera)
    // Within the margin of 5 % of each side, and touching it on one pair of sides at least.
    const slack = Math.min(
      left / FRAME.width,
      1 - right / FRAME.width,
      top / FRAME.height,
      1 - bottom / FRAME.height,
    )
    expect(slack).toBeGreaterThan(0.045)
    expect(slack).toBeLessThan(0.075)
    const [a, e] = anglesOf(subtract(camera.eye, camera.target))
    expect(e).toBeCloseTo(elevation, 1)
    if (Math.abs(elevation) < 89) expect(a).toBeCloseTo(azimuth, 3)
  })
})

describe('walking', () => {
  it('round the target keeps the distance and the horizon', () => {
    const walked = walkRound(CAMERA, 40, 15)
    expect(distanceBetween(walked.eye, walked.target)).toBeCloseTo(
      distanceBetween(CAMERA.eye, CAMERA.target),
      9,
    )
    const [a0, e0] = anglesOf(subtract(CAMERA.eye, CAMERA.target))
    const [a1, e1] = anglesOf(subtract(walked.eye, walked.target))
    expect([a1 - a0, e1 - e0].map((v) => Number(v.toFixed(6)))).toEqual([40, 15])
    // Never over the top.
    expect(anglesOf(subtract(walkRound(CAMERA, 0, 500).eye, CAMERA.target))[1]).toBeLessThan(90)
  })
  it('a slide by a share moves the target by that share of the picture', () => {
    const moved = slide(CAMERA, FRAME, 0.1, -0.2)
    const [x, y] = toScreen(cameraBasis(moved, FRAME), FRAME, CAMERA.target)
    expect([x, y].map(Math.round)).toEqual([600 - 80, 400 - 160])
  })
  it('closer and farther go by a factor, for either projection', () => {
    expect(distanceBetween(approach(CAMERA, 0.5).eye, CAMERA.target)).toBeCloseTo(
      distanceBetween(CAMERA.eye, CAMERA.target) / 2,
      9,
    )
    expect(approach({ ...CAMERA, orthoHeight: 4 }, 2).orthoHeight).toBe(8)
  })
  it('lines of sight meet the points they are of', () => {
    for (const patch of [{}, { orthoHeight: 4 }, { shift: [0.1, 0.3] as const, rollDeg: 20 }]) {
      const camera = { ...CAMERA, ...patch }
      const { origin, direction } = sightLine(camera, FRAME, 0.3, 0.8)
      const at = origin.map((v, i) => v + 3 * direction[i]) as [number, number, number]
      const [x, y] = toScreen(cameraBasis(camera, FRAME), FRAME, at)
      expect([x / FRAME.width, y / FRAME.height].map((v) => Number(v.toFixed(6)))).toEqual([0.3, 0.8])
      expect(length(direction)).toBeCloseTo(1, 9)
    }
  })
})

describe('camera moves', () => {
  const common = { id: 'm', name: 'Move', seconds: 4, easing: 'even' as const }
  const other: Camera = { ...plainLens(), eye: [-4, 3, -1], target: [0, 1, 0], fovDeg: 50 }
  it('eases from 0 to 1 without ever going back', () => {
    for (const easing of EASINGS) {
      const values = Array.from({ length: 101 }, (_, i) => eased(easing, i / 100))
      expect([values[0], values[100]]).toEqual([0, 1])
      for (let i = 1; i <= 100; i++) expect(values[i]).toBeGreaterThanOrEqual(values[i - 1])
    }
    expect(eased('both', 0.5)).toBeCloseTo(0.5, 12)
  })
  it('circles back to where it began', () => {
    const move: CameraMove = { ...common, kind: 'circle', degrees: 360 }
    const [begin, quarter, end] = [0, 0.25, 1].map((t) => moveAt(move, CAMERA, t).camera)
    expect(distanceBetween(begin.eye, CAMERA.eye)).toBeLessThan(1e-9)
    expect(distanceBetween(end.eye, CAMERA.eye)).toBeLessThan(1e-9)
    expect(quarter.eye[1]).toBeCloseTo(CAMERA.eye[1], 9)
    expect(distanceBetween(quarter.eye, CAMERA.target)).toBeCloseTo(
      distanceBetween(CAMERA.eye, CAMERA.target),
      9,
    )
  })
  it('pushes in by the same ratio in every second', () => {
    const move: CameraMove = { ...common, kind: 'push', to: 0.25 }
    const away = (t: number) => distanceBetween(moveAt(move, CAMERA, t).camera.eye, CAMERA.target)
    expect(away(0.5) / away(0)).toBeCloseTo(0.5, 9)
    expect(away(1) / away(0.5)).toBeCloseTo(0.5, 9)
  })
  it('goes from one view to another, ends on both, and keeps away from the target between', () => {
    const move: CameraMove = { ...common, kind: 'between', from: CAMERA, to: other }
    expect(distanceBetween(moveAt(move, CAMERA, 0).camera.eye, CAMERA.eye)).toBeLessThan(1e-9)
    const end = moveAt(move, CAMERA, 1).camera
    expect(distanceBetween(end.eye, other.eye)).toBeLessThan(1e-9)
    expect(end.fovDeg).toBe(50)
    const least = Math.min(
      distanceBetween(CAMERA.eye, CAMERA.target),
      distanceBetween(other.eye, other.target),
    )
    for (let t = 0; t <= 1; t += 0.05) {
      const { eye, target } = moveAt(move, CAMERA, t).camera
      expect(distanceBetween(eye, target)).toBeGreaterThan(least - 1e-9)
    }
  })
  it('spins the subject and leaves the camera', () => {
    const moved = moveAt({ ...common, kind: 'spin', turns: 2 }, CAMERA, 0.25)
    expect(moved.subjectTurnDeg).toBe(180)
    expect(moved.camera).toEqual(CAMERA)
  })
})

describe('picture sizes', () => {
  it('come to the pixels that the standard says', () => {
    const size = (name: string) => {
      const found = PICTURE_SIZES.find((s) => s.name === name)
      if (!found) throw new Error(`no size ${name}`)
      return found
    }
    expect(sizeInPixels(size('A4'), 300, false)).toEqual({ width: 2480, height: 3508 })
    expect(sizeInPixels(size('A4'), 300, true)).toEqual({ width: 3508, height: 2480 })
    expect(sizeInPixels(size('8 × 10 in'), 150, false)).toEqual({ width: 1200, height: 1500 })
    expect(sizeInPixels(size('Film 16:9'), 72, false)).toEqual({ width: 1920, height: 1080 })
  })
  it('are known again from their pixels', () => {
    for (const size of PICTURE_SIZES)
      for (const across of size.unit === 'px' ? [false] : [false, true])
        expect(sizeOf(sizeInPixels(size, 240, across), 240)).toEqual({ size, across })
    expect(sizeOf({ width: 123, height: 77 }, 300)).toBeNull()
  })
})
