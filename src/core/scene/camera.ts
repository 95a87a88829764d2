import { z } from 'zod'
import { InvalidValueError } from '../errors'
import type { Bounds } from '../geometry/bounds'
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
  /** Degrees the picture is turned about its middle, clockwise as seen; 0 where left out. */
  rollDeg: z.number().min(-180).max(180).optional(),
  /** How far the lens is shifted right and up, in picture heights; none where left out. */
  shift: z
    .tuple([z.number().min(-2).max(2), z.number().min(-2).max(2)])
    .readonly()
    .optional(),
  /** Vertical lines stay vertical: the picture plane stays upright and the lens is shifted to the target instead. */
  keepVerticals: z.boolean().optional(),
})
export type Camera = z.infer<typeof cameraSchema>

export const MAX_PICTURE_SIDE = 16384

/** Picture size in pixels. */
export const frameSchema = z.object({
  width: z.number().int().min(16).max(MAX_PICTURE_SIDE),
  height: z.number().int().min(16).max(MAX_PICTURE_SIDE),
})
export type Frame = z.infer<typeof frameSchema>

/**
 * How a lens blurs what is not in focus. Looked at while one composes; passes are sharp, so that they stay in register
 * and can be masked.
 */
export const lensFocusSchema = z.object({
  /** World units along the view axis to the plane that is sharp. */
  distance: z.number().positive(),
  /** Width of the spot that a point infinitely far behind it becomes, as a share of the picture's height. */
  blur: z.number().min(0).max(1),
})
export type LensFocus = z.infer<typeof lensFocusSchema>

/** Camera axes, all unit length. `back` points from the target to the eye: +Z of camera space. */
export interface CameraBasis {
  readonly eye: Vec3
  readonly right: Vec3
  readonly up: Vec3
  readonly back: Vec3
  /** Half the picture's height and width on the plane at distance 1 (perspective) or in world units (parallel). */
  readonly halfHeight: number
  readonly halfWidth: number
  /** Where the picture's middle lies on that plane: the lens shift, in the units of `halfHeight`. */
  readonly centreX: number
  readonly centreY: number
  readonly parallel: boolean
  readonly focus?: LensFocus
}

/** @throws {InvalidValueError} when eye and target coincide. */
export function cameraBasis(camera: Camera, frame: Frame): CameraBasis {
  const toEye = subtract(camera.eye, camera.target)
  if (!(dot(toEye, toEye) > 0))
    throw new InvalidValueError('camera.eye', 'must differ from the target', camera.eye)
  const sight = normalize(toEye)
  const flat = normalize([sight[0], 0, sight[2]], sight)
  // Steeper than this the target would leave any lens.
  const upright = camera.keepVerticals === true && camera.orthoHeight === null && Math.abs(sight[1]) < 0.95
  const back = upright ? flat : sight
  // Looking straight up or down, the picture's up is world −Z (or +Z), as walking over the top would give.
  const worldUp: Vec3 = Math.abs(back[1]) > 0.99999 ? [0, 0, back[1] > 0 ? -1 : 1] : [0, 1, 0]
  const level = normalize(cross(worldUp, back), [1, 0, 0])
  const roll = ((camera.rollDeg ?? 0) * Math.PI) / 180
  const upLevel = cross(back, level)
  const right = add(scale(level, Math.cos(roll)), scale(upLevel, Math.sin(roll)))
  const up = cross(back, right)
  const parallel = camera.orthoHeight !== null
  const halfHeight =
    camera.orthoHeight !== null ? camera.orthoHeight / 2 : Math.tan((camera.fovDeg * Math.PI) / 360)
  const [shiftX, shiftY] = camera.shift ?? [0, 0]
  // Where the target lies on an upright picture plane.
  const away = dot(sight, back)
  const aimX = upright ? -dot(sight, right) / away : 0
  const aimY = upright ? -dot(sight, up) / away : 0
  return {
    eye: camera.eye,
    right,
    up,
    back,
    halfHeight,
    halfWidth: (halfHeight * frame.width) / frame.height,
    centreX: aimX + 2 * halfHeight * shiftX,
    centreY: aimY + 2 * halfHeight * shiftY,
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
  out[0] = ((cx / along - basis.centreX) / basis.halfWidth + 1) * 0.5 * frame.width
  out[1] = (1 - (cy / along - basis.centreY) / basis.halfHeight) * 0.5 * frame.height
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

/** Unit vector from the target to the eye. @param azimuthDeg 0 is +Z, 90 is +X. @param elevationDeg 90 is +Y. */
export function directionFrom(azimuthDeg: number, elevationDeg: number): Vec3 {
  const azimuth = (azimuthDeg * Math.PI) / 180
  const elevation = (elevationDeg * Math.PI) / 180
  const level = Math.cos(elevation)
  return [Math.sin(azimuth) * level, Math.sin(elevation), Math.cos(azimuth) * level]
}

/** The opposite of {@link directionFrom}: azimuth and elevation in degrees of a direction of any length. */
export const anglesOf = (direction: Vec3): readonly [azimuthDeg: number, elevationDeg: number] => [
  (Math.atan2(direction[0], direction[2]) * 180) / Math.PI,
  (Math.atan2(direction[1], Math.hypot(direction[0], direction[2])) * 180) / Math.PI,
]

/** What a framing keeps of a camera: its lens and how it looks, not where it stands. */
export type Lens = Omit<Camera, 'eye' | 'target'>

export const plainLens = (fovDeg = 30, orthographic = false): Lens => ({
  fovDeg,
  orthoHeight: orthographic ? 1 : null,
})

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
  lens: Lens = plainLens(),
  margin = 0.05,
): Camera {
  const sight = directionFrom(azimuthDeg, elevationDeg)
  const parallel = lens.orthoHeight !== null

  // 1. A middle to measure from, so that nothing is lost to rounding far from the origin.
  const box = boxOf(points)
  if (!box) throw new InvalidValueError('points', 'must not be empty', 0)
  const centre: Vec3 = scale(add(box.min, box.max), 0.5)
  const size = Math.hypot(...subtract(box.max, box.min)) || 1
  const basis = cameraBasis(
    { ...lens, eye: add(centre, sight), target: centre, orthoHeight: parallel ? 2 : null },
    frame,
  )
  const { right, up, back, centreX, centreY } = basis
  const limit = 1 - 2 * margin

  // 2. For each of the four picture sides the eye must stand so far back that every point is inside: with the slope k of
  // that side, x − k·(distance − z) ≤ eye's x. Opposite sides give the eye's place and the distance together. A parallel
  // projection is the same with k = 0 and a width instead of a distance.
  const slope = (middle: number, half: number) => (parallel ? 0 : middle + half * limit)
  const [slopeEast, slopeWest] = [slope(centreX, basis.halfWidth), slope(centreX, -basis.halfWidth)]
  const [slopeNorth, slopeSouth] = [slope(centreY, basis.halfHeight), slope(centreY, -basis.halfHeight)]
  let [east, north, nearest] = [-Infinity, -Infinity, -Infinity]
  let [west, south] = [Infinity, Infinity]
  points((px, py, pz) => {
    const x = px - centre[0]
    const y = py - centre[1]
    const z = pz - centre[2]
    const cx = x * right[0] + y * right[1] + z * right[2]
    const cy = x * up[0] + y * up[1] + z * up[2]
    const cz = x * back[0] + y * back[1] + z * back[2]
    east = Math.max(east, cx + slopeEast * cz)
    west = Math.min(west, cx + slopeWest * cz)
    north = Math.max(north, cy + slopeNorth * cz)
    south = Math.min(south, cy + slopeSouth * cz)
    nearest = Math.max(nearest, cz)
  })
  const placed = (x: number, y: number, distance: number): Vec3 =>
    add(add(add(centre, scale(right, x)), scale(up, y)), scale(back, distance))
  if (parallel) {
    const halfHeight = Math.max((north - south) / 2, ((east - west) / 2) * (frame.height / frame.width))
    const height = (2 * halfHeight) / limit || 1
    const [x, y] = [(east + west) / 2 - (centreX * height) / 2, (north + south) / 2 - (centreY * height) / 2]
    return {
      ...lens,
      eye: placed(x, y, nearest + size + height),
      target: placed(x, y, 0),
      orthoHeight: height,
    }
  }
  const distance = Math.max(
    (east - west) / (slopeEast - slopeWest),
    (north - south) / (slopeNorth - slopeSouth),
    nearest + size * 1e-3,
  )
  const eye = placed(
    (east + west) / 2 - centreX * distance,
    (north + south) / 2 - centreY * distance,
    distance,
  )
  // Along the line of sight, level with the middle of the points.
  const along = distance / dot(sight, back)
  return { ...lens, eye, target: subtract(eye, scale(sight, along)) }
}

/** {@link framePoints} on the corners of a box. */
export const frameBounds = (
  bounds: Bounds,
  azimuthDeg: number,
  elevationDeg: number,
  frame: Frame,
  lens: Lens = plainLens(),
  margin = 0.05,
): Camera => framePoints(boxCorners(bounds), azimuthDeg, elevationDeg, frame, lens, margin)
