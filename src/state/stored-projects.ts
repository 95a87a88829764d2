import { clearProject, renameProject, setDeleted } from '@/data/project-repository'
import { dropJournal, journalled } from './edit-journal'
import { holdProject, letGoOf } from './project-lock'
import { cancelRendersOf } from './render-queue'
import { onTabMessage, tellTabs } from './tabs'

/** What can be done to a project from outside it. Whoever writes holds it, or asks the tab that does. */

/** How long the tab that has a project open may take to answer. Milliseconds. */
const ANSWER_MS = 3000

/** Runs one act on a project that no other tab holds. @returns null where one does. */
async function actOn<T>(id: string, steal: boolean, act: () => Promise<T>): Promise<T | null> {
  if (!(await holdProject(id, 'act', { steal, patienceMs: 0 }))) return null
  try {
    return await act()
  } finally {
    letGoOf(id, 'act')
  }
}

function askToRename(id: string, name: string): Promise<boolean> {
  return new Promise((resolve) => {
    const end = (isDone: boolean) => {
      clearTimeout(limit)
      stop()
      resolve(isDone)
    }
    const limit = setTimeout(() => end(false), ANSWER_MS)
    const stop = onTabMessage((m) => m.type === 'renamed' && m.projectId === id && end(true))
    tellTabs({ type: 'rename', projectId: id, name })
  })
}

/** Renames a project; one that is open in another tab is renamed there. @throws {Error} where that tab does not answer. */
export async function renameStored(id: string, name: string): Promise<void> {
  const done = await actOn(id, false, async () => {
    await renameProject(id, name)
    return true
  })
  if (done || (await askToRename(id, name))) return
  throw new Error(
    'The project is open in another tab, which does not answer. Close it there, then rename it.',
  )
}

/** Deletes a project, its renders ended; a tab that has it open is told. It can be brought back for a month. */
export async function deleteStored(id: string): Promise<void> {
  cancelRendersOf(id)
  await actOn(id, true, () => setDeleted(id, true))
  tellTabs({ type: 'deleted', projectId: id })
}

export const restoreStored = (id: string): Promise<void> => setDeleted(id, false)

/** Ends a deleted project for good. */
export async function clearStored(id: string): Promise<void> {
  await clearProject(id)
  dropJournal(id)
}

/** Forgets journals of projects that are not there any more. */
export function clearJournals(known: ReadonlySet<string>): void {
  for (const id of journalled()) if (!known.has(id)) dropJournal(id)
}
