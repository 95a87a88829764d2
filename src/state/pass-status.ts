import { hashJson } from '@/core/math/stable-hash'
import { passKind } from '@/core/passes/registry'
import { registrationDifferences, type Registration } from '@/core/scene/registration'
import { lightDifferences } from '@/core/scene/rendered-light'
import { activePasses, rigOf, shotOf } from '@/data/active-shot'
import { currentRegistration, partNameOf } from '@/data/project-scene'
import type { Project, ProjectPass } from '@/data/project-schema'

export type PassStatus =
  | { readonly state: 'empty' }
  | { readonly state: 'ready' }
  | { readonly state: 'out of register'; readonly reasons: readonly string[] }

/** A project document never changes in place, so what follows from one is worked out once. */
interface Known {
  /** By shot. */
  readonly registrations: Map<string, Registration>
  readonly statuses: Map<ProjectPass, PassStatus>
}
const known = new WeakMap<Project, Known>()

function workOut(project: Project, pass: ProjectPass, registration: Registration): PassStatus {
  if (!pass.rendered) return { state: 'empty' }
  const reasons = registrationDifferences(pass.rendered.registration, registration, partNameOf(project))
  if (passKind(pass.kind).usesLights)
    reasons.push(...lightDifferences(pass.rendered.lights, rigOf(project, shotOf(project, pass))))
  if (hashJson(pass.rendered.params) !== hashJson(pass.params)) reasons.push('its settings changed')
  return reasons.length > 0 ? { state: 'out of register', reasons } : { state: 'ready' }
}

/** Where a pass stands against the project of now. */
export function passStatus(project: Project, pass: ProjectPass): PassStatus {
  let entry = known.get(project)
  if (!entry) {
    entry = { registrations: new Map(), statuses: new Map() }
    known.set(project, entry)
  }
  let status = entry.statuses.get(pass)
  if (!status) {
    let registration = entry.registrations.get(pass.shotId)
    if (!registration) {
      registration = currentRegistration(project, shotOf(project, pass))
      entry.registrations.set(pass.shotId, registration)
    }
    status = workOut(project, pass, registration)
    entry.statuses.set(pass, status)
  }
  return status
}

/** Passes of the shot at work that were rendered and no longer fit. */
export const outOfRegister = (project: Project): ProjectPass[] =>
  activePasses(project).filter((p) => passStatus(project, p).state === 'out of register')
