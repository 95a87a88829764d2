import { MeshBuilder } from '../mesh-builder'
import type { Model } from '../polygon-mesh'
import { PLAIN_MATERIAL } from '../polygon-mesh'

/** A builder with one part and one light material of a name. */
export function propBuilder(name: string): MeshBuilder {
  const builder = new MeshBuilder()
  builder.parts.push({ name, parent: -1 })
  builder.materials.push({
    ...PLAIN_MATERIAL,
    name,
    baseColour: [0.86, 0.85, 0.83],
    roughness: 0.9,
    highlight: 0.05,
  })
  return builder
}

/** A strip of quads along a profile, drawn across X. @param profile y, z pairs from back to front. */
export function extrudeProfile(
  name: string,
  profile: readonly (readonly [number, number])[],
  width: number,
): Model {
  const builder = propBuilder(name)
  for (const [y, z] of profile) {
    builder.positions.push3(-width / 2, y, z)
    builder.positions.push3(width / 2, y, z)
  }
  for (let i = 0; i + 1 < profile.length; i++)
    builder.addFace([2 * i, 2 * i + 2, 2 * i + 3, 2 * i + 1], null, null, 0, 0)
  return builder.finish(name)
}

/** A form turned about Y. @param profile radius, y pairs from the bottom's middle to the top's. */
export function turnProfile(
  name: string,
  profile: readonly (readonly [number, number])[],
  sides: number,
): Model {
  const builder = propBuilder(name)
  const rings = profile.map(([radius, y]) => {
    const first = builder.vertexTotal
    const count = radius > 0 ? sides : 1
    for (let k = 0; k < count; k++) {
      // A side, not a corner, looks to the front.
      const angle = (2 * Math.PI * (k + 0.5)) / sides
      builder.positions.push3(radius * Math.sin(angle), y, radius * Math.cos(angle))
    }
    return { first, count }
  })
  for (let i = 0; i + 1 < rings.length; i++) {
    const [below, above] = [rings[i], rings[i + 1]]
    for (let k = 0; k < sides; k++) {
      const next = (k + 1) % sides
      const at = (ring: { first: number; count: number }, j: number) =>
        ring.first + (ring.count === 1 ? 0 : j)
      builder.addFace([at(below, k), at(below, next), at(above, next), at(above, k)], null, null, 0, 0)
    }
  }
  return builder.finish(name)
}
