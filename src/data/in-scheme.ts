import type { Project } from './project-schema'

const made = new WeakMap<Project, Map<string, Project>>()

/** A project coloured by one of its schemes; materials it does not know stay as they are. The same object for the same project. */
export function inScheme(project: Project, schemeId: string): Project {
  const known = made.get(project) ?? new Map<string, Project>()
  made.set(project, known)
  const colours = project.schemes.find(({ id }) => id === schemeId)?.colours ?? {}
  const own =
    known.get(schemeId) ??
    ({
      ...project,
      schemeId,
      models: project.models.map((model) => ({
        ...model,
        materials: model.materials.map((material) => ({
          ...material,
          baseColour: colours[material.key] ?? material.baseColour,
        })),
      })),
    } satisfies Project)
  known.set(schemeId, own)
  return own
}
