import { z } from 'zod'
import { InvalidValueError } from '../errors'
import type { Bounds } from '../geometry/polygon-mesh'
import type { Vec3 } from '../math/vec3'
import { add, cross, dot, normalize, scale, subtract } from '../math/vec3'

const vector = z.tuple([z.number(), z.number(), z.number()]).readonly()

/** A camera in world space, +Y up. */
export const cameraSchema = z.object({
  eye: vector,
  target: vector,
  /** Vertical field of view in degrees. Ignored when `orthoHeight` is set. */
  fovDeg: z.number().min(1).max(150),
  /** Height of the picture in world units for a parallel projection, else null. */
  orthoHeight: z.number().positive().nullable(),
})
export type Camera = z.infer<typeof cameraSchema>

export const MAX_PICTURE_SIDE = 16384

/** Picture size in pixels. */
export const frameSchema = z.object({
  width: z.number().int().min(16).max(MAX_PICTURE_SIDE),
  height: z.number().int().min(16).max(MAX_PICTURE_SIDE),
})
export type Frame = z.infer<typeof frameSchema>

/** Camera axes, all unit length. `back` points from the target to the eye: +Z of camera space. */
export interface CameraBasis {
  readonly eye: Vec3
  readonly right: Vec3
  readonly up: Vec3
  readonly back: Vec3
  /** Half the picture's height and width on the plane at distance 1 (perspective) or in world units (parallel). */
  readonly halfHeight: number
  readonly halfWidth: number
  readonly parallel: boolean
}

/** @throws {InvalidValueError} when eye and target coincide. */
export function cameraBasis(camera: Camera, frame: Frame): CameraBasis {
  const toEye = subtract(camera.eye, camera.target)
  if (!(dot(toEye, toEye) > 0))
    throw new InvalidValueError('camera.eye', 'must differ from the target', camera.eye)
  const back = normalize(toEye)
  // Looking straight up or down, the picture's up is world −Z (or +Z), as walking over the top would give.
  const worldUp: Vec3 = Math.abs(back[1]) > 0.99999 ? [0, 0, back[1] > 0 ? -1 : 1] : [0, 1, 0]
  const right = normalize(cross(worldUp, back), [1, 0, 0])
  const up = cross(back, right)
  const parallel = camera.orthoHeight !== null
  const halfHeight =
    camera.orthoHeight !== null ? camera.orthoHeight / 2 : Math.tan((camera.fovDeg * Math.PI) / 360)
  return {
    eye: camera.eye,
    right,
    up,
    back,
    halfHeight,
    halfWidth: (halfHeight * frame.width) / frame.height,
    parallel,
  }
}

/**
 * Projects a world point. Writes to `out`: x and y in pixels (origin top left, y down), and the distance along the
 * view axis (negative behind the eye).
 */
export function projectPoint(
  basis: CameraBasis,
  frame: Frame,
  x: number,
  y: number,
  z: number,
  out: Float64Array,
): void {
  const dx = x - basis.eye[0]
  const dy = y - basis.eye[1]
  const dz = z - basis.eye[2]
  const depth = -(dx * basis.back[0] + dy * basis.back[1] + dz * basis.back[2])
  const cx = dx * basis.right[0] + dy * basis.right[1] + dz * basis.right[2]
  const cy = dx * basis.up[0] + dy * basis.up[1] + dz * basis.up[2]
  const along = basis.parallel ? 1 : depth
  out[0] = (cx / (along * basis.halfWidth) + 1) * 0.5 * frame.width
  out[1] = (1 - cy / (along * basis.halfHeight)) * 0.5 * frame.height
  out[2] = depth
}

/**
 * A camera that looks from azimuth and elevation and fits a box with a margin.
 * @param azimuthDeg 0 looks at the +Z side, 90 at the +X side.
 * @param elevationDeg 90 looks straight down.
 * @param margin share of the picture left free around the box, on the tighter axis.
 */
export function frameBounds(
  bounds: Bounds,
  azimuthDeg: number,
  elevationDeg: number,
  frame: Frame,
  fovDeg = 30,
  margin = 0.05,
  orthographic = false,
): Camera {
  const azimuth = (azimuthDeg * Math.PI) / 180
  const elevation = (elevationDeg * Math.PI) / 180
  const back: Vec3 = [
    Math.sin(azimuth) * Math.cos(elevation),
    Math.sin(elevation),
    Math.cos(azimuth) * Math.cos(elevation),
  ]
  const centre: Vec3 = scale(add(bounds.min, bounds.max), 0.5)
  const probe: Camera = {
    eye: add(centre, back),
    target: centre,
    fovDeg,
    orthoHeight: orthographic ? 2 : null,
  }
  const basis = cameraBasis(probe, frame)
  const limit = 1 - 2 * margin
  const corners = Array.from({ length: 8 }, (_, i): Vec3 => [
    (i & 1 ? bounds.max : bounds.min)[0],
    (i & 2 ? bounds.max : bounds.min)[1],
    (i & 4 ? bounds.max : bounds.min)[2],
  ]).map((p) => {
    const d = subtract(p, centre)
    return { x: dot(d, basis.right), y: dot(d, basis.up), z: dot(d, basis.back) }
  })
  const spread = (axis: 'x' | 'y') => corners.map((c) => c[axis])
  const shift = (values: number[]) => (Math.min(...values) + Math.max(...values)) / 2
  if (orthographic) {
    const halfX = Math.max(...spread('x').map((v) => Math.abs(v - shift(spread('x')))))
    const halfY = Math.max(...spread('y').map((v) => Math.abs(v - shift(spread('y')))))
    const target = add(
      add(centre, scale(basis.right, shift(spread('x')))),
      scale(basis.up, shift(spread('y'))),
    )
    const height = (2 * Math.max(halfY, (halfX * frame.height) / frame.width)) / limit || 1
    const reach = 2 * Math.max(...corners.map((c) => Math.abs(c.z)), height)
    return { eye: add(target, scale(back, reach)), target, fovDeg, orthoHeight: height }
  }
  // For each of the four picture sides the eye must stand so far back that every corner is inside: with the slope k,
  // |x − cx| ≤ k·(distance − z). Opposite sides give the centre and the distance together.
  const fit = (axis: 'x' | 'y', slope: number) => {
    const high = Math.max(...corners.map((c) => c[axis] + slope * c.z))
    const low = Math.max(...corners.map((c) => -c[axis] + slope * c.z))
    return { distance: (high + low) / (2 * slope), centre: (high - low) / 2 }
  }
  const horizontal = fit('x', basis.halfWidth * limit)
  const vertical = fit('y', basis.halfHeight * limit)
  const size = Math.hypot(...subtract(bounds.max, bounds.min)) || 1
  const distance = Math.max(horizontal.distance, vertical.distance, size * 1e-3)
  const target = add(add(centre, scale(basis.right, horizontal.centre)), scale(basis.up, vertical.centre))
  return { eye: add(target, scale(back, distance)), target, fovDeg, orthoHeight: null }
}
