import { z } from 'zod'
import { newId } from './new-project'

/** Where films are while they are written, on the browser's own disk: every tab has a folder of its own, which it leaves empty. */
const FOLDER = 'films'

/** A file of a film. */
export const filmPlaceSchema = z.strictObject({
  /** The tab's folder. */
  tab: z.string().min(1),
  name: z.string().min(1),
})
export type FilmPlace = z.infer<typeof filmPlaceSchema>

/** What a tab holds as long as it is open; the browser lets go of it when the tab closes or crashes. */
const lockOf = (tab: string): string => `muted-relief films ${tab}`

let own: Promise<string> | null = null

/** This tab's folder, which no other tab clears. */
const ownTab = (): Promise<string> =>
  (own ??= new Promise((resolve) => {
    const tab = newId()
    if (!('locks' in navigator)) {
      resolve(tab)
      return
    }
    navigator.locks
      .request(lockOf(tab), () => {
        resolve(tab)
        return new Promise<never>(() => undefined)
      })
      // Without it others may clear what it writes; they begin seldom.
      .catch(() => resolve(tab))
  }))

/** A place for another film of this tab. */
export const newFilmPlace = async (): Promise<FilmPlace> => ({ tab: await ownTab(), name: newId() })

/** The folder of all films, or of one tab. @throws where there is none, or where the browser gives no disk. */
export async function filmFolder(tab: string | null, create: boolean): Promise<FileSystemDirectoryHandle> {
  const root = await navigator.storage.getDirectory()
  const films = await root.getDirectoryHandle(FOLDER, { create })
  return tab === null ? films : films.getDirectoryHandle(tab, { create })
}

/** A worker that was just ended may hold its file for a moment. Milliseconds. */
const STEP_MS = 50
const PATIENCE_MS = 3000

/** Takes away what was written at a place, if anything was. */
export async function dropFilm({ tab, name }: FilmPlace): Promise<void> {
  for (let waited = 0; waited <= PATIENCE_MS; waited += STEP_MS) {
    try {
      await (await filmFolder(tab, false)).removeEntry(name)
      return
    } catch (error) {
      // Only what is still held is tried again: there may be nothing.
      if (!(error instanceof Error) || error.name !== 'NoModificationAllowedError') return
    }
    await new Promise((resolve) => setTimeout(resolve, STEP_MS))
  }
}

/** Takes away the films that this tab handed over before. */
export async function dropHandedOver(): Promise<void> {
  const tab = await ownTab()
  await clear(tab, () => true)
}

/** Takes away what tabs left that are not open any more. */
export async function dropAbandonedFilms(): Promise<void> {
  if (!('locks' in navigator)) return
  const { held = [] } = await navigator.locks.query()
  const open = new Set(held.map(({ name }) => name))
  await clear(null, (name) => !open.has(lockOf(name)))
}

async function clear(tab: string | null, isLeft: (name: string) => boolean): Promise<void> {
  try {
    const folder = await filmFolder(tab, false)
    for await (const name of folder.keys())
      if (isLeft(name)) await folder.removeEntry(name, { recursive: true }).catch(() => undefined)
  } catch {
    // There is none.
  }
}
