import { AT_ORIGIN, placementMatrix } from './placement'
import { describe, expect, it } from 'vitest'
import { ball, cube, sceneModel } from '../testing/shapes'
import { cameraBasis, frameBounds, framePoints, plainLens, projectPoint } from './camera'
import {
  makeRegistration,
  registrationDifferences,
  registrationHash,
  type RegisteredModel,
} from './registration'
import { buildSceneGeometry, subjectPoints } from './scene-geometry'

describe('frameBounds', () => {
  const bounds = { min: [-1, 0, -2], max: [3, 5, 1] } as const
  it.each([
    [0, 0, false],
    [30, 20, false],
    [-120, 70, false],
    [45, -30, true],
    [0, 90, false],
    [90, 0, true],
  ])(
    'fits a box from %i°, %i° (parallel: %s) inside its margin, touching on one axis',
    (azimuth, elevation, parallel) => {
      const frame = { width: 300, height: 200 }
      const basis = cameraBasis(
        frameBounds(bounds, azimuth, elevation, frame, plainLens(30, parallel)),
        frame,
      )
      const out = new Float64Array(3)
      let [left, right, top, bottom] = [Infinity, -Infinity, Infinity, -Infinity]
      for (let i = 0; i < 8; i++) {
        projectPoint(
          basis,
          frame,
          (i & 1 ? bounds.max : bounds.min)[0],
          (i & 2 ? bounds.max : bounds.min)[1],
          (i & 4 ? bounds.max : bounds.min)[2],
          out,
        )
        expect(out[2]).toBeGreaterThan(0)
        ;[left, right] = [Math.min(left, out[0]), Math.max(right, out[0])]
        ;[top, bottom] = [Math.min(top, out[1]), Math.max(bottom, out[1])]
      }
      const slackX = Math.min(left, frame.width - right) / frame.width
      const slackY = Math.min(top, frame.height - bottom) / frame.height
      expect(Math.min(slackX, slackY)).toBeCloseTo(0.05, 3)
    },
  )
  it('fits a ball by its outline, not by its box', () => {
    const frame = { width: 200, height: 200 }
    const { positions } = ball(1, 48)
    const points = (visit: (x: number, y: number, z: number) => void) => {
      for (let i = 0; i < positions.length; i += 3) visit(positions[i], positions[i + 1], positions[i + 2])
    }
    const { eye } = framePoints(points, 30, 20, frame)
    // The limb of a unit ball at distance d is seen under asin(1/d); with 5 % left free that is 0.9 of the half picture.
    const seen = Math.tan(Math.asin(1 / Math.hypot(...eye)))
    expect(seen / Math.tan((15 * Math.PI) / 180)).toBeCloseTo(0.9, 2)
    expect(() => framePoints(() => undefined, 0, 0, frame)).toThrow('points must not be empty')
  })
  it('looks at +Z from azimuth 0 and at +X from 90', () => {
    const frame = { width: 100, height: 100 }
    expect(frameBounds(bounds, 0, 0, frame).eye[2]).toBeGreaterThan(1)
    expect(frameBounds(bounds, 90, 0, frame).eye[0]).toBeGreaterThan(3)
  })
})

describe('buildSceneGeometry', () => {
  it('leaves out what is off, keeps the unseen out of the subject’s box', () => {
    const far = {
      ...sceneModel(cube(), 'far', 'unseen'),
      transforms: [placementMatrix({ ...AT_ORIGIN, position: [50, 0, 0] })],
    }
    const scene = buildSceneGeometry([sceneModel(cube(), 'near'), far, sceneModel(cube(9), 'gone', 'off')])
    expect(scene.triangleCount).toBe(24)
    expect(scene.figureDiagonal).toBeCloseTo(2 * Math.sqrt(3), 5)
    expect(scene.edgeParts.every((p) => scene.parts[p].name === 'near')).toBe(true)
  })
  it('hands out the corners of what its box is the box of', () => {
    const ground = { ...sceneModel(cube(), 'floor', 'ground') }
    const scene = buildSceneGeometry([sceneModel(cube(2), 'near'), ground])
    const seen = new Set<string>()
    subjectPoints(scene)((x, y, z) => seen.add([x, y, z].map((v) => Math.round(v * 1e4) / 1e4).join()))
    expect(seen.size).toBe(8)
    expect([...seen].every((p) => p.split(',').every((v) => Math.abs(Number(v)) === 2))).toBe(true)
  })
  it('scales, turns, then moves', () => {
    const placed = {
      ...sceneModel(cube()),
      transforms: [placementMatrix({ position: [10, 0, 0], rotationDeg: [0, 45, 0], scale: [2, 2, 2] })],
    }
    const { subjectBounds } = buildSceneGeometry([placed])
    expect(subjectBounds.max[0]).toBeCloseTo(10 + 2 * Math.SQRT2, 5)
    expect(subjectBounds.max[1]).toBeCloseTo(2, 6)
  })
  it('refuses a scene with nothing in it', () => {
    expect(() => buildSceneGeometry([sceneModel(cube(), 'x', 'off')])).toThrow('a part with an area')
  })
})

describe('registration', () => {
  const camera = { eye: [0, 0, 5] as const, target: [0, 0, 0] as const, fovDeg: 30, orthoHeight: null }
  const frame = { width: 100, height: 80 }
  const kiosk: RegisteredModel = {
    id: 'a',
    name: 'Kiosk',
    geometryHash: 'g',
    placement: AT_ORIGIN,
    copies: { kind: 'one' },
    parts: [
      { key: 'a/0', role: 'subject' },
      { key: 'a/1', role: 'subject' },
    ],
  }
  const made = makeRegistration(camera, frame, [kiosk])
  it('is equal for equal things, names included or not', () => {
    expect(
      registrationHash(
        makeRegistration({ ...camera, fovDeg: 30.00000000001 }, frame, [{ ...kiosk, name: 'Other' }]),
      ),
    ).toBe(registrationHash(made))
  })
  it.each([
    ['camera moved', makeRegistration({ ...camera, eye: [0, 0, 5.001] }, frame, [kiosk])],
    ['lens changed', makeRegistration({ ...camera, fovDeg: 31 }, frame, [kiosk])],
    [
      'picture size changed from 100 × 80 to 100 × 81',
      makeRegistration(camera, { width: 100, height: 81 }, [kiosk]),
    ],
    [
      'Kiosk moved',
      makeRegistration(camera, frame, [
        { ...kiosk, placement: { ...kiosk.placement, rotationDeg: [0, 1, 0] } },
      ]),
    ],
    ['Kiosk has new geometry', makeRegistration(camera, frame, [{ ...kiosk, geometryHash: 'h' }])],
    [
      'Roof is now off',
      makeRegistration(camera, frame, [{ ...kiosk, parts: [kiosk.parts[0], { key: 'a/1', role: 'off' }] }]),
    ],
    ['Kiosk removed', makeRegistration(camera, frame, [])],
    ['Quay added', makeRegistration(camera, frame, [kiosk, { ...kiosk, id: 'b', name: 'Quay' }])],
  ])('says "%s"', (reason, now) => {
    expect(registrationDifferences(made, now, (key) => (key === 'a/1' ? 'Roof' : key))).toEqual([reason])
    expect(registrationHash(now)).not.toBe(registrationHash(made))
  })
})
