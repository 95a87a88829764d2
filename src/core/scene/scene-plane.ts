import { add, cross, dot, normalize, scale, subtract, type Vec3 } from '../math/vec3'
import { cameraBasis, projectPoint, type Camera, type Frame } from './camera'

/** A place on a surface of the scene, and which way the surface faces: what something flat is laid on. */
export interface ScenePlane {
  readonly at: Vec3
  /** Unit length, away from the surface. */
  readonly normal: Vec3
}

/** A place of a shot's picture, in shares from its upper left. */
export type PicturePlace = readonly [number, number]

/** The point of the scene that is seen at a place. @param depth distance along the view axis, world units. */
export function seenPoint(camera: Camera, frame: Frame, [u, v]: PicturePlace, depth: number): Vec3 {
  const basis = cameraBasis(camera, frame)
  const along = basis.parallel ? 1 : depth
  const right = ((2 * u - 1) * basis.halfWidth + basis.centreX) * along
  const up = ((1 - 2 * v) * basis.halfHeight + basis.centreY) * along
  return add(add(basis.eye, scale(basis.back, -depth)), add(scale(basis.right, right), scale(basis.up, up)))
}

/** From so steep a normal on, a surface is a floor: what lies on it is read from where the camera stands. */
const FLOOR = 0.7

/** Two unit vectors in a plane: to the right and downwards, as what is written on it is read. */
export function readingAxes(
  { normal }: Pick<ScenePlane, 'normal'>,
  camera: Camera,
  frame: Frame,
): readonly [Vec3, Vec3] {
  const basis = cameraBasis(camera, frame)
  const inPlane = (v: Vec3): Vec3 => subtract(v, scale(normal, dot(v, normal)))
  if (Math.abs(normal[1]) > FLOOR) {
    const across = normalize(inPlane(basis.right), [1, 0, 0])
    const down = cross(across, normal)
    // Down is towards the viewer.
    return [across, scale(down, dot(down, basis.back) < 0 ? -1 : 1)]
  }
  const up = normalize(inPlane([0, 1, 0]), [0, 1, 0])
  const across = cross(up, normal)
  return [across, scale(up, -1)]
}

/**
 * Where a rectangle that lies on a plane is seen.
 * @param width, height of the rectangle in world units, its middle at the plane's place. @param turnDeg clockwise.
 * @returns its corners from the upper left clockwise, in shares of the picture; null where one lies behind the eye.
 */
export function laidCorners(
  plane: ScenePlane,
  width: number,
  height: number,
  turnDeg: number,
  camera: Camera,
  frame: Frame,
): readonly [PicturePlace, PicturePlace, PicturePlace, PicturePlace] | null {
  const basis = cameraBasis(camera, frame)
  const [right, down] = readingAxes(plane, camera, frame)
  const angle = (turnDeg * Math.PI) / 180
  const across = add(scale(right, Math.cos(angle)), scale(down, Math.sin(angle)))
  const along = add(scale(down, Math.cos(angle)), scale(right, -Math.sin(angle)))
  const out = new Float64Array(3)
  const corner = (x: number, y: number): PicturePlace | null => {
    const point = add(plane.at, add(scale(across, x * width), scale(along, y * height)))
    projectPoint(basis, frame, ...point, out)
    return out[2] > 0 ? [out[0] / frame.width, out[1] / frame.height] : null
  }
  const [a, b, c, d] = [corner(-0.5, -0.5), corner(0.5, -0.5), corner(0.5, 0.5), corner(-0.5, 0.5)]
  return a && b && c && d ? [a, b, c, d] : null
}

/** Where the line of sight through a place of the picture meets a plane; null where it runs along it, or away. */
export function sightOn(plane: ScenePlane, camera: Camera, frame: Frame, [u, v]: PicturePlace): Vec3 | null {
  const basis = cameraBasis(camera, frame)
  const x = (2 * u - 1) * basis.halfWidth + basis.centreX
  const y = (1 - 2 * v) * basis.halfHeight + basis.centreY
  const beside = add(scale(basis.right, x), scale(basis.up, y))
  const from = basis.parallel ? add(basis.eye, beside) : basis.eye
  const direction = basis.parallel ? scale(basis.back, -1) : subtract(beside, basis.back)
  const slope = dot(direction, plane.normal)
  if (Math.abs(slope) < 1e-6) return null
  const t = dot(subtract(plane.at, from), plane.normal) / slope
  return t > 0 ? add(from, scale(direction, t)) : null
}
