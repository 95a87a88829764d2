import { beforeId } from './before-passes'
import { UnreadableFileError } from '@/core/errors'
import type { Table } from 'dexie'
import {
  database,
  type FileRow,
  type FrameRow,
  type LookRow,
  type HistoryRow,
  type ProjectRow,
} from './database'
import { keepLook, loadLook, lookKey } from './looks'
import { sheetsWithLooks } from './poster-series'
import { migrateProject } from './migrate-project'
import { newId } from './new-project'
import { dropJob, loadJobs } from './render-jobs'
import type { ProjectSource } from './project-archive'
import type { Project, ProjectPass, Rendered } from './project-schema'
import { filesOf, projectSchema } from './project-schema'
import { dropTurnJob } from './turn-jobs'
import { dropPaint, keepPaint, loadPaint, paintOf, savePaint, sharePaint } from './stored-paint'
import { dropResults, loadResult, resultKey, saveResult, shareResult } from './stored-results'

/** Reading and writing whole projects in the browser's storage. */

const fileKey = (projectId: string, fileId: string): string => `${projectId}/${fileId}`

/** What lies beside the document, and how rows of it are dropped. */
const BULK = [
  [database.files as Table<FileRow, string>, (keys: string[]) => database.files.bulkDelete(keys)],
  [database.results, dropResults],
  [database.looks as Table<LookRow, string>, (keys: string[]) => database.looks.bulkDelete(keys)],
] as const
/** Frames of turntables lie there, too. What of them is used nobody tells by the document alone: see tidyFrames. */
const BULK_WITH_FRAMES = [
  ...BULK,
  [database.frames as Table<FrameRow, string>, (keys: string[]) => database.frames.bulkDelete(keys)],
] as const

/** Storage full or refused: told in words an artist can act on. */
export function storageProblem(error: unknown): string {
  const name = error instanceof Error ? `${error.name} ${error.message}` : String(error)
  return /quota/i.test(name)
    ? 'The browser has no room left to save in. Export the project as an archive, then delete projects you no longer need.'
    : `The browser could not save: ${error instanceof Error ? error.message : String(error)}`
}

/** A project that is not there, or was deleted. */
export class ProjectGoneError extends UnreadableFileError {
  constructor(name: string, reason = 'there is no such project in this browser') {
    super(name, reason)
    this.name = 'ProjectGoneError'
  }
}

/** The project of a row. @throws {UnreadableFileError} naming the field that is damaged. */
function documentOf(row: ProjectRow): Project {
  const parsed = projectSchema.safeParse(migrateProject(row.document))
  if (parsed.success) return parsed.data
  const [issue] = parsed.error.issues
  throw new UnreadableFileError(
    row.name,
    `the stored project is damaged at ${issue.path.join('.')}: ${issue.message}`,
  )
}

/** A stored project, the number of its last edit, and its history. @throws {ProjectGoneError}; {UnreadableFileError}. */
export async function loadStored(
  id: string,
): Promise<{ project: Project; edit: number; history: HistoryRow | undefined }> {
  const row = await database.projects.get(id)
  if (!row || row.deletedAt !== null) throw new ProjectGoneError(row?.name ?? id)
  return { project: documentOf(row), edit: row.edit ?? 0, history: await database.histories.get(id) }
}

export const loadProject = async (id: string): Promise<Project> => (await loadStored(id)).project

/** Stores a project that is new. */
export const createProject = async (project: Project): Promise<void> => {
  await database.projects.put({
    id: project.id,
    name: project.name,
    updatedAt: Date.now(),
    deletedAt: null,
    edit: 0,
    document: project,
    thumbnail: null,
  })
}

/**
 * Stores a project that is there; one that was deleted meanwhile does not come back by itself.
 * @param edit number of the last edit it holds. @param history what of it can be taken back, stored with it or not at all.
 * @throws {ProjectGoneError}
 */
export const saveProject = (project: Project, edit: number, history?: HistoryRow): Promise<void> =>
  database.transaction('rw', database.projects, database.histories, async () => {
    const row = await database.projects.get(project.id)
    if (!row || row.deletedAt !== null)
      throw new ProjectGoneError(project.name, 'was deleted, in another tab')
    const { id, name } = project
    await database.projects.put({ ...row, id, name, updatedAt: Date.now(), edit, document: project })
    if (history) await database.histories.put(history)
  })

/** Changes a project that is not open, in one transaction. @throws {ProjectGoneError}; {UnreadableFileError}. */
export const changeStored = (id: string, recipe: (project: Project) => Project): Promise<void> =>
  database.transaction('rw', database.projects, async () => {
    const row = await database.projects.get(id)
    if (!row || row.deletedAt !== null) throw new ProjectGoneError(row?.name ?? id)
    const project = recipe(documentOf(row))
    await database.projects.put({ ...row, name: project.name, updatedAt: Date.now(), document: project })
  })

export const saveFile = async (
  projectId: string,
  fileId: string,
  name: string,
  bytes: Uint8Array,
): Promise<void> => {
  await database.files.put({ key: fileKey(projectId, fileId), projectId, name, bytes: new Uint8Array(bytes) })
}

async function fileRow(projectId: string, fileId: string): Promise<FileRow> {
  const row = await database.files.get(fileKey(projectId, fileId))
  if (!row) throw new UnreadableFileError(fileId, 'is missing from the browser’s storage')
  return row
}

export async function loadFile(projectId: string, fileId: string): Promise<Uint8Array> {
  return (await fileRow(projectId, fileId)).bytes
}

/** A lock held while a project's bulk is stored before its document: what it has stored so far is nobody's yet. */
export const BRINGING_IN = 'muted-relief bringing in'

const asBringingIn = <T>(work: () => Promise<T>): Promise<T> =>
  typeof navigator === 'undefined' || !('locks' in navigator)
    ? work()
    : navigator.locks.request(BRINGING_IN, { mode: 'shared' }, work)

/** Drops everything that is stored under a project's id, the project last. */
async function dropEverything(id: string): Promise<void> {
  for (const job of await loadJobs(id)) await dropJob(job.id)
  await database.files.where('projectId').equals(id).delete()
  await dropResults(await database.results.where('projectId').equals(id).primaryKeys())
  await dropPaint([id])
  await database.looks.where('projectId').equals(id).delete()
  await database.frames.where('projectId').equals(id).delete()
  await dropTurnJob(id)
  await database.histories.delete(id)
  await database.projects.delete(id)
}

interface BringingIn {
  readonly keepIdWhereFree?: boolean
  readonly name?: string
  /** Told how much is stored, 0…1. */
  readonly onProgress?: (share01: number) => void
}

/** How the bulk of a project that is brought in gets under its new id. */
interface Bulk {
  readonly file: (id: string, fileId: string) => Promise<void>
  /** @returns false where it is gone: the pass then comes in as not rendered. */
  readonly result: (id: string, pass: ProjectPass, rendered: Rendered) => Promise<boolean>
  /** All that was painted by hand. */
  readonly paint: (id: string) => Promise<void>
  /** How a sheet looked; null where nobody knows. */
  readonly look: (sheetId: string) => Promise<Uint8Array | null>
}

/**
 * Stores a project and its bulk piece by piece, under a new id; under its own where asked and no project has that id. The
 * document goes last: a project that can be seen is whole. What fails leaves nothing.
 * @returns its id.
 */
function bringIn(project: Project, bulk: Bulk, options: BringingIn): Promise<string> {
  return asBringingIn(async () => {
    const keep = options.keepIdWhereFree && !(await database.projects.get(project.id))
    const id = keep ? project.id : newId()
    const files = filesOf(project)
    const rendered = project.passes.flatMap((pass) =>
      pass.rendered ? [{ pass, rendered: pass.rendered }] : [],
    )
    const total = files.length + rendered.length
    let done = 0
    const tell = () => options.onProgress?.(++done / total)
    try {
      for (const { fileId } of files) {
        await bulk.file(id, fileId)
        tell()
      }
      const gone = new Set<string>()
      for (const { pass, rendered: own } of rendered) {
        if (!(await bulk.result(id, pass, own))) gone.add(pass.id)
        tell()
      }
      await bulk.paint(id)
      for (const sheetId of sheetsWithLooks(project)) {
        const bytes = await bulk.look(sheetId)
        if (bytes) await keepLook(id, sheetId, bytes)
      }
      const passes = project.passes.map((pass) => (gone.has(pass.id) ? { ...pass, rendered: null } : pass))
      await createProject({ ...project, id, name: options.name ?? project.name, passes, before: [] })
      return id
    } catch (error) {
      await dropEverything(id).catch(() => undefined)
      throw error
    }
  })
}

/** Stores a project from elsewhere; see {@link bringIn}. @returns its id. */
export const storeProject = (source: ProjectSource, options: BringingIn = {}): Promise<string> =>
  bringIn(
    source.project,
    {
      file: async (id, fileId) => {
        const { name, bytes } = await source.file(fileId)
        await saveFile(id, fileId, name, bytes)
      },
      result: async (id, pass, rendered) => {
        const result = await source.result(pass, rendered)
        if (result) await saveResult(id, rendered.resultId, result)
        return result !== null
      },
      paint: async (id) => {
        for (const [name, form] of paintOf([source.project])) {
          const bytes = await source.paint(name, form)
          if (bytes) await savePaint(id, [{ name, bytes }])
        }
      },
      look: async (sheetId) => (await source.look?.(sheetId)) ?? null,
    },
    options,
  )

/** A stored project, its bulk read when it is asked for. */
export const storedProject = (project: Project): ProjectSource => {
  const names = new Map(filesOf(project).map(({ fileId, name }) => [fileId, name]))
  return {
    project,
    file: async (fileId) => ({
      name: names.get(fileId) ?? fileId,
      bytes: await loadFile(project.id, fileId),
    }),
    result: (_pass, rendered) => loadResult(project.id, rendered),
    paint: async (name) => (await loadPaint([name])).at(0)?.bytes ?? null,
    look: (sheetId) => loadLook(project.id, sheetId),
  }
}

/** A copy of a stored project; the pixels of its passes are shared. @returns its id. */
export async function duplicateProject(id: string): Promise<string> {
  const project = await loadProject(id)
  const row = await database.projects.get(id)
  const copy = await bringIn(
    project,
    {
      file: async (toId, fileId) => {
        const { name, bytes } = await fileRow(id, fileId)
        await saveFile(toId, fileId, name, bytes)
      },
      result: (toId, _pass, { resultId }) => shareResult(id, toId, resultId),
      paint: (toId) => sharePaint(paintOf([project]).keys(), toId),
      look: (sheetId) => loadLook(id, sheetId),
    },
    { name: `${project.name} copy` },
  )
  if (row?.thumbnail) await database.projects.update(copy, { thumbnail: row.thumbnail })
  return copy
}

export const renameProject = (id: string, name: string): Promise<void> =>
  changeStored(id, (project) => ({ ...project, name }))

export const setDeleted = async (id: string, deleted: boolean): Promise<void> => {
  await database.projects.update(id, { deletedAt: deleted ? Date.now() : null })
}

/** How long a deleted project can be brought back. Milliseconds. */
export const KEPT_DELETED_MS = 30 * 24 * 3600 * 1000

/** Clears a deleted project for good, with all it held. One that is not deleted stays. */
export async function clearProject(id: string): Promise<void> {
  const row = await database.projects.get(id)
  if (row && row.deletedAt !== null) await dropEverything(id)
}

/** Clears projects deleted more than a month ago, and what an interrupted import left of one that never was. */
export async function clearDeleted(now = Date.now()): Promise<void> {
  const old = await database.projects
    .filter((row) => row.deletedAt !== null && row.deletedAt < now - KEPT_DELETED_MS)
    .primaryKeys()
  for (const id of old) await dropEverything(id)
  if (typeof navigator !== 'undefined' && 'locks' in navigator)
    await navigator.locks.request(BRINGING_IN, { ifAvailable: true }, async (lock) => {
      if (lock) await clearOrphans()
    })
  else await clearOrphans()
}

/** Drops bulk that no project owns. Not while one is being brought in: its document comes last. */
async function clearOrphans(): Promise<void> {
  const known = new Set(await database.projects.toCollection().primaryKeys())
  for (const [table, drop] of BULK_WITH_FRAMES) {
    const owners = (await table.orderBy('projectId').uniqueKeys()) as string[]
    for (const id of owners)
      if (!known.has(id)) await drop(await table.where('projectId').equals(id).primaryKeys())
  }
  const painted = await database.paints.toCollection().primaryKeys()
  await dropPaint(painted.filter((id) => !known.has(id)))
  const histories = await database.histories.toCollection().primaryKeys()
  await database.histories.bulkDelete(histories.filter((id) => !known.has(id)))
}

/** What passes were that are still there. */
const heldBefore = ({ passes, before }: Project): Project['before'] =>
  before.filter(({ id }) => passes.some((pass) => beforeId(pass.id) === id))

const namedResults = (project: Project, history: readonly Project[]): string[] =>
  [project, ...history].flatMap((state) =>
    [...state.passes, ...heldBefore(state)].flatMap(({ rendered }) =>
      rendered ? [resultKey(project.id, rendered.resultId)] : [],
    ),
  )

/** Drops results that neither the project nor a state of its history names. Not while one is stored that is to be named. */
export async function clearUnusedResults(project: Project, history: readonly Project[] = []): Promise<void> {
  const wanted = new Set(namedResults(project, history))
  const keys = await database.results.where('projectId').equals(project.id).primaryKeys()
  await dropResults(keys.filter((key) => !wanted.has(key)))
}

/** Drops files, results and what was painted that neither the opened project nor a state of its history names. */
export async function clearUnused(project: Project, history: readonly Project[] = []): Promise<void> {
  const wanted = new Set([
    ...namedResults(project, history),
    ...[project, ...history].flatMap((state) => [
      ...filesOf(state).map((f) => fileKey(project.id, f.fileId)),
      ...sheetsWithLooks(state).map((sheetId) => lookKey(project.id, sheetId)),
    ]),
  ])
  for (const [table, drop] of BULK) {
    const keys = await table.where('projectId').equals(project.id).primaryKeys()
    await drop(keys.filter((key) => !wanted.has(key)))
  }
  await keepPaint(project.id, [project, ...history])
}
