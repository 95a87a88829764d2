import type { OutlinePoints } from '@/core/geometry/outline-points'
import type { Bounds } from '@/core/geometry/bounds'
import { boxOf, type PointSource } from '@/core/scene/camera'
import { copyMatrices, mapPoint } from '@/core/scene/placement'
import { roleNow, type PartRole } from '@/core/scene/part-role'
import type { Project, ProjectModel } from '@/data/project-schema'

type Models = Pick<Project, 'models'>
export type OutlineOf = (id: string) => OutlinePoints | undefined

/** The outline points of some of a model's parts, placed in the world. */
function visitModel(
  model: ProjectModel,
  outline: OutlinePoints,
  wanted: (part: ProjectModel['parts'][number]) => boolean,
  visit: (x: number, y: number, z: number) => void,
): void {
  const { positions, partStarts } = outline
  const out = [0, 0, 0]
  for (const transform of copyMatrices(model.placement, model.copies)) {
    model.parts.forEach((part, p) => {
      if (!wanted(part)) return
      for (let i = 3 * partStarts[p]; i < 3 * partStarts[p + 1]; i += 3) {
        mapPoint(transform, positions[i], positions[i + 1], positions[i + 2], out)
        visit(out[0], out[1], out[2])
      }
    })
  }
}

/** The outline points of all parts for which `wanted` holds. */
export const extentPoints =
  (
    project: Models,
    outlineOf: OutlineOf,
    wanted: (part: ProjectModel['parts'][number]) => boolean,
  ): PointSource =>
  (visit) => {
    for (const model of project.models) {
      const outline = outlineOf(model.id)
      if (outline) visitModel(model, outline, wanted, visit)
    }
  }

export interface SubjectExtent {
  readonly points: PointSource
  readonly bounds: Bounds
}

/** The subject (all that is seen, where nothing is subject): its outline points and their box; null without any. */
export function subjectExtent(project: Models, outlineOf: OutlineOf): SubjectExtent | null {
  const roleSets: readonly (readonly PartRole[])[] = [['subject'], ['subject', 'ground']]
  for (const roles of roleSets) {
    const points = extentPoints(project, outlineOf, (part) => roles.includes(roleNow(part)))
    const bounds = boxOf(points)
    if (bounds) return { points, bounds }
  }
  return null
}
