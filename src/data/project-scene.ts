import type { MeshSummary } from '@/core/geometry/mesh-summary'
import type { Model, PolygonMesh } from '@/core/geometry/polygon-mesh'
import type { SceneModel } from '@/core/scene/scene-geometry'
import type { Registration } from '@/core/scene/registration'
import { makeRegistration } from '@/core/scene/registration'
import type { Project, ProjectModel, Shot } from './project-schema'

/**
 * What a freshly read model becomes in a project.
 * @param files where its bytes are kept.
 * @param summary of its mesh.
 */
export function toProjectModel(
  id: string,
  entry: string,
  files: ProjectModel['files'],
  model: Omit<Model, 'mesh'>,
  summary: MeshSummary,
): ProjectModel {
  return {
    id,
    name: model.name,
    entry,
    files,
    geometryHash: summary.geometryHash,
    placement: { position: [0, 0, 0], turnDeg: 0, scale: 1 },
    parts: model.parts.map((part, i) => ({
      key: `${id}/${i}`,
      name: part.name,
      parent: part.parent,
      role: 'subject',
      polygons: summary.parts[i].polygons,
      materials: [...summary.parts[i].materials],
    })),
    materials: model.materials.map((material, i) => ({
      key: `${id}/${i}`,
      name: material.name,
      baseColour: [...material.baseColour],
    })),
    polygons: { ...summary.polygonsBySides },
    warnings: [...model.warnings],
  }
}

/** A project's models as the renderer takes them. @param meshOf the loaded mesh of a model. */
export const toSceneModels = (project: Project, meshOf: (modelId: string) => PolygonMesh): SceneModel[] =>
  project.models.map((model) => ({
    mesh: meshOf(model.id),
    placement: model.placement,
    parts: model.parts,
    materials: model.materials,
  }))

/** The registration a pass of this shot would be rendered with now. */
export const currentRegistration = (project: Project, shot: Shot): Registration =>
  makeRegistration(shot.camera, shot.frame, project.models)

/** A part's name by key, for messages. */
export const partNameOf =
  (project: Project) =>
  (key: string): string =>
    project.models.flatMap((m) => m.parts).find((p) => p.key === key)?.name ?? key
