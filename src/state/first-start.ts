import { database } from '@/data/database'
import { dropAbandonedFilms } from '@/data/film-place'
import { clearDeleted } from '@/data/project-repository'
import { clearDeletedRecipes } from '@/data/recipes/stored-recipes'
import { importArchive } from '@/data/storage-service'
import { makeThumbnail } from './thumbnail'

let started: Promise<string | null> | null = null

/** On the first start of all, brings in the demo project. @returns a problem in words, or null. */
export function firstStart(): Promise<string | null> {
  started ??= (async () => {
    await clearDeleted().catch(() => undefined)
    await clearDeletedRecipes().catch(() => undefined)
    await dropAbandonedFilms().catch(() => undefined)
    // Asks the browser not to clear what is kept here when the disk runs short.
    await navigator.storage?.persist?.().catch(() => false)
    if (await database.settings.get('demo-brought-in')) return null
    // A start that was left early brought some of them.
    const there = await database.projects.bulkGet(DEMOS)
    return addDemo(DEMOS.filter((_, i) => there[i] === undefined))
  })()
  return started
}

/** The demo's projects, in the order in which they are to stand. */
const DEMOS = ['low-water', 'brass-gauge']

/** Brings in the demo's projects (again). */
export async function addDemo(ids: readonly string[] = DEMOS): Promise<string | null> {
  let pictures: Promise<unknown> = Promise.resolve()
  try {
    const now = Date.now()
    for (const [i, own] of ids.entries()) {
      const name = `${own}.zip`
      const response = await fetch(`/demo/${name}`)
      if (!response.ok) throw new Error(`the server answered ${response.status}`)
      const id = await importArchive(await response.blob(), name, { keepIdWhereFree: true })
      await database.projects.update(id, { updatedAt: now - i })
      // One after the other: what each needs in memory is gone before the next.
      pictures = pictures.then(() => makeThumbnail(id)).catch(() => undefined)
    }
    await database.settings.put({ key: 'demo-brought-in', value: true })
    return null
  } catch (error) {
    return `The demo could not be brought in: ${error instanceof Error ? error.message : String(error)}`
  }
}
