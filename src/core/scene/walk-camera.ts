import type { Vec3 } from '../math/vec3'
import { add, length, scale, subtract } from '../math/vec3'
import type { Camera, Frame } from './camera'
import { anglesOf, cameraBasis, directionFrom } from './camera'

/** Moves of a camera as a hand makes them. All give a new camera; the horizon stays as it was. */

const STEEPEST = 89.9

/** Walks round the target. Degrees; positive goes to the right, and up. */
export function walkRound(camera: Camera, azimuthDeg: number, elevationDeg: number): Camera {
  const toEye = subtract(camera.eye, camera.target)
  const [azimuth, elevation] = anglesOf(toEye)
  const steep = Math.min(STEEPEST, Math.max(-STEEPEST, elevation + elevationDeg))
  return {
    ...camera,
    eye: add(camera.target, scale(directionFrom(azimuth + azimuthDeg, steep), length(toEye))),
  }
}

/** Moves eye and target across the picture, in shares of its height. Positive shows what is further right, and up. */
export function slide(camera: Camera, frame: Frame, rightShare: number, upShare: number): Camera {
  const basis = cameraBasis(camera, frame)
  const distance = basis.parallel ? 1 : length(subtract(camera.eye, camera.target))
  const height = 2 * basis.halfHeight * distance
  const by = add(scale(basis.right, rightShare * height), scale(basis.up, upShare * height))
  return { ...camera, eye: add(camera.eye, by), target: add(camera.target, by) }
}

/** Goes closer (below 1) or farther (above 1) by a factor of the distance, or of a parallel picture's height. */
export function approach(camera: Camera, factor: number): Camera {
  if (camera.orthoHeight !== null) return { ...camera, orthoHeight: camera.orthoHeight * factor }
  const toEye = subtract(camera.eye, camera.target)
  // Never into the target itself, nor out of what numbers can hold.
  const distance = Math.min(1e9, Math.max(1e-6, length(toEye) * factor))
  return { ...camera, eye: add(camera.target, scale(toEye, distance / length(toEye))) }
}

/** The direction and the place of a picture point's line of sight. @param x01 0…1 across. @param y01 0…1 down. */
export function sightLine(
  camera: Camera,
  frame: Frame,
  x01: number,
  y01: number,
): { readonly origin: Vec3; readonly direction: Vec3 } {
  const basis = cameraBasis(camera, frame)
  const sx = (2 * x01 - 1) * basis.halfWidth + basis.centreX
  const sy = (1 - 2 * y01) * basis.halfHeight + basis.centreY
  const across = add(scale(basis.right, sx), scale(basis.up, sy))
  if (basis.parallel) return { origin: add(camera.eye, across), direction: scale(basis.back, -1) }
  const towards = subtract(across, basis.back)
  return { origin: camera.eye, direction: scale(towards, 1 / length(towards)) }
}
