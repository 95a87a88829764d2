import type { Bounds } from '@/core/geometry/polygon-mesh'
import { faceCount, type PolygonMesh } from '@/core/geometry/polygon-mesh'
import type { Project } from '@/data/project-schema'

/** The box of the subject (of all that is seen, where nothing is subject) in world units; null without any. */
export function subjectBounds(
  project: Pick<Project, 'models'>,
  meshOf: (id: string) => PolygonMesh | undefined,
): Bounds | null {
  for (const roles of [['subject'], ['subject', 'ground']]) {
    const min: [number, number, number] = [Infinity, Infinity, Infinity]
    const max: [number, number, number] = [-Infinity, -Infinity, -Infinity]
    for (const model of project.models) {
      const mesh = meshOf(model.id)
      if (!mesh) continue
      const { position, turnDeg, scale } = model.placement
      const c = Math.cos((turnDeg * Math.PI) / 180)
      const s = Math.sin((turnDeg * Math.PI) / 180)
      for (let f = 0; f < faceCount(mesh); f++) {
        if (!roles.includes(model.parts[mesh.faceParts[f]].role)) continue
        for (let k = mesh.faceStarts[f]; k < mesh.faceStarts[f + 1]; k++) {
          const v = 3 * mesh.cornerVertices[k]
          const [x, y, z] = [mesh.positions[v], mesh.positions[v + 1], mesh.positions[v + 2]]
          const p = [
            scale * (c * x + s * z) + position[0],
            scale * y + position[1],
            scale * (c * z - s * x) + position[2],
          ]
          for (let axis = 0; axis < 3; axis++) {
            min[axis] = Math.min(min[axis], p[axis])
            max[axis] = Math.max(max[axis], p[axis])
          }
        }
      }
    }
    if (min[0] <= max[0]) return { min, max }
  }
  return null
}
