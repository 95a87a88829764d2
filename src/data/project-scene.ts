import type { MeshSummary } from '@/core/geometry/mesh-summary'
import type { Model, PolygonMesh } from '@/core/geometry/polygon-mesh'
import { AT_ORIGIN, copyMatrices } from '@/core/scene/placement'
import type { SceneModel, ScenePart } from '@/core/scene/scene-geometry'
import { roleNow } from '@/core/scene/part-role'
import type { Registration } from '@/core/scene/registration'
import { makeRegistration } from '@/core/scene/registration'
import type { MaterialAspect } from '@/core/passes/pass-kind'
import { hashJson } from '@/core/math/stable-hash'
import { passKind, type PassKindName } from '@/core/passes/registry'
import type {
  BesideSheets,
  ModelSource,
  Project,
  ProjectModel,
  ProjectPass,
  Rendered,
  Shot,
} from './project-schema'

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
      hidden: false,
      polygons: summary.parts[i].polygons,
      sides: { ...summary.parts[i].sides },
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

/** What a scene needs of a model that was read: the geometry as repaired, and what the document does not keep. */
export interface SceneSource extends Pick<Model, 'materials' | 'textures'> {
  readonly mesh: PolygonMesh
}

/** A project's models as the renderer takes them. @param sourceOf the loaded model. */
export const toSceneModels = (
  project: Pick<Project, 'models' | 'groups'>,
  sourceOf: (modelId: string) => SceneSource,
): SceneModel[] => {
  const pathOf = groupPaths(project.groups)
  return project.models.map((model) => {
    const source = sourceOf(model.id)
    return {
      mesh: source.mesh,
      transforms: copyMatrices(model.placement, model.copies),
      parts: scenePartsOf(model, pathOf),
      materials: model.materials.map(({ fileColour: _file, texture, ...material }, i) => {
        const { alpha = 'opaque', alphaCut = 0.5, texture: picture = null } = source.materials[i] ?? {}
        return { ...material, texture: texture === null ? null : picture, alpha, alphaCut }
      }),
      textures: source.textures.map(({ bytes }) => bytes),
    }
  })
}

const scenePartsOf = (
  { parts }: Pick<ProjectModel, 'parts'>,
  pathOf: ReturnType<typeof groupPaths>,
): ScenePart[] =>
  parts.map((part) => ({
    key: part.key,
    name: part.name,
    role: roleNow(part),
    group: pathOf(part.groupId),
  }))

/** All parts of a project's scene, in its order. */
export function sceneParts({ models, groups }: Pick<Project, 'models' | 'groups'>): ScenePart[] {
  const pathOf = groupPaths(groups)
  return models.flatMap((model) => scenePartsOf(model, pathOf))
}

/** The registration a pass of this shot would be rendered with now. */
export const currentRegistration = (project: BesideSheets, shot: Shot): Registration =>
  makeRegistration(shot.camera, shot.frame, project.models)

const ASPECTS: Readonly<Record<MaterialAspect, (m: ProjectModel['materials'][number]) => unknown>> = {
  colour: (m) => m.baseColour,
  finish: (m) => [m.roughness, m.highlight, m.emission],
  transparency: (m) => m.opacity,
  texture: (m) => [m.texture, m.textureBrightness],
}

/** Of each material by key, a hash of what a pass of that kind shows of it; none where it shows nothing. */
export function materialHashes(
  { models }: Pick<Project, 'models'>,
  kind: PassKindName,
): Record<string, string> {
  const { reads } = passKind(kind)
  if (reads.length === 0) return {}
  return Object.fromEntries(
    models.flatMap((model) =>
      model.materials.map((material) => [
        material.key,
        hashJson(reads.map((aspect) => ASPECTS[aspect](material))),
      ]),
    ),
  )
}

/** Gives the names of the groups that one lies in, outermost first, its own last. */
function groupPaths(list: Project['groups']): (id: string | null) => string[] {
  const groups = new Map(list.map((group) => [group.id, group]))
  const pathOf = (id: string | null): string[] => {
    const group = id === null ? undefined : groups.get(id)
    return group ? [...pathOf(group.parentId), group.name] : []
  }
  return pathOf
}

/** A pass's surfaces as the project has them now: base colours of materials, groups and roles of parts. */
export function surfacesNow(
  surfaces: Rendered['surfaces'],
  { models, groups }: Pick<Project, 'models' | 'groups'>,
): Rendered['surfaces'] {
  const colours = new Map(models.flatMap((m) => m.materials).map((m) => [m.key, m.baseColour]))
  const parts = new Map(models.flatMap((m) => m.parts).map((part) => [part.key, part]))
  const pathOf = groupPaths(groups)
  return surfaces.map((surface) => {
    const part = parts.get(surface.part)
    return {
      ...surface,
      baseColour: colours.get(surface.material) ?? surface.baseColour,
      ...(part && { groups: pathOf(part.groupId), role: part.role }),
    }
  })
}

/** Materials that a rendered pass shows otherwise than they are now. */
export function changedMaterials(
  project: Pick<Project, 'models'>,
  pass: Pick<ProjectPass, 'kind' | 'rendered'>,
): { key: string; name: string }[] {
  const before = pass.rendered?.materials ?? {}
  const now = materialHashes(project, pass.kind)
  return project.models
    .flatMap((model) => model.materials)
    .filter(({ key }) => before[key] !== undefined && before[key] !== now[key])
    .map(({ key, name }) => ({ key, name }))
}

/** A part's name by key, for messages. */
export const partNameOf =
  (project: BesideSheets) =>
  (key: string): string =>
    project.models.flatMap((m) => m.parts).find((p) => p.key === key)?.name ?? key
