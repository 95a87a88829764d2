import type { Vec3 } from '@/core/math/vec3'
import { dot, normalize, scale, subtract } from '@/core/math/vec3'
import { anglesOf } from '@/core/scene/camera'
import type { Light } from '@/core/scene/light-rig'

/** A direction towards a light as its own angles. @param cameraAzimuthDeg of the shot's camera, for lights tied to it. */
export function anglesFor(
  light: Pick<Light, 'tied'>,
  direction: Vec3,
  cameraAzimuthDeg: number,
): { azimuthDeg: number; elevationDeg: number } {
  const [azimuth, elevation] = anglesOf(direction)
  const own = light.tied === 'camera' ? azimuth - cameraAzimuthDeg : azimuth
  return {
    azimuthDeg: Number((((own + 540) % 360) - 180).toFixed(1)),
    elevationDeg: Number(elevation.toFixed(1)),
  }
}

/** Where a light must come from for its highlight to fall on a point: the line of sight mirrored on the surface. */
export function highlightDirection(point: Vec3, normal: Vec3, eye: Vec3): Vec3 {
  const toEye = normalize(subtract(eye, point))
  return normalize(subtract(scale(normal, 2 * dot(normal, toEye)), toEye))
}

/** Where a light must come from for the shadow of one point to fall on another. */
export const shadowDirection = (thrower: Vec3, landing: Vec3): Vec3 => normalize(subtract(thrower, landing))
