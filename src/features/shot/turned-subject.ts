import { useMeshStore } from '@/state/mesh-store'
import { roleNow } from '@/core/scene/part-role'
import type { Placement } from '@/core/scene/placement'
import { subjectExtent } from '@/state/subject-extent'
import type { Project } from '@/data/project-schema'

/** A placement turned about the vertical through a point. */
export function turnedPlacement(placement: Placement, degrees: number, x: number, z: number): Placement {
  const angle = (degrees * Math.PI) / 180
  const [cosine, sine] = [Math.cos(angle), Math.sin(angle)]
  const [px, py, pz] = placement.position
  const [dx, dz] = [px - x, pz - z]
  const [tilt, turn, roll] = placement.rotationDeg
  return {
    ...placement,
    position: [x + cosine * dx + sine * dz, py, z + cosine * dz - sine * dx],
    rotationDeg: [tilt, turn + degrees, roll],
  }
}

/** The project with its subject turned about the vertical through its middle; models without a subject stay. */
export function turnedSubject(project: Project, degrees: number): Project {
  const { models } = useMeshStore.getState()
  const extent = subjectExtent(project, (id) => models[id]?.outline)
  if (!extent) return project
  const [x, , z] = extent.bounds.min.map((v, axis) => (v + extent.bounds.max[axis]) / 2)
  return {
    ...project,
    models: project.models.map((model) =>
      model.parts.some((part) => roleNow(part) === 'subject')
        ? { ...model, placement: turnedPlacement(model.placement, degrees, x, z) }
        : model,
    ),
  }
}
