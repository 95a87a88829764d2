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

/** Hands every point of something to `visit`, in world units. Called twice. */
export type PointSource = (visit: (x: number, y: number, z: number) => void) => void

/** The eight corners of a box. */
export const boxCorners =
  ({ min, max }: Bounds): PointSource =>
  (visit) => {
    for (let i = 0; i < 8; i++) visit((i & 1 ? max : min)[0], (i & 2 ? max : min)[1], (i & 4 ? max : min)[2])
  }

/** The box of points; null where there are none. */
export function boxOf(points: PointSource): Bounds | null {
  const min: [number, number, number] = [Infinity, Infinity, Infinity]
  const max: [number, number, number] = [-Infinity, -Infinity, -Infinity]
  points((x, y, z) => {
    if (x < min[0]) min[0] = x
    if (y < min[1]) min[1] = y
    if (z < min[2]) min[2] = z
    if (x > max[0]) max[0] = x
    if (y > max[1]) max[1] = y
    if (z > max[2]) max[2] = z
  })
  return min[0] <= max[0] ? { min, max } : null
}

/**
 * A camera that looks from azimuth and elevation and fits points with a margin: the vertices of a subject, so that it
 * fills the picture as far as its own outline allows.
 * @param azimuthDeg 0 looks at the +Z side, 90 at the +X side.
 * @param elevationDeg 90 looks straight down.
 * @param margin share of the picture left free on each side, on the tighter axis.
 * @throws {InvalidValueError} when there are no points.
 */
export function framePoints(
  points: PointSource,
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

  // 1. A middle to measure from, so that nothing is lost to rounding far from the origin.
  const box = boxOf(points)
  if (!box) throw new InvalidValueError('points', 'must not be empty', 0)
  const centre: Vec3 = scale(add(box.min, box.max), 0.5)
  const size = Math.hypot(...subtract(box.max, box.min)) || 1
  const probe: Camera = {
    eye: add(centre, back),
    target: centre,
    fovDeg,
    orthoHeight: orthographic ? 2 : null,
  }
  const basis = cameraBasis(probe, frame)
  const limit = 1 - 2 * margin

  // 2. For each of the four picture sides the eye must stand so far back that every point is inside: with the slope k,
  // |x − cx| ≤ k·(distance − z). Opposite sides give the centre and the distance together. A parallel projection is the
  // same with k = 0 and a width instead of a distance.
  const slopeX = orthographic ? 0 : basis.halfWidth * limit
  const slopeY = orthographic ? 0 : basis.halfHeight * limit
  const { right, up } = basis
  let [east, west, north, south, nearest] = [-Infinity, -Infinity, -Infinity, -Infinity, -Infinity]
  points((px, py, pz) => {
    const x = px - centre[0]
    const y = py - centre[1]
    const z = pz - centre[2]
    const cx = x * right[0] + y * right[1] + z * right[2]
    const cy = x * up[0] + y * up[1] + z * up[2]
    const cz = x * back[0] + y * back[1] + z * back[2]
    east = Math.max(east, cx + slopeX * cz)
    west = Math.max(west, -cx + slopeX * cz)
    north = Math.max(north, cy + slopeY * cz)
    south = Math.max(south, -cy + slopeY * cz)
    nearest = Math.max(nearest, cz)
  })
  const target = add(add(centre, scale(right, (east - west) / 2)), scale(up, (north - south) / 2))
  if (orthographic) {
    const halfHeight = Math.max((north + south) / 2, ((east + west) / 2) * (frame.height / frame.width))
    const height = (2 * halfHeight) / limit || 1
    return { eye: add(target, scale(back, nearest + size + height)), target, fovDeg, orthoHeight: height }
  }
  const distance = Math.max(
    (east + west) / (2 * slopeX),
    (north + south) / (2 * slopeY),
    nearest + size * 1e-3,
  )
  return { eye: add(target, scale(back, distance)), target, fovDeg, orthoHeight: null }
}

/** {@link framePoints} on the corners of a box. */
export const frameBounds = (
  bounds: Bounds,
  azimuthDeg: number,
  elevationDeg: number,
  frame: Frame,
  fovDeg = 30,
  margin = 0.05,
  orthographic = false,
): Camera => framePoints(boxCorners(bounds), azimuthDeg, elevationDeg, frame, fovDeg, margin, orthographic)
