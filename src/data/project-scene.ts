import type { MeshSummary } from '@/core/geometry/mesh-summary'
import type { Model, PolygonMesh } from '@/core/geometry/polygon-mesh'
import { AT_ORIGIN, copyMatrices } from '@/core/scene/placement'
import type { SceneModel } from '@/core/scene/scene-geometry'
import type { Registration } from '@/core/scene/registration'
import { makeRegistration } from '@/core/scene/registration'
import type { ModelSource, Project, ProjectModel, Shot } from './project-schema'

/**
 * What a freshly read model becomes in a project.
 * @param source where its geometry comes from.
 * @param summary of its mesh.
 */
export function toProjectModel(
  id: string,
  source: ModelSource,
  model: Omit<Model, 'mesh'>,
  summary: MeshSummary,
): ProjectModel {
  return {
    id,
    name: model.name,
    source,
    repairs: [],
    geometryHash: summary.geometryHash,
    placement: structuredClone(AT_ORIGIN),
    copies: { kind: 'one' },
    parts: model.parts.map((part, i) => ({
      key: `${id}/${i}`,
      name: part.name,
      parent: part.parent,
      role: 'subject',
      polygons: summary.parts[i].polygons,
      materials: [...summary.parts[i].materials],
      groupId: null,
    })),
    materials: model.materials.map((material, i) => ({
      key: `${id}/${i}`,
      name: material.name,
      baseColour: [...material.baseColour],
      fileColour: [...material.baseColour],
      roughness: material.roughness,
      highlight: material.highlight,
      opacity: material.opacity,
      emission: [...material.emission],
      texture: material.texture === null ? null : model.textures[material.texture].name,
      textureBrightness: 1,
    })),
    polygons: { ...summary.polygonsBySides },
    warnings: [...model.warnings],
    cameras: model.cameras.map(({ name, camera }) => ({ name, camera: { ...camera } })),
  }
}

/** A project's models as the renderer takes them. @param meshOf the loaded mesh of a model. */
export const toSceneModels = (
  project: Pick<Project, 'models'>,
  meshOf: (modelId: string) => PolygonMesh,
): SceneModel[] =>
  project.models.map((model) => ({
    mesh: meshOf(model.id),
    transforms: copyMatrices(model.placement, model.copies),
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
