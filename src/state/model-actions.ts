import type { Draft } from 'immer'
import { current } from 'immer'
import { CancelledError } from '@/core/errors'
import type { Repair } from '@/core/geometry/repairs/registry'
import { repairKind, repairMesh } from '@/core/geometry/repairs/registry'
import { summarizeMesh } from '@/core/geometry/mesh-summary'
import type { PropKindName } from '@/core/geometry/props/registry'
import { propKind } from '@/core/geometry/props/registry'
import type { ParamValue, ParamValues } from '@/core/params'
import { plural } from '@/core/plural'
import { paramDefaults } from '@/core/params'
import { boxOf } from '@/core/scene/camera'
import { roleNow, type PartRole } from '@/core/scene/part-role'
import type { Copies } from '@/core/scene/placement'
import { newId } from '@/data/new-project'
import { renameAll, type RenameRule } from '@/data/part-names'
import { toProjectModel } from '@/data/project-scene'
import type { Project, ProjectModel, ProjectPart } from '@/data/project-schema'
import { readModelInWorker } from '@/engine/read-model-in-worker'
import { frameAnew, isCameraUntouched } from './auto-frame'
import { addModel, measured } from './import-models'
import { importRequest, rememberMesh, useMeshStore } from './mesh-store'
import { beginPending, changeProject, useProjectStore } from './project-store'
import { extentPoints, subjectExtent } from './subject-extent'

/** What can be done to models, parts and groups. Each is one undo step. */

const parts = (n: number): string => plural(n, 'part')

/** Changes the parts of these keys. */
function changeParts(
  label: string,
  keys: readonly string[],
  apply: (part: Draft<ProjectPart>) => void,
): void {
  const wanted = new Set(keys)
  changeProject(label, (draft) => {
    for (const model of draft.models) for (const part of model.parts) if (wanted.has(part.key)) apply(part)
  })
}

export const setRoles = (keys: readonly string[], role: PartRole): void =>
  changeParts(`${parts(keys.length)} ${role}`, keys, (part) => void (part.role = role))

/** Leaves parts out of the picture, whatever they do in it. */
export const hideParts = (keys: readonly string[]): void =>
  changeParts(`hide ${parts(keys.length)}`, keys, (part) => void (part.hidden = true))

/**
 * Shows parts again in the roles they have. Where none of them was hidden and all are *off* by their role, they become
 * subject: nothing else would bring them into the picture.
 */
export function showParts(keys: readonly string[]): void {
  const { project } = useProjectStore.getState()
  if (!project) return
  const areOff = partsOf(project, keys).every((part) => !part.hidden && part.role === 'off')
  changeParts(`show ${parts(keys.length)}`, keys, (part) => {
    part.hidden = false
    if (areOff) part.role = 'subject'
  })
}

/** Parts of these keys in the order of the project. */
export const partsOf = (project: Project, keys: readonly string[]): ProjectPart[] => {
  const wanted = new Set(keys)
  return project.models.flatMap((m) => m.parts).filter((part) => wanted.has(part.key))
}

export function renamePart(key: string, name: string): void {
  const trimmed = name.trim()
  if (trimmed) changeParts('rename part', [key], (part) => void (part.name = trimmed))
}

export function renameParts(keys: readonly string[], rule: RenameRule): void {
  const { project } = useProjectStore.getState()
  if (!project) return
  const found = partsOf(project, keys)
  const names = renameAll(
    found.map((p) => p.name),
    rule,
  )
  const nameOf = new Map(found.map((part, i) => [part.key, names[i]]))
  changeParts(`rename ${parts(found.length)}`, keys, (part) => {
    part.name = nameOf.get(part.key) ?? part.name
  })
}

/** Puts parts into a group, or out of any with null. Groups left empty stay: they may be meant. */
export function moveToGroup(keys: readonly string[], groupId: string | null): void {
  const groups = useProjectStore.getState().project?.groups ?? []
  if (groupId !== null && !groups.some((group) => group.id === groupId)) return
  changeParts(groupId === null ? 'take out of group' : 'move to group', keys, (part) => {
    part.groupId = groupId
  })
}

/** Makes a group of parts. @returns its id. */
export function groupParts(keys: readonly string[], name: string): string {
  const id = newId()
  const wanted = new Set(keys)
  changeProject(`group ${parts(keys.length)}`, (draft) => {
    draft.groups.push({ id, name, parentId: null })
    for (const model of draft.models)
      for (const part of model.parts) if (wanted.has(part.key)) part.groupId = id
  })
  return id
}

/** One group for each material that the parts name first; parts without one stay. */
export function groupByMaterial(keys: readonly string[]): void {
  const wanted = new Set(keys)
  changeProject('group by material', (draft) => {
    const groupOf = new Map<string, string>()
    for (const model of draft.models) {
      for (const part of model.parts) {
        const material = model.materials[part.materials[0]] as
          Draft<ProjectModel>['materials'][number] | undefined
        if (!wanted.has(part.key) || !material) continue
        let id = groupOf.get(material.name) ?? draft.groups.find((g) => g.name === material.name)?.id
        if (!id) {
          id = newId()
          draft.groups.push({ id, name: material.name, parentId: null })
        }
        groupOf.set(material.name, id)
        part.groupId = id
      }
    }
  })
}

export function renameGroup(id: string, name: string): void {
  const trimmed = name.trim()
  if (!trimmed) return
  changeProject('rename group', (draft) => {
    for (const group of draft.groups) if (group.id === id) group.name = trimmed
  })
}

/** Takes a group apart: what was in it moves to where it was. */
export function dissolveGroup(id: string): void {
  changeProject('take group apart', (draft) => {
    const parentId = draft.groups.find((group) => group.id === id)?.parentId ?? null
    draft.groups = draft.groups.filter((group) => group.id !== id)
    for (const group of draft.groups) if (group.parentId === id) group.parentId = parentId
    for (const model of draft.models)
      for (const part of model.parts) if (part.groupId === id) part.groupId = parentId
  })
}

/** Moves a group into another, or to the top with null; into itself it cannot go. */
export function nestGroup(id: string, parentId: string | null): void {
  changeProject('move group', (draft) => {
    const parentOf = new Map(draft.groups.map((group) => [group.id, group.parentId]))
    for (let up = parentId; up !== null; up = parentOf.get(up) ?? null) if (up === id) return
    for (const group of draft.groups) if (group.id === id) group.parentId = parentId
  })
}

/** A name for a group that none has yet. */
export function freeGroupName(project: Pick<Project, 'groups'>): string {
  const taken = new Set(project.groups.map((group) => group.name))
  for (let n = 1; ; n++) if (!taken.has(`Group ${n}`)) return `Group ${n}`
}

export const changeModel = (
  id: string,
  label: string,
  apply: (model: Draft<ProjectModel>) => void,
  merge?: string,
): void =>
  changeProject(
    label,
    (draft) => {
      const model = draft.models.find((m) => m.id === id)
      if (model) apply(model)
    },
    merge && `${id} ${merge}`,
  )

export const removeModel = (id: string): void =>
  changeProject('remove model', (draft) => void (draft.models = draft.models.filter((m) => m.id !== id)))

const repairing = new Map<string, AbortController>()

/**
 * Gives a model other repairs. The file is read anew in a worker and the repairs are applied to it, so any of them can be
 * taken back. One undo step; a newer call ends an older one of the same model.
 * @returns what went wrong, in words; null when all went well.
 */
export async function setRepairs(
  model: ProjectModel,
  repairs: readonly Repair[],
  label: string,
): Promise<string | null> {
  const { project } = useProjectStore.getState()
  if (!project) return 'No project is open.'
  repairing.get(model.id)?.abort()
  const own = new AbortController()
  repairing.set(model.id, own)
  const made = { source: model.source, repairs: [...repairs] }
  const end = beginPending({ label, cancel: () => own.abort() })
  try {
    const loaded = await readModelInWorker(await importRequest(project.id, made), own.signal)
    if (own.signal.aborted || useProjectStore.getState().project?.id !== project.id) return null
    end()
    const now = useProjectStore.getState().project
    const untouched = now !== null && isCameraUntouched(now)
    rememberMesh(model.id, made, loaded)
    changeProject(label, (draft) => {
      const found = draft.models.find((m) => m.id === model.id)
      if (!found) return
      found.repairs = structuredClone(made.repairs) as Draft<Repair[]>
      Object.assign(found, measured(current(found) as ProjectModel, loaded))
      if (untouched) frameAnew(draft)
    })
    return null
  } catch (error) {
    if (error instanceof CancelledError) return null
    return error instanceof Error ? error.message : String(error)
  } finally {
    end()
    if (repairing.get(model.id) === own) repairing.delete(model.id)
  }
}

/** Adds repairs behind those a model has. */
export const repairModel = (model: ProjectModel, more: readonly Repair[]): Promise<string | null> =>
  setRepairs(
    model,
    [...model.repairs, ...more],
    more.length === 1 ? repairKind(more[0].kind).label.toLowerCase() : `${more.length} repairs`,
  )

const outlineOf = (id: string) => useMeshStore.getState().models[id]?.outline

/** The box of a model as it stands, copies and all; null where nothing of it is on. */
export const modelBox = (project: Project, model: ProjectModel) =>
  boxOf(extentPoints({ ...project, models: [model] }, outlineOf, (part) => roleNow(part) !== 'off'))

/**
 * How high the ground is under a place: the top of the nearest form of the application's own that lies under it (their
 * tops are at their own height 0), else 0.
 */
function groundUnder(project: Project, own: string, x: number, z: number): number {
  let ground = 0
  let found = false
  for (const other of project.models) {
    if (other.id === own || other.source.type !== 'prop') continue
    const box = modelBox(project, other)
    if (!box || x < box.min[0] || x > box.max[0] || z < box.min[2] || z > box.max[2]) continue
    const top = other.placement.position[1]
    ground = found ? Math.max(ground, top) : top
    found = true
  }
  return ground
}

/** Lets a model down, or up, until its lowest point stands on the ground. */
export function dropToGround(id: string): void {
  const { project } = useProjectStore.getState()
  const model = project?.models.find((m) => m.id === id)
  const box = project && model && modelBox(project, model)
  if (!project || !model || !box) return
  const [x, z] = [(box.min[0] + box.max[0]) / 2, (box.min[2] + box.max[2]) / 2]
  const by = groundUnder(project, id, x, z) - box.min[1]
  if (Math.abs(by) > 1e-9) changeModel(id, 'drop to ground', (m) => void (m.placement.position[1] += by))
}

/** How large a form of the application's own is made, so that it suits a subject of this size. */
function fitted(kind: PropKindName, size: readonly [number, number, number], diagonal: number): ParamValues {
  const values: Record<string, ParamValue> = {}
  for (const [name, value] of Object.entries(paramDefaults(propKind(kind).schema)))
    values[name] =
      typeof value === 'number' && name !== 'bevel' && name !== 'sides' ? value * diagonal : value
  if (kind === 'pedestal') {
    values.radius = 0.65 * Math.hypot(size[0], size[2])
    values.height = 0.18 * diagonal
  }
  for (const [name, value] of Object.entries(values))
    if (typeof value === 'number') values[name] = Number(value.toPrecision(4))
  return values
}

/** Stands a form of the application's own under the subject. @returns what went wrong; null when all went well. */
export async function addProp(kind: PropKindName): Promise<string | null> {
  const { project } = useProjectStore.getState()
  if (!project) return 'No project is open.'
  const bounds = subjectExtent(project, outlineOf)?.bounds
  const { min, max } = bounds ?? { min: [-0.5, 0, -0.5], max: [0.5, 1, 0.5] }
  const size: [number, number, number] = [max[0] - min[0], max[1] - min[1], max[2] - min[2]]
  const params = fitted(kind, size, Math.hypot(...size) || 1)
  const source = { type: 'prop', prop: kind, params } as const
  try {
    const loaded = await readModelInWorker({ type: 'prop', prop: kind, params, repairs: [] })
    const id = newId()
    const model = toProjectModel(id, source, loaded, loaded.summary)
    addModel(
      project.id,
      {
        ...model,
        placement: {
          ...model.placement,
          position: [(min[0] + max[0]) / 2, min[1], (min[2] + max[2]) / 2],
        },
        parts: model.parts.map((part) => ({ ...part, role: 'ground' })),
      },
      loaded,
    )
    return null
  } catch (error) {
    return error instanceof Error ? error.message : String(error)
  }
}

/** Changes a measure of a form of the application's own; it is small enough to be made at once. */
export function changeProp(model: ProjectModel, name: string, value: ParamValue): void {
  if (model.source.type !== 'prop') return
  const { prop } = model.source
  const params = { ...model.source.params, [name]: value }
  const made = propKind(prop).make(params)
  const { mesh } = repairMesh(made.mesh, model.repairs)
  const summary = summarizeMesh(mesh, made.parts.length)
  changeModel(
    model.id,
    propKind(prop).label.toLowerCase(),
    (draft) => {
      draft.source = { type: 'prop', prop, params }
      Object.assign(draft, measured(model, { summary }))
    },
    `prop ${name}`,
  )
}

/** Copies as they begin, at distances that suit the model. */
export function startingCopies(kind: Copies['kind'], project: Project, model: ProjectModel): Copies {
  const box = modelBox(project, { ...model, copies: { kind: 'one' } })
  const size = box ? box.max.map((v, axis) => v - box.min[axis]) : [1, 1, 1]
  const gap = (axis: number) => Number(((size[axis] || 1) * 1.25).toPrecision(3))
  switch (kind) {
    case 'one':
      return { kind }
    case 'row':
      return { kind, count: 3, step: [gap(0), 0, 0] }
    case 'grid':
      return { kind, columns: 3, rows: 3, stepX: gap(0), stepZ: gap(2) }
    case 'ring':
      return {
        kind,
        count: 8,
        radius: Number((2 * Math.hypot(size[0], size[2])).toPrecision(3)),
        sweepDeg: 360,
        turning: true,
      }
  }
}
