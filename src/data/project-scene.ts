import type { Model, PolygonMesh } from '@/core/geometry/polygon-mesh'
import { faceCount, polygonsBySides } from '@/core/geometry/polygon-mesh'
import { hashBytes, hashJson } from '@/core/math/stable-hash'
import type { SceneModel } from '@/core/scene/scene-geometry'
import type { Registration } from '@/core/scene/registration'
import { makeRegistration } from '@/core/scene/registration'
import type { Project, ProjectModel, Shot } from './project-schema'

/** What a freshly read model becomes in a project. `files` are where its bytes are kept. */
export function toProjectModel(
  id: string,
  entry: string,
  files: ProjectModel['files'],
  model: Model,
): ProjectModel {
  const { mesh } = model
  const polygons = new Array<number>(model.parts.length).fill(0)
  const materials = model.parts.map(() => new Set<number>())
  for (let f = 0; f < faceCount(mesh); f++) {
    polygons[mesh.faceParts[f]]++
    materials[mesh.faceParts[f]].add(mesh.faceMaterials[f])
  }
  return {
    id,
    name: model.name,
    entry,
    files,
    geometryHash: hashJson([
      hashBytes(mesh.positions),
      hashBytes(mesh.cornerVertices),
      hashBytes(mesh.faceStarts),
      hashBytes(mesh.cornerNormals),
    ]),
    placement: { position: [0, 0, 0], turnDeg: 0, scale: 1 },
    parts: model.parts.map((part, i) => ({
      key: `${id}/${i}`,
      name: part.name,
      parent: part.parent,
      role: 'subject',
      polygons: polygons[i],
      materials: [...materials[i]].sort((a, b) => a - b),
    })),
    materials: model.materials.map((material, i) => ({
      key: `${id}/${i}`,
      name: material.name,
      baseColour: [...material.baseColour],
    })),
    polygons: polygonsBySides(mesh),
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
