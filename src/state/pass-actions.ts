import type { Draft } from 'immer'
import { current } from 'immer'
import type { PassSetName } from '@/core/passes/pass-sets'
import { passSet } from '@/core/passes/pass-sets'
import { passKind, type PassKindName } from '@/core/passes/registry'
import type { Rig } from '@/core/scene/light-rig'
import { fromReadyRig, READY_RIGS } from '@/core/scene/ready-rigs'
import { removeNode } from '@/core/sheet/sheet-tree'
import { activeShot, passesOf, rigOfPass } from '@/data/active-shot'
import { beforeId } from '@/data/before-passes'
import { newId, newPass } from '@/data/new-project'
import type { ProjectPass } from '@/data/project-schema'
import { changeProject, useProjectStore } from './project-store'

/** A name no other pass of the shot has: the label, then with a number behind it. */
function freeName(label: string, taken: ReadonlySet<string>): string {
  if (!taken.has(label)) return label
  for (let n = 2; ; n++) if (!taken.has(`${label} ${n}`)) return `${label} ${n}`
}

/** Adds a pass to the shot at work. A light pass begins with one light. @returns its id. */
export function addPass(kind: PassKindName): string | null {
  const { project } = useProjectStore.getState()
  if (!project) return null
  const shot = activeShot(project)
  const names = new Set(passesOf(project, shot.id).map((p) => p.name))
  const pass = newPass(shot.id, kind)
  const rig = project.rigs.find((r) => r.id === shot.rigId)
  const lamp = rig?.lights.find((l) => l.on && l.kind !== 'dome') ?? rig?.lights.find((l) => l.on)
  const members = kind === 'light' && lamp ? { ...pass.members, lights: [lamp.id] } : pass.members
  const name = freeName(kind === 'light' && lamp ? `Light, ${lamp.name}` : passKind(kind).label, names)
  changeProject(`add ${name} pass`, (draft) => {
    draft.passes.push({ ...pass, members, name } as Draft<ProjectPass>)
  })
  return pass.id
}

/** A copy of a pass, not yet rendered, behind it. @returns its id. */
export function duplicatePass(id: string): string | null {
  const copyId = newId()
  let isMade = false
  changeProject('duplicate pass', (draft) => {
    const at = draft.passes.findIndex((p) => p.id === id)
    if (at < 0) return
    const from = current(draft.passes[at])
    const names = new Set(draft.passes.filter((p) => p.shotId === from.shotId).map((p) => p.name))
    draft.passes.splice(at + 1, 0, {
      ...structuredClone(from),
      id: copyId,
      name: freeName(from.name, names),
      rendered: null,
    } as Draft<ProjectPass>)
    isMade = true
  })
  return isMade ? copyId : null
}

/**
 * Lights a pass with a rig of its own; null is its shot's. It begins with all lights of that rig: those it held were of
 * another.
 */
export const setPassRig = (id: string, rigId: string | null): void =>
  changeProject('rig of a pass', (draft) => {
    const pass = draft.passes.find((p) => p.id === id)
    if (!pass) return
    pass.rigId = rigId
    pass.members.lights = null
  })

/**
 * A copy of a pass, lit by another rig: the next of the project, or, where there is but one, a ready one that is brought
 * in. @returns its id.
 */
export function addSecondLighting(id: string): string | null {
  const { project } = useProjectStore.getState()
  const from = project?.passes.find((p) => p.id === id)
  if (!project || !from) return null
  const own = rigOfPass(project, from)
  const used = new Set(
    passesOf(project, from.shotId)
      .filter((p) => p.kind === from.kind)
      .map((p) => rigOfPass(project, p).id),
  )
  const ready = READY_RIGS.find(({ name }) => project.rigs.every((rig) => rig.name !== name))
  const fresh = project.rigs.find((rig) => !used.has(rig.id)) ?? (ready && fromReadyRig(ready, newId))
  const rig = fresh ?? project.rigs.find((other) => other.id !== own.id)
  if (!rig) return null
  const copyId = newId()
  changeProject('second lighting', (draft) => {
    const at = draft.passes.findIndex((p) => p.id === id)
    if (draft.rigs.every((known) => known.id !== rig.id)) draft.rigs.push(rig as Draft<Rig>)
    const names = new Set(draft.passes.filter((p) => p.shotId === from.shotId).map((p) => p.name))
    draft.passes.splice(at + 1, 0, {
      ...structuredClone(from),
      id: copyId,
      name: freeName(`${passKind(from.kind).label}, ${rig.name}`, names),
      rigId: rig.id,
      members: { ...structuredClone(from.members), lights: null },
      rendered: null,
    } as Draft<ProjectPass>)
  })
  return copyId
}

/** How many layers of sheets show a pass. */
export const layersOfPass = (id: string): number =>
  useProjectStore
    .getState()
    .project?.sheets.flatMap((sheet) => Object.values(sheet.nodes))
    .filter(({ content }) => content.kind === 'pass' && content.passId === id).length ?? 0

/** Removes a pass, and the layers that show it. The last pass of a shot stays. */
export function removePass(id: string): void {
  changeProject('remove pass', (draft) => {
    const pass = draft.passes.find((p) => p.id === id)
    if (!pass || draft.passes.filter((p) => p.shotId === pass.shotId).length < 2) return
    draft.passes = draft.passes.filter((p) => p.id !== id)
    draft.before = draft.before.filter((p) => p.id !== beforeId(id))
    for (const sheet of draft.sheets)
      for (const { id: layerId, content } of Object.values(sheet.nodes))
        if (content.kind === 'pass' && content.passId === id) removeNode(sheet, layerId)
  })
}

/** Adds what of a set of passes the shot does not have yet; nothing is taken away. */
export function addPassSet(name: PassSetName): void {
  const set = passSet(name)
  changeProject(`add passes for ${set.label.toLowerCase()}`, (draft) => {
    const shot = activeShot(draft)
    const have = new Set(draft.passes.filter((p) => p.shotId === shot.id).map((p) => p.kind))
    for (const kind of set.kinds)
      if (!have.has(kind)) draft.passes.push(newPass(shot.id, kind) as Draft<ProjectPass>)
  })
}

/** Changes one pass as one undo step. */
export function changePass(
  id: string,
  label: string,
  recipe: (pass: Draft<ProjectPass>) => void,
  key?: string,
) {
  changeProject(
    label,
    (draft) => {
      const pass = draft.passes.find((p) => p.id === id)
      if (pass) recipe(pass)
    },
    key && `${id} ${key}`,
  )
}
