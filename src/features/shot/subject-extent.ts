import type { OutlinePoints } from '@/core/geometry/outline-points'
import type { Bounds } from '@/core/geometry/polygon-mesh'
import { boxOf, type PointSource } from '@/core/scene/camera'
import type { PartRole } from '@/core/scene/part-role'
import type { Project } from '@/data/project-schema'

type Models = Pick<Project, 'models'>
type OutlineOf = (id: string) => OutlinePoints | undefined

/** The outline points of the parts of some roles, placed in the world. */
const pointsOf =
  (project: Models, outlineOf: OutlineOf, roles: readonly PartRole[]): PointSource =>
  (visit) => {
    for (const model of project.models) {
      const outline = outlineOf(model.id)
      if (!outline) continue
      const { positions, partStarts } = outline
      const { position, turnDeg, scale } = model.placement
      const c = scale * Math.cos((turnDeg * Math.PI) / 180)
      const s = scale * Math.sin((turnDeg * Math.PI) / 180)
      model.parts.forEach((part, p) => {
        if (!roles.includes(part.role)) return
        for (let i = 3 * partStarts[p]; i < 3 * partStarts[p + 1]; i += 3) {
          visit(
            c * positions[i] + s * positions[i + 2] + position[0],
            scale * positions[i + 1] + position[1],
            c * positions[i + 2] - s * positions[i] + position[2],
          )
        }
      })
    }
  }

export interface SubjectExtent {
  readonly points: PointSource
  readonly bounds: Bounds
}

/** The subject (all that is seen, where nothing is subject): its outline points and their box; null without any. */
export function subjectExtent(project: Models, outlineOf: OutlineOf): SubjectExtent | null {
  for (const roles of [['subject'], ['subject', 'ground']] as const) {
    const points = pointsOf(project, outlineOf, roles)
    const bounds = boxOf(points)
    if (bounds) return { points, bounds }
  }
  return null
}
