import type { DisplayTriangles } from '@/core/geometry/display-triangles'
import type { Bounds } from '@/core/geometry/polygon-mesh'
import type { Project } from '@/data/project-schema'

/** The box of the subject (of all that is seen, where nothing is subject) in world units; null without any. */
export function subjectBounds(
  project: Pick<Project, 'models'>,
  displayOf: (id: string) => DisplayTriangles | undefined,
): Bounds | null {
  for (const roles of [['subject'], ['subject', 'ground']]) {
    const min: [number, number, number] = [Infinity, Infinity, Infinity]
    const max: [number, number, number] = [-Infinity, -Infinity, -Infinity]
    for (const model of project.models) {
      const display = displayOf(model.id)
      if (!display) continue
      const { positions, partStarts } = display
      const { position, turnDeg, scale } = model.placement
      const c = scale * Math.cos((turnDeg * Math.PI) / 180)
      const s = scale * Math.sin((turnDeg * Math.PI) / 180)
      model.parts.forEach((part, p) => {
        if (!roles.includes(part.role)) return
        for (let i = 9 * partStarts[p]; i < 9 * partStarts[p + 1]; i += 3) {
          const x = c * positions[i] + s * positions[i + 2] + position[0]
          const y = scale * positions[i + 1] + position[1]
          const z = c * positions[i + 2] - s * positions[i] + position[2]
          if (x < min[0]) min[0] = x
          if (y < min[1]) min[1] = y
          if (z < min[2]) min[2] = z
          if (x > max[0]) max[0] = x
          if (y > max[1]) max[1] = y
          if (z > max[2]) max[2] = z
        }
      })
    }
    if (min[0] <= max[0]) return { min, max }
  }
  return null
}
