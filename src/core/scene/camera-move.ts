import { z } from 'zod'
import { assertNever } from '../errors'
import type { Vec3 } from '../math/vec3'
import { add, length, scale, subtract } from '../math/vec3'
import type { Camera } from './camera'
import { anglesOf, cameraSchema, directionFrom } from './camera'

/** How a move gathers speed: evenly, or gently at one end or both. */
export const EASINGS = ['even', 'start', 'end', 'both'] as const
export const easingSchema = z.enum(EASINGS)
export type Easing = z.infer<typeof easingSchema>

/** @param t01 0…1. @returns 0…1, 0 at 0 and 1 at 1. */
export function eased(easing: Easing, t01: number): number {
  const t = Math.min(1, Math.max(0, t01))
  switch (easing) {
    case 'even':
      return t
    case 'start':
      return t * t
    case 'end':
      return 1 - (1 - t) * (1 - t)
    case 'both':
      return t * t * (3 - 2 * t)
    default:
      return assertNever(easing)
  }
}

const common = {
  id: z.string(),
  name: z.string(),
  seconds: z.number().min(0.1).max(600),
  easing: easingSchema,
}
/** A move of the camera, or of the subject before it, beside a shot's still. */
export const cameraMoveSchema = z.discriminatedUnion('kind', [
  /** The subject turns about the vertical through its middle; the camera stays. */
  z.object({ ...common, kind: z.literal('spin'), turns: z.number().min(-10).max(10) }),
  /** The camera circles its target at its own height. */
  z.object({ ...common, kind: z.literal('circle'), degrees: z.number().min(-3600).max(3600) }),
  /** The camera moves towards its target; 0.5 ends at half the distance. */
  z.object({ ...common, kind: z.literal('push'), to: z.number().min(0.02).max(50) }),
  /** From one kept view to another, round the target rather than through it. */
  z.object({ ...common, kind: z.literal('between'), from: cameraSchema, to: cameraSchema }),
])
export type CameraMove = z.infer<typeof cameraMoveSchema>
export type CameraMoveKind = CameraMove['kind']

export interface MovedShot {
  readonly camera: Camera
  /** How far the subject is turned about the vertical, in degrees. */
  readonly subjectTurnDeg: number
}

/** Moves a camera's eye to a direction and distance from its target. */
const standAt = (camera: Camera, azimuthDeg: number, elevationDeg: number, distance: number): Camera => ({
  ...camera,
  eye: add(camera.target, scale(directionFrom(azimuthDeg, elevationDeg), distance)),
})

const mix = (a: number, b: number, t: number): number => a + (b - a) * t
const mixVec = (a: Vec3, b: Vec3, t: number): Vec3 => [
  mix(a[0], b[0], t),
  mix(a[1], b[1], t),
  mix(a[2], b[2], t),
]
/** Distances and heights change by ratio, so that a push looks even all the way. */
const mixRatio = (a: number, b: number, t: number): number => a * Math.pow(b / a, t)

/** A camera on its way from one to another, round the target rather than through it. @param t 0…1. */
export function between(from: Camera, to: Camera, t: number): Camera {
  const [fromEye, toEye] = [subtract(from.eye, from.target), subtract(to.eye, to.target)]
  const [azimuthFrom, elevationFrom] = anglesOf(fromEye)
  const [azimuthTo, elevationTo] = anglesOf(toEye)
  // The short way round.
  const round = ((azimuthTo - azimuthFrom + 540) % 360) - 180
  const [shiftFrom, shiftTo] = [from.shift ?? [0, 0], to.shift ?? [0, 0]]
  const camera: Camera = {
    ...from,
    target: mixVec(from.target, to.target, t),
    fovDeg: mix(from.fovDeg, to.fovDeg, t),
    orthoHeight:
      from.orthoHeight !== null && to.orthoHeight !== null
        ? mixRatio(from.orthoHeight, to.orthoHeight, t)
        : t < 1
          ? from.orthoHeight
          : to.orthoHeight,
    rollDeg: mix(from.rollDeg ?? 0, to.rollDeg ?? 0, t),
    shift: [mix(shiftFrom[0], shiftTo[0], t), mix(shiftFrom[1], shiftTo[1], t)],
    keepVerticals: t < 1 ? from.keepVerticals : to.keepVerticals,
  }
  return standAt(
    camera,
    azimuthFrom + round * t,
    mix(elevationFrom, elevationTo, t),
    mixRatio(length(fromEye), length(toEye), t),
  )
}

/**
 * A shot at a moment of a move.
 * @param camera the shot's own, at rest.
 * @param t01 0 at the beginning, 1 at the end.
 */
export function moveAt(move: CameraMove, camera: Camera, t01: number): MovedShot {
  const t = eased(move.easing, t01)
  const still = { camera, subjectTurnDeg: 0 }
  const toEye = subtract(camera.eye, camera.target)
  const [azimuth, elevation] = anglesOf(toEye)
  switch (move.kind) {
    case 'spin':
      return { ...still, subjectTurnDeg: 360 * move.turns * t }
    case 'circle':
      return { ...still, camera: standAt(camera, azimuth + move.degrees * t, elevation, length(toEye)) }
    case 'push': {
      const factor = mixRatio(1, move.to, t)
      if (camera.orthoHeight !== null)
        return { ...still, camera: { ...camera, orthoHeight: camera.orthoHeight * factor } }
      return { ...still, camera: { ...camera, eye: add(camera.target, scale(toEye, factor)) } }
    }
    case 'between':
      return { ...still, camera: between(move.from, move.to, t) }
    default:
      return assertNever(move)
  }
}
