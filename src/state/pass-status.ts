import { hashJson } from '@/core/math/stable-hash'
import type { ParamValues } from '@/core/params'
import { passKind, type PassKindName } from '@/core/passes/registry'
import { memberRig } from '@/core/passes/render-tile'
import { registrationDifferences, type Registration } from '@/core/scene/registration'
import { lightDifferences } from '@/core/scene/rendered-light'
import { activePasses, rigOfPass, shotOf } from '@/data/active-shot'
import { changedMaterials, currentRegistration, partNameOf } from '@/data/project-scene'
import type { BesideSheets, Project, ProjectPass } from '@/data/project-schema'

export type PassStatus =
  | { readonly state: 'empty' }
  | { readonly state: 'ready' }
  | { readonly state: 'out of register'; readonly reasons: readonly string[] }

/** What statuses follow from, besides the pass itself. Documents never change in place: the same parts, the same statuses. */
type From = Pick<Project, 'models' | 'groups' | 'shots' | 'rigs'>
interface Known extends From {
  /** By shot. */
  readonly registrations: Map<string, Registration>
  readonly statuses: Map<ProjectPass, PassStatus>
}
/** What is known of the last such parts: edits of a sheet leave them alone. */
let known: Known | null = null

function knownOf({ models, groups, shots, rigs }: BesideSheets): Known {
  const isSame =
    known?.models === models && known.groups === groups && known.shots === shots && known.rigs === rigs
  if (!known || !isSame)
    known = { models, groups, shots, rigs, registrations: new Map(), statuses: new Map() }
  return known
}

/** Values with their defaults, so that a parameter which came later is no difference. */
const complete = (kind: PassKindName, values: ParamValues): unknown => {
  const parsed = passKind(kind).renderSchema.safeParse(values)
  return parsed.success ? parsed.data : values
}

/** What changed but materials, in short phrases. */
function otherReasons(project: BesideSheets, pass: ProjectPass, registration: Registration): string[] {
  const { rendered, kind } = pass
  if (!rendered) return []
  const reasons = registrationDifferences(rendered.registration, registration, partNameOf(project))
  if (passKind(kind).usesLights(pass.params))
    reasons.push(...lightDifferences(rendered.lights, memberRig(rigOfPass(project, pass), pass.members)))
  if (hashJson(complete(kind, rendered.params)) !== hashJson(complete(kind, pass.params)))
    reasons.push('its settings changed')
  const { lights: _before, ...partsBefore } = rendered.members
  const { lights: _now, ...partsNow } = pass.members
  if (hashJson(partsBefore) !== hashJson(partsNow)) reasons.push('its parts changed')
  return reasons
}

/** Whether a pass is out of register by its materials alone. */
export const isOnlyMaterials = (project: BesideSheets, pass: ProjectPass): boolean =>
  changedMaterials(project, pass).length > 0 &&
  otherReasons(project, pass, currentRegistration(project, shotOf(project, pass))).length === 0

function workOut(project: BesideSheets, pass: ProjectPass, registration: Registration): PassStatus {
  if (!pass.rendered) return { state: 'empty' }
  const reasons = otherReasons(project, pass, registration)
  const changed = changedMaterials(project, pass)
  if (changed.length > 3) reasons.push(`${changed.length} materials changed`)
  else reasons.push(...changed.map(({ name }) => `material ${name} changed`))
  return reasons.length > 0 ? { state: 'out of register', reasons } : { state: 'ready' }
}

/** Where a pass stands against the project of now. */
export function passStatus(project: BesideSheets, pass: ProjectPass): PassStatus {
  const entry = knownOf(project)
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
export const outOfRegister = (project: BesideSheets): ProjectPass[] =>
  activePasses(project).filter((p) => passStatus(project, p).state === 'out of register')
