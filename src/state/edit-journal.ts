import { z } from 'zod'
import {
  applyDocumentChanges,
  documentChanges,
  documentChangeSchema,
  type DocumentChange,
} from '@/core/document-changes'
import { PROJECT_VERSION, projectSchema, type Project } from '@/data/project-schema'

/**
 * What was edited since a project was last saved, written down at once: saving is not over when a tab closes, this is. It
 * lies in the browser's synchronous storage, is replayed when the project is next opened, and shrinks with every save.
 */
const entrySchema = z.object({ edit: z.number().int(), changes: z.array(documentChangeSchema) })
const journalSchema = z.object({ version: z.literal(PROJECT_VERSION), entries: z.array(entrySchema) })

const keyOf = (projectId: string): string => `muted-relief journal ${projectId}`
const PREFIX = keyOf('')

/** The longest journal, in UTF-16 units: synchronous storage is small, and writing much of it takes time. */
const LONGEST = 1_000_000

const storage = (): Storage | null => (typeof localStorage === 'undefined' ? null : localStorage)

/** Entries as they are stored, the open project's. */
interface Open {
  readonly projectId: string
  entries: { readonly edit: number; readonly text: string; readonly places: string | null }[]
}
let open: Open = { projectId: '', entries: [] }

/** Where changes put values, if that is all they do: changes of the same places then make those before them superfluous. */
const placesOf = (changes: readonly DocumentChange[]): string | null =>
  changes.every((change) => 'value' in change) ? JSON.stringify(changes.map(({ path }) => path)) : null

/** @returns false where it did not fit: what it holds must be saved now. */
function write(): boolean {
  const { projectId, entries } = open
  try {
    if (entries.length === 0) storage()?.removeItem(keyOf(projectId))
    else {
      const text = `{"version":${PROJECT_VERSION},"entries":[${entries.map((e) => e.text).join(',')}]}`
      if (text.length > LONGEST) return false
      storage()?.setItem(keyOf(projectId), text)
    }
    return true
  } catch {
    return false
  }
}

/** What is noted of a project and not stored yet. @param edit number of the last edit that is stored. */
function missingEdits(projectId: string, edit: number): z.infer<typeof entrySchema>[] {
  const text = storage()?.getItem(keyOf(projectId))
  if (!text) return []
  try {
    return journalSchema.parse(JSON.parse(text)).entries.filter((entry) => entry.edit > edit)
  } catch {
    // One that cannot be read is of no use to anyone.
    return []
  }
}

/** Goes on with the journal of a project that was opened; none is kept for ''. @param edit as it is stored. */
export function beginJournal(projectId: string, edit = 0): void {
  const entries = projectId === '' ? [] : missingEdits(projectId, edit)
  open = {
    projectId,
    entries: entries.map((entry) => ({ edit: entry.edit, text: JSON.stringify(entry), places: null })),
  }
}

/**
 * Notes one edit.
 * @param edit its number: one more than the last one's.
 * @returns false where there is no room for it: it must be saved at once.
 */
export function noteEdit(edit: number, before: Project, after: Project): boolean {
  const changes: DocumentChange[] = documentChanges(before, after)
  if (changes.length === 0) return true
  const places = placesOf(changes)
  // A hand that moves one slider leaves one entry.
  if (places !== null && open.entries.at(-1)?.places === places) open.entries.pop()
  open.entries.push({ edit, text: JSON.stringify({ edit, changes }), places })
  return write()
}

/** Forgets what is saved: all up to an edit. */
export function dropSavedEdits(projectId: string, edit: number): void {
  if (open.projectId !== projectId) return
  open.entries = open.entries.filter((entry) => entry.edit > edit)
  write()
}

/** Forgets a project's journal. */
export const dropJournal = (projectId: string): void => storage()?.removeItem(keyOf(projectId))

/** Ids of the projects that have a journal. */
export function journalled(): string[] {
  const found = storage()
  if (!found) return []
  return Array.from({ length: found.length }, (_, i) => found.key(i) ?? '').flatMap((key) =>
    key.startsWith(PREFIX) ? [key.slice(PREFIX.length)] : [],
  )
}

/**
 * A stored project with what was edited after it was stored.
 * @param edit number of the last edit that is stored.
 * @returns the project as it was left, and the number of its last edit; as stored where there is no journal that fits.
 */
export function replayJournal(stored: Project, edit: number): { project: Project; edit: number } {
  const missing = missingEdits(stored.id, edit)
  if (missing.length === 0) return { project: stored, edit }
  try {
    const document = missing.reduce<unknown>((now, { changes }) => applyDocumentChanges(now, changes), stored)
    return { project: projectSchema.parse(document), edit: missing[missing.length - 1].edit }
  } catch {
    return { project: stored, edit }
  }
}
