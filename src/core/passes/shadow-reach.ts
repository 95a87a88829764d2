import { add, dot, length, scale, subtract, type Vec3 } from '../math/vec3'
import type { SceneGeometry } from '../scene/scene-geometry'
import type { LightRecord } from '../trace/light-record'
import { NOTHING, POINT, POINT_NUMBERS, type PointBlock } from '../trace/point-block'

/** All within a distance of a place. */
export interface Ball {
  readonly middle: Vec3
  readonly radius: number
}

/** Of a sky less than this share hidden is not seen: a step of 8 bits, were all that is in the ball hidden. */
const FAINT = 1 / 256

/** The ball around the boxes of some parts, one byte a part; null where they have no triangles. */
export function ballOfParts({ tree }: Pick<SceneGeometry, 'tree'>, parts: Uint8Array): Ball | null {
  const [x0, y0, z0, x1, y1, z1] = tree.boxOfParts(parts)
  return ballOf([x0, y0, z0], [x1, y1, z1])
}

/** The ball around the points of a block; null where it has none. */
export function ballOfPoints({ count, floats, ints }: PointBlock): Ball | null {
  const min: [number, number, number] = [Infinity, Infinity, Infinity]
  const max: [number, number, number] = [-Infinity, -Infinity, -Infinity]
  for (let i = 0; i < count; i++) {
    const at = POINT_NUMBERS * i
    if (ints[at + POINT.slot] === NOTHING) continue
    for (let axis = 0; axis < 3; axis++) {
      const value = floats[at + POINT.start + axis]
      if (value < min[axis]) min[axis] = value
      if (value > max[axis]) max[axis] = value
    }
  }
  return ballOf(min, max)
}

function ballOf(min: Vec3, max: Vec3): Ball | null {
  if (!(min[0] <= max[0])) return null
  const middle = scale(add(min, max), 0.5)
  // A little larger: sides of triangles are tested in 32 bits.
  return { middle, radius: length(subtract(max, middle)) * 1.0001 + 1e-6 * length(middle) }
}

/**
 * Whether anything in one ball may keep a light from points in another, so that it would be seen. False only where it cannot.
 */
export function mayThrow(light: LightRecord, thrower: Ball, points: Ball): boolean {
  const way = subtract(thrower.middle, points.middle)
  const near = thrower.radius + points.radius
  if (light.kind === 'picture') return true
  if (light.kind === 'sky') {
    const between = length(way) - points.radius
    return between <= thrower.radius || (thrower.radius / between) ** 2 > FAINT
  }
  const spread = Math.hypot(length(light.first), length(light.second))
  if (light.kind === 'parallel') {
    const along = dot(way, light.to)
    if (along < -near) return false
    const aside = length(subtract(way, scale(light.to, along)))
    return aside <= near + Math.max(0, along + near) * spread
  }
  // As far from the way to the middle of the light as both ends are wide.
  const span = subtract(light.middle, points.middle)
  const share = Math.min(1, Math.max(0, dot(way, span) / Math.max(1e-30, dot(span, span))))
  const aside = length(subtract(way, scale(span, share)))
  return aside <= thrower.radius + Math.max(points.radius, spread)
}
