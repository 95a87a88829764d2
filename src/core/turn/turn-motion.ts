import { hashJson } from '../math/stable-hash'
import { add, length, scale, subtract, type Vec3 } from '../math/vec3'
import { anglesOf, directionFrom, type Camera } from '../scene/camera'
import { between } from '../scene/camera-move'
import type { Light, Rig } from '../scene/light-rig'
import { eased, type Ease } from '../sheet/tracks'
import { frameCount, type Motion, type Turn } from './turn-schema'

/** How the shot stands in a frame. */
export interface Pose {
  readonly camera: Camera
  /** How far the lights are turned about the vertical with it, seen from above against the clock. Degrees, 0…360. */
  readonly lightsTurnDeg: number
}

/** What a pose is worked out from besides the turntable. */
export interface TurnedShot {
  readonly camera: Camera
  /** Views that were kept, by id. */
  readonly views: ReadonlyMap<string, Camera>
  /** What it turns about: the middle of the subject. */
  readonly pivot: Vec3
}

/** A key of some lane. */
interface Key<T> {
  readonly at: number
  readonly value: T
  readonly ease: Ease
}

/** The keys about a moment, and how far it is from the first to the second. Null without keys. */
function keysAbout<T>(
  keys: readonly Key<T>[],
  at: number,
): { readonly from: T; readonly to: T; readonly share: number } | null {
  if (keys.length === 0) return null
  const next = keys.findIndex((key) => key.at > at)
  if (next === 0) return { from: keys[0].value, to: keys[0].value, share: 0 }
  const from = keys[next < 0 ? keys.length - 1 : next - 1]
  if (next < 0) return { from: from.value, to: from.value, share: 0 }
  const to = keys[next]
  return { from: from.value, to: to.value, share: eased(from.ease, (at - from.at) / (to.at - from.at)) }
}

/** A lane of numbers at a moment. @param rest where there are no keys. */
function laneAt(keys: readonly Key<number>[], at: number, rest: number): number {
  const about = keysAbout(keys, at)
  return about ? about.from + (about.to - about.from) * about.share : rest
}

const within360 = (deg: number): number => ((deg % 360) + 360) % 360

/**
 * How far it has turned in a frame, 0…360: the same number for the same place, however many turns came before.
 * @param frame whole, or between two frames.
 */
export function turnedDeg(
  { turns, framesPerTurn, direction, startDeg, ease }: Motion,
  frame: number,
): number {
  const count = turns * framesPerTurn
  const at = ((frame % count) + count) % count
  const share = ease === 'even' ? (at % framesPerTurn) / framesPerTurn : (turns * eased(ease, at / count)) % 1
  return within360(startDeg + (direction === 'clockwise' ? -360 : 360) * share)
}

/** Which turn a frame is of, from 0, and how far it has come in it: degrees, 0…360. */
export function placeInTurns(motion: Motion, frame: number): { readonly turn: number; readonly deg: number } {
  const count = frameCount(motion)
  const at = Math.min(frame, count)
  const start = turnedDeg({ ...motion, startDeg: 0 }, frame)
  const deg = motion.direction === 'clockwise' ? (360 - start) % 360 : start
  return { turn: Math.min(motion.turns - 1, Math.floor(at / motion.framesPerTurn)), deg }
}

/** Turns a point about the vertical through another; against the clock, seen from above. */
function turnedAbout([x, y, z]: Vec3, pivot: Vec3, deg: number): Vec3 {
  if (deg === 0) return [x, y, z]
  const angle = (deg * Math.PI) / 180
  const [dx, dz] = [x - pivot[0], z - pivot[2]]
  const [cos, sin] = [Math.cos(angle), Math.sin(angle)]
  return [pivot[0] + cos * dx + sin * dz, y, pivot[2] - sin * dx + cos * dz]
}

/**
 * How the shot stands in a frame of a turntable. A subject that turns before a camera that stays is a camera and lights that go
 * round it the other way: the scene itself, and all that is kept on its surfaces, stays.
 */
export function poseAt({ motion, camera: lanes }: Turn, shot: TurnedShot, frame: number): Pose {
  const count = frameCount(motion)
  const at = ((frame % count) + count) % count
  // 1. Through the kept views, or as the shot stands.
  const known = lanes.views.filter(({ value }) => shot.views.has(value))
  const about = keysAbout(known, at)
  const viewOf = (id: string): Camera => shot.views.get(id) ?? shot.camera
  const base = about ? between(viewOf(about.from), viewOf(about.to), about.share) : shot.camera
  // 2. Nearer and higher, round its target.
  const moved = pushed(base, laneAt(lanes.push, at, 1), laneAt(lanes.raiseDeg, at, 0))
  const [shiftX, shiftY] = [laneAt(lanes.shiftX, at, 0), laneAt(lanes.shiftY, at, 0)]
  const [ownX, ownY] = moved.shift ?? [0, 0]
  const shifted: Camera =
    shiftX === 0 && shiftY === 0 ? moved : { ...moved, shift: [ownX + shiftX, ownY + shiftY] }
  // 3. Round the subject.
  if (motion.what === 'nothing') return { camera: shifted, lightsTurnDeg: 0 }
  const deg = turnedDeg(motion, at)
  const round = within360(motion.what === 'subject' ? -deg : deg)
  const camera: Camera = {
    ...shifted,
    eye: turnedAbout(shifted.eye, shot.pivot, round),
    target: turnedAbout(shifted.target, shot.pivot, round),
  }
  return { camera, lightsTurnDeg: motion.what === 'subject' || motion.lightsGoAlong ? round : 0 }
}

/** A camera nearer to its target, and higher round it. */
function pushed(camera: Camera, push: number, raiseDeg: number): Camera {
  if (push === 1 && raiseDeg === 0) return camera
  const toEye = subtract(camera.eye, camera.target)
  const [azimuth, elevation] = anglesOf(toEye)
  const raised = Math.min(89.9, Math.max(-89.9, elevation + raiseDeg))
  const { orthoHeight } = camera
  const far = orthoHeight === null ? push : 1
  return {
    ...camera,
    eye: add(camera.target, scale(directionFrom(azimuth, raised), far * length(toEye))),
    orthoHeight: orthoHeight === null ? null : orthoHeight * push,
  }
}

/** Lights turned about the vertical through the middle of the subject; those that are tied to the camera turn with that. */
export const turnedLights = (rig: Rig, turnDeg: number): Rig =>
  turnDeg === 0 ? rig : { ...rig, lights: rig.lights.map((light) => turnedLight(light, turnDeg)) }

function turnedLight(light: Light, turnDeg: number): Light {
  if (light.tied === 'camera') return light
  const round = (deg: number): number => within360(deg + turnDeg + 180) - 180
  if (light.kind === 'dome') return { ...light, rotationDeg: round(light.rotationDeg) }
  const own = { ...light, azimuthDeg: round(light.azimuthDeg) }
  return 'aimD' in own ? { ...own, aimD: [...turnedAbout(own.aimD, [0, 0, 0], turnDeg)] } : own
}

/**
 * How the shot stands while a frame is seen: at once, or, where the shutter is open for a while, at even steps about it.
 * Steps in which it stands alike are there as often as they are.
 */
export function posesAt(turn: Turn, shot: TurnedShot, frame: number): Pose[] {
  const { shutter, shutterSteps } = turn
  if (shutter === 0) return [poseAt(turn, shot, frame)]
  const steps = Array.from({ length: shutterSteps }, (_, k) => {
    const at = frame + shutter * ((k + 0.5) / shutterSteps - 0.5)
    return poseAt(turn, shot, at)
  })
  // What stands still is not blurred, and rendered once.
  const first = poseName(steps[0])
  return steps.every((pose) => poseName(pose) === first) ? [steps[0]] : steps
}

/** A name of how the shot stands while a frame is seen. */
export const posesName = (poses: readonly Pose[]): string =>
  poses.length === 1 ? poseName(poses[0]) : hashJson(poses.map(poseName))

/** A name of a pose: frames in which the shot stands alike have one. */
export const poseName = (pose: Pose): string => hashJson({ ...pose })
