import { UnreadableFileError } from '@/core/errors'
import { validateDrawing } from '@/core/lines/line-drawing'
import type { PassResult } from '@/core/passes/pass-result'
import type { ChannelData } from '@/core/picture/channel'
import { database } from './database'
import { migrateProject } from './migrate-project'
import { newId } from './new-project'
import { dropJob, loadJobs } from './render-jobs'
import type { ProjectBundle } from './project-archive'
import type { Project, Rendered } from './project-schema'
import { filesOf, projectSchema } from './project-schema'

/** Reading and writing whole projects in the browser's storage. */

const keyOf = (projectId: string, id: string): string => `${projectId}/${id}`

/** Storage full or refused: told in words an artist can act on. */
export function storageProblem(error: unknown): string {
  const name = error instanceof Error ? `${error.name} ${error.message}` : String(error)
  return /quota/i.test(name)
    ? 'The browser has no room left to save in. Export the project as an archive, then delete projects you no longer need.'
    : `The browser could not save: ${error instanceof Error ? error.message : String(error)}`
}

export async function loadProject(id: string): Promise<Project> {
  const row = await database.projects.get(id)
  if (!row || row.deletedAt !== null)
    throw new UnreadableFileError(id, 'there is no such project in this browser')
  const parsed = projectSchema.safeParse(migrateProject(row.document))
  if (!parsed.success) {
    const [issue] = parsed.error.issues
    throw new UnreadableFileError(
      row.name,
      `the stored project is damaged at ${issue.path.join('.')}: ${issue.message}`,
    )
  }
  return parsed.data
}

export const saveProject = async (project: Project, thumbnail?: Uint8Array<ArrayBuffer>): Promise<void> => {
  await database.transaction('rw', database.projects, async () => {
    const before = await database.projects.get(project.id)
    await database.projects.put({
      id: project.id,
      name: project.name,
      updatedAt: Date.now(),
      deletedAt: before?.deletedAt ?? null,
      document: project,
      thumbnail: thumbnail ?? before?.thumbnail ?? null,
    })
  })
}

export const saveFile = async (
  projectId: string,
  fileId: string,
  name: string,
  bytes: Uint8Array,
): Promise<void> => {
  await database.files.put({ key: keyOf(projectId, fileId), projectId, name, bytes: new Uint8Array(bytes) })
}

export async function loadFile(projectId: string, fileId: string): Promise<Uint8Array> {
  const row = await database.files.get(keyOf(projectId, fileId))
  if (!row) throw new UnreadableFileError(fileId, 'is missing from the browser’s storage')
  return row.bytes
}

export const saveResult = async (projectId: string, resultId: string, result: PassResult): Promise<void> => {
  const { kind, width, height, channels, drawing = null } = result
  // Shared memory cannot be stored.
  const own = channels.map((c): ChannelData => (c.buffer instanceof ArrayBuffer ? c : c.slice()))
  await database.results.put({
    key: keyOf(projectId, resultId),
    projectId,
    kind,
    width,
    height,
    channels: own,
    drawing,
  })
}

export async function loadResult(projectId: string, rendered: Rendered): Promise<PassResult | null> {
  const row = await database.results.get(keyOf(projectId, rendered.resultId))
  if (!row) return null
  const drawing = row.drawing ?? null
  if (drawing && validateDrawing(drawing).length > 0) return null
  return {
    kind: row.kind,
    width: row.width,
    height: row.height,
    channels: row.channels,
    surfaces: rendered.surfaces,
    lights: rendered.lights,
    params: rendered.params,
    facts: rendered.facts,
    drawing,
  }
}

/** Drops a result that the stored project no longer names. */
export const dropResult = async (projectId: string, resultId: string): Promise<void> => {
  await database.results.delete(keyOf(projectId, resultId))
}

/**
 * Stores a project that came as an archive, under a new id; under its own where asked and no project has that id.
 * @returns its id.
 */
export async function importBundle(
  bundle: ProjectBundle,
  options: { keepIdWhereFree?: boolean; name?: string } = {},
): Promise<string> {
  const own = bundle.project.id
  const keep = options.keepIdWhereFree && !(await database.projects.get(own))
  const id = keep ? own : newId()
  const project: Project = { ...bundle.project, id, name: options.name ?? bundle.project.name }
  await database.transaction('rw', database.projects, database.files, database.results, async () => {
    for (const [fileId, file] of bundle.files) await saveFile(id, fileId, file.name, file.bytes)
    for (const [resultId, result] of bundle.results) await saveResult(id, resultId, result)
    await saveProject(project)
  })
  return id
}

/** Everything of a project, for an archive. */
export async function exportBundle(project: Project): Promise<ProjectBundle> {
  const files = new Map<string, { name: string; bytes: Uint8Array }>()
  for (const { fileId, name } of filesOf(project)) {
    files.set(fileId, { name, bytes: await loadFile(project.id, fileId) })
  }
  const results = new Map<string, PassResult>()
  const passes = []
  for (const pass of project.passes) {
    const result = pass.rendered && (await loadResult(project.id, pass.rendered))
    if (pass.rendered && result) results.set(pass.rendered.resultId, result)
    passes.push(result ? pass : { ...pass, rendered: null })
  }
  return { project: { ...project, passes }, files, results }
}

export async function duplicateProject(id: string): Promise<string> {
  const project = await loadProject(id)
  const row = await database.projects.get(id)
  const copy = await importBundle(await exportBundle(project), { name: `${project.name} copy` })
  if (row?.thumbnail) await database.projects.update(copy, { thumbnail: row.thumbnail })
  return copy
}

export const renameProject = async (id: string, name: string): Promise<void> => {
  const project = await loadProject(id)
  await saveProject({ ...project, name })
}

export const setDeleted = async (id: string, deleted: boolean): Promise<void> => {
  await database.projects.update(id, { deletedAt: deleted ? Date.now() : null })
}

const ONE_DAY = 24 * 3600 * 1000

/** Clears projects deleted more than a day ago, with all they held. */
export async function clearDeleted(): Promise<void> {
  const old = await database.projects
    .filter((row) => row.deletedAt !== null && row.deletedAt < Date.now() - ONE_DAY)
    .primaryKeys()
  for (const id of old) {
    for (const job of await loadJobs(id)) await dropJob(job.id)
    await database.transaction('rw', database.projects, database.files, database.results, async () => {
      await database.files.where('projectId').equals(id).delete()
      await database.results.where('projectId').equals(id).delete()
      await database.projects.delete(id)
    })
  }
}

/** Drops files and results that the opened project no longer names (their undo history is gone by then). */
export async function clearUnused(project: Project): Promise<void> {
  const wanted = new Set([
    ...filesOf(project).map((f) => keyOf(project.id, f.fileId)),
    ...project.passes.flatMap((p) => (p.rendered ? [keyOf(project.id, p.rendered.resultId)] : [])),
  ])
  for (const table of [database.files, database.results] as const) {
    const keys = (await table.where('projectId').equals(project.id).primaryKeys()) as string[]
    await table.bulkDelete(keys.filter((key) => !wanted.has(key)))
  }
}
