import { cameraBasis, projectPoint, type Camera, type Frame } from './camera'
import type { Bounds } from '../geometry/bounds'
import type { Vec3 } from '../math/vec3'

/** Where a shadow on the ground lies in a picture, in shares of its width and height. */
export interface FallenPlace {
  /** Middle of what throws it, where that stands. */
  readonly foot: readonly [number, number]
  /** Its top, above that. */
  readonly head: readonly [number, number]
  /** Where the shadow of its top lies on the ground. */
  readonly falls: readonly [number, number]
}

/** A light is never lower over the ground than that, so that its shadow ends somewhere: the sine of its height. */
const LOWEST = 0.12
/** A shadow goes up or down in the picture by so much of how far it goes across. */
const LEAST_BREADTH = 0.2

type Place = readonly [number, number]

/**
 * The shadow of a box under a light that comes from one direction: the middle of its top lies away from the light, as far
 * as the box is high over the tangent of the light's height.
 * @param toLight unit direction towards the light; up is +y. @returns null where it lies behind the eye.
 */
export function fallenPlace(bounds: Bounds, camera: Camera, frame: Frame, toLight: Vec3): FallenPlace | null {
  const { min, max } = bounds
  const [x, z] = [(min[0] + max[0]) / 2, (min[2] + max[2]) / 2]
  const rise = Math.max(LOWEST, toLight[1])
  const far = (max[1] - min[1]) / rise
  const basis = cameraBasis(camera, frame)
  const out = new Float64Array(3)
  const places = [
    [x, min[1], z],
    [x, max[1], z],
    [x - far * toLight[0], min[1], z - far * toLight[2]],
  ].map(([px, py, pz]) => {
    projectPoint(basis, frame, px, py, pz, out)
    return out[2] > 0 ? ([out[0] / frame.width, out[1] / frame.height] as const) : null
  })
  const [foot, head, falls] = places
  return foot && head && falls ? { foot, head, falls: broad(foot, falls, frame) } : null
}

/** A shadow that falls to the side is seen as the thinnest of lines: it is laid a little towards the viewer then. */
function broad([x, y]: Place, [fx, fy]: Place, { width, height }: Frame): Place {
  const least = (LEAST_BREADTH * Math.abs(fx - x) * width) / height
  return Math.abs(fy - y) >= least ? [fx, fy] : [fx, y + least * (fy < y - least / 2 ? -1 : 1)]
}
