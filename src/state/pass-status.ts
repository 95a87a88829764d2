import { hashJson } from '@/core/math/stable-hash'
import { registrationDifferences } from '@/core/scene/registration'
import { currentRegistration, partNameOf } from '@/data/project-scene'
import type { Project, ProjectPass } from '@/data/project-schema'

export type PassStatus =
  | { readonly state: 'empty' }
  | { readonly state: 'ready' }
  | { readonly state: 'out of register'; readonly reasons: readonly string[] }

/** Where a pass stands against the project of now. */
export function passStatus(project: Project, pass: ProjectPass): PassStatus {
  if (!pass.rendered) return { state: 'empty' }
  const now = currentRegistration(project, project.shots[0])
  const reasons = registrationDifferences(pass.rendered.registration, now, partNameOf(project))
  if (hashJson(pass.rendered.params) !== hashJson(pass.params)) reasons.push('its settings changed')
  return reasons.length > 0 ? { state: 'out of register', reasons } : { state: 'ready' }
}

/** Passes that were rendered and no longer fit. */
export const outOfRegister = (project: Project): ProjectPass[] =>
  project.passes.filter((p) => passStatus(project, p).state === 'out of register')
