import { describe, expect, it } from 'vitest'
import { seededRandom } from '../math/sampling'
import { length, subtract, type Vec3 } from '../math/vec3'
import { cameraBasis, projectPoint, type Camera } from '../scene/camera'
import { newLight, type Rig } from '../scene/light-rig'
import { lightDirection } from '../passes/placed-light'
import { EASES } from '../sheet/tracks'
import { poseAt, poseName, posesAt, posesName, turnedDeg, turnedLights, type TurnedShot } from './turn-motion'
import { frameCount, newTurn, seconds, STEADY, type Motion, type Turn } from './turn-schema'

const FRAME = { width: 640, height: 400 }
const camera: Camera = { eye: [3, 2.5, 6], target: [0.4, 1, -0.2], fovDeg: 35, orthoHeight: null }
const pivot: Vec3 = [0.7, 1.2, -0.5]
const shot: TurnedShot = { camera, views: new Map(), pivot }
const turning = (motion: Partial<Motion>, rest: Partial<Turn> = {}): Turn => ({
  ...newTurn('t', 'Two turns', 'sheet', motion),
  ...rest,
})
const lanes = newTurn('t', 't', 's').camera
const seen = (of: Camera, [x, y, z]: Vec3): number[] => {
  const out = new Float64Array(3)
  projectPoint(cameraBasis(of, FRAME), FRAME, x, y, z, out)
  return [...out]
}
/** Turns a point about the vertical through the pivot, against the clock as seen from above. */
const spun = ([x, y, z]: Vec3, deg: number): Vec3 => {
  const angle = (deg * Math.PI) / 180
  const [dx, dz] = [x - pivot[0], z - pivot[2]]
  return [
    pivot[0] + Math.cos(angle) * dx + Math.sin(angle) * dz,
    y,
    pivot[2] - Math.sin(angle) * dx + Math.cos(angle) * dz,
  ]
}

describe('how far it has turned', () => {
  it('goes round evenly, the other way where that was asked for, from where it starts', () => {
    const motion = { ...STEADY, turns: 2, framesPerTurn: 8 }
    expect([0, 1, 2, 7].map((frame) => turnedDeg(motion, frame))).toEqual([0, 45, 90, 315])
    expect(turnedDeg({ ...motion, direction: 'clockwise' }, 1)).toBe(315)
    expect(turnedDeg({ ...motion, startDeg: -30 }, 1)).toBe(15)
  })
  it('is the same number a turn later, and the frame after the last is the first', () => {
    for (const framesPerTurn of [7, 24, 97, 144])
      for (const ease of EASES) {
        const motion = { ...STEADY, turns: 3, framesPerTurn, ease, startDeg: 12.3 }
        for (let frame = 0; frame < framesPerTurn; frame++) {
          if (ease === 'even') {
            expect(turnedDeg(motion, frame + framesPerTurn)).toBe(turnedDeg(motion, frame))
            expect(turnedDeg(motion, frame + 2 * framesPerTurn)).toBe(turnedDeg(motion, frame))
          }
          expect(turnedDeg(motion, frame + 3 * framesPerTurn)).toBe(turnedDeg(motion, frame))
        }
      }
  })
  it('gathers speed over all turns together', () => {
    const motion = { ...STEADY, turns: 2, framesPerTurn: 50, ease: 'slow both' as const }
    // Half of two turns in half of the time; a quarter of the time brings 5/32 of the way.
    expect(turnedDeg(motion, 50)).toBeCloseTo(0, 9)
    expect(turnedDeg(motion, 25)).toBeCloseTo((720 * 5) / 32, 9)
  })
  it('is counted in frames and seconds', () => {
    const motion = { ...STEADY, turns: 2, framesPerTurn: 144, rate: 24 }
    expect([frameCount(motion), seconds(motion)]).toEqual([288, 12])
  })
})

describe('a subject that turns', () => {
  it('is seen as if it turned before a camera that stays', () => {
    const random = seededRandom(3)
    const turn = turning({ framesPerTurn: 40 })
    for (let i = 0; i < 60; i++) {
      const point: Vec3 = [2 * random() - 1, 2 * random(), 2 * random() - 1]
      const { camera: own } = poseAt(turn, shot, i)
      const now = seen(own, point)
      seen(camera, spun(point, 9 * i)).forEach((v, k) => expect(now[k]).toBeCloseTo(v, 8))
    }
  })
  it('is lit as before: light comes from where it came as the camera sees it', () => {
    const rig: Rig = {
      id: 'r',
      name: 'R',
      lights: [
        { ...newLight('sun', 'sun'), tied: 'world', azimuthDeg: 130, elevationDeg: 35 },
        { ...newLight('area', 'area'), tied: 'camera', azimuthDeg: -40 },
        { ...newLight('spot', 'spot'), tied: 'world', azimuthDeg: -170, aimD: [0.3, 0.1, -0.2] },
        { ...newLight('dome', 'dome'), tied: 'world', rotationDeg: 170 },
      ],
    }
    const turn = turning({ framesPerTurn: 36 })
    for (const frame of [0, 5, 17, 35]) {
      const { camera: own, lightsTurnDeg } = poseAt(turn, shot, frame)
      const lights = turnedLights(rig, lightsTurnDeg).lights
      lights.forEach((light, i) => {
        const was = rig.lights[i]
        if (light.kind === 'dome' || was.kind === 'dome') return
        const basisNow = cameraBasis(own, FRAME)
        const basisWas = cameraBasis(camera, FRAME)
        const inCamera = (basis: typeof basisNow, to: Vec3) =>
          [basis.right, basis.up, basis.back].map((axis) => axis.reduce((sum, v, k) => sum + v * to[k], 0))
        const now = inCamera(
          basisNow,
          lightDirection(basisNow, light.tied, light.azimuthDeg, light.elevationDeg),
        )
        const then = inCamera(basisWas, lightDirection(basisWas, was.tied, was.azimuthDeg, was.elevationDeg))
        now.forEach((v, k) => expect(v).toBeCloseTo(then[k], 8))
        if ('aimD' in light && 'aimD' in was && light.tied === 'world') {
          const aims = inCamera(basisNow, light.aimD)
          inCamera(basisWas, was.aimD).forEach((v, k) => expect(aims[k]).toBeCloseTo(v, 8))
        }
        expect(Math.abs(light.azimuthDeg)).toBeLessThanOrEqual(180)
      })
      const dome = lights[3]
      // The picture of surroundings goes along with the camera.
      const turned = ((dome.kind === 'dome' ? dome.rotationDeg : 0) - 170 - lightsTurnDeg) % 360
      expect(Math.abs(turned) < 1e-9 || Math.abs(Math.abs(turned) - 360) < 1e-9).toBe(true)
    }
  })
})

describe('a camera that circles', () => {
  it('keeps its height and its distance from the axis, and looks at the same', () => {
    const turn = turning({ what: 'camera', framesPerTurn: 30 })
    const far = ({ eye }: Camera) => Math.hypot(eye[0] - pivot[0], eye[2] - pivot[2])
    for (const frame of [1, 8, 29]) {
      const { camera: own, lightsTurnDeg } = poseAt(turn, shot, frame)
      expect(own.eye[1]).toBe(camera.eye[1])
      expect(far(own)).toBeCloseTo(far(camera), 9)
      expect(length(subtract(own.eye, own.target))).toBeCloseTo(
        length(subtract(camera.eye, camera.target)),
        9,
      )
      expect(lightsTurnDeg).toBe(0)
    }
    expect(
      poseAt(turning({ what: 'camera', lightsGoAlong: true, framesPerTurn: 4 }), shot, 1).lightsTurnDeg,
    ).toBe(90)
  })
  it('goes the way the subject does not', () => {
    const round = poseAt(turning({ what: 'camera', framesPerTurn: 12 }), shot, 1).camera
    const before = poseAt(turning({ what: 'subject', framesPerTurn: 12 }), shot, 11).camera
    round.eye.forEach((v, k) => expect(v).toBeCloseTo(before.eye[k], 9))
  })
  it('stays where nothing turns', () => {
    expect(poseAt(turning({ what: 'nothing' }), shot, 77)).toEqual({ camera, lightsTurnDeg: 0 })
  })
})

describe('lanes of the camera', () => {
  const still = { what: 'nothing' as const, turns: 1, framesPerTurn: 100 }
  it('push it in along its sight, and raise it round its target', () => {
    const push = [
      { at: 10, value: 1, ease: 'even' as const },
      { at: 30, value: 0.5, ease: 'even' as const },
    ]
    const turn = turning(still, { camera: { ...lanes, push } })
    const far = (frame: number) => {
      const { camera: own } = poseAt(turn, shot, frame)
      return length(subtract(own.eye, own.target)) / length(subtract(camera.eye, camera.target))
    }
    expect([0, 10, 20, 30, 99].map(far)).toEqual([1, 1, 0.75, 0.5, 0.5].map((v) => expect.closeTo(v, 9)))
    const raised = turning(still, {
      camera: { ...lanes, raiseDeg: [{ at: 0, value: 170, ease: 'even' }] },
    })
    const { camera: high } = poseAt(raised, shot, 3)
    // It never goes over the top: there the picture would turn about.
    const rise = Math.asin((high.eye[1] - high.target[1]) / length(subtract(high.eye, high.target)))
    expect((rise * 180) / Math.PI).toBeCloseTo(89.9, 6)
  })
  it('push a parallel picture by its height', () => {
    const turn = turning(still, { camera: { ...lanes, push: [{ at: 0, value: 0.25, ease: 'hold' }] } })
    const parallel = { ...camera, orthoHeight: 8 }
    const { camera: own } = poseAt(turn, { ...shot, camera: parallel }, 0)
    expect(own.orthoHeight).toBe(2)
    own.eye.forEach((v, k) => expect(v).toBeCloseTo(camera.eye[k], 9))
  })
  it('go through kept views, and pass over those that are gone', () => {
    const other: Camera = { ...camera, eye: [-5, 4, 2] }
    const views = new Map([
      ['a', camera],
      ['b', other],
    ])
    const keys = ['a', 'gone', 'b'].map((value, i) => ({ at: 20 * i, value, ease: 'even' as const }))
    const turn = turning(still, { camera: { ...lanes, views: keys } })
    const at = (frame: number) => poseAt(turn, { ...shot, views }, frame).camera
    at(0).eye.forEach((v, k) => expect(v).toBeCloseTo(camera.eye[k], 9))
    at(70).eye.forEach((v, k) => expect(v).toBeCloseTo(other.eye[k], 9))
    const middle = at(20)
    expect(middle.eye).not.toEqual(camera.eye)
    expect(middle.eye).not.toEqual(other.eye)
  })
  it('shift the lens besides its own shift', () => {
    const shifted = { ...camera, shift: [0.1, 0] as const }
    const turn = turning(still, { camera: { ...lanes, shiftX: [{ at: 0, value: 0.2, ease: 'even' }] } })
    expect(poseAt(turn, { ...shot, camera: shifted }, 0).camera.shift).toEqual([expect.closeTo(0.3, 12), 0])
  })
})

describe('names of poses', () => {
  it('are those of a turn before, and of nothing else', () => {
    const turn = turning({ turns: 2, framesPerTurn: 24 })
    const names = Array.from({ length: 48 }, (_, frame) => poseName(poseAt(turn, shot, frame)))
    expect(new Set(names).size).toBe(24)
    expect(names.slice(24)).toEqual(names.slice(0, 24))
  })
  it('are one where nothing moves', () => {
    const turn = turning({ what: 'nothing' })
    expect(new Set([0, 5, 100].map((frame) => poseName(poseAt(turn, shot, frame)))).size).toBe(1)
  })
})

describe('how the shot stands while the shutter is open', () => {
  const turn36 = (rest: Partial<Turn> = {}) => turning({ turns: 1, framesPerTurn: 36 }, rest)
  it('is how it stands in the frame, where it is open for no time', () =>
    expect(posesAt(turn36(), shot, 7)).toEqual([poseAt(turn36(), shot, 7)]))
  it('are even steps about the frame', () => {
    const poses = posesAt(turn36({ shutter: 0.5, shutterSteps: 4 }), shot, 9)
    // A frame is 10°, a quarter of it before and after.
    const degrees = poses.map(({ lightsTurnDeg }) => (360 - lightsTurnDeg) % 360)
    for (const [k, deg] of [88.125, 89.375, 90.625, 91.875].entries()) expect(degrees[k]).toBeCloseTo(deg, 6)
  })
  it('close where the turn does: before the first frame lies the end of the last', () => {
    const blurred = turn36({ shutter: 1, shutterSteps: 2 })
    const [before, after] = posesAt(blurred, shot, 0)
    expect(before).toEqual(poseAt(blurred, shot, 35.75))
    expect(after).toEqual(poseAt(blurred, shot, 0.25))
    expect(posesName(posesAt(blurred, shot, 36))).toBe(posesName(posesAt(blurred, shot, 0)))
  })
  it('is one where nothing moves', () =>
    expect(posesAt(turning({ what: 'nothing' }, { shutter: 1 }), shot, 3)).toHaveLength(1))
})
