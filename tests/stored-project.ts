import type { Project } from '../src/data/project-schema'
import type { BenchPage } from './bench-page'

/** A stored project's document, read by the browser itself, past the application. */
export async function storedProject(page: BenchPage, id: string): Promise<Project> {
  const document = await page.driver.executeAsyncScript<Project | null>(
    `const done = arguments[arguments.length - 1]
     const open = indexedDB.open('muted-relief')
     open.onsuccess = () => {
       const get = open.result.transaction('projects').objectStore('projects').get(arguments[0])
       get.onsuccess = () => { open.result.close(); done(get.result ? get.result.document : null) }
     }`,
    id,
  )
  if (!document) throw new Error(`no project ${id} is stored`)
  return document
}

/** Puts another document in place of a stored one, past the application. */
export const replaceStored = (page: BenchPage, id: string, document: unknown): Promise<void> =>
  page.driver.executeAsyncScript(
    `const done = arguments[arguments.length - 1]
     const open = indexedDB.open('muted-relief')
     open.onsuccess = () => {
       const store = open.result.transaction('projects', 'readwrite').objectStore('projects')
       const get = store.get(arguments[0])
       get.onsuccess = () => {
         store.put({ ...get.result, document: arguments[1] }).onsuccess = () => { open.result.close(); done() }
       }
     }`,
    id,
    document,
  )

/** Id of the project that is open, by its address. */
export const openId = async (page: BenchPage): Promise<string> =>
  decodeURIComponent(new URL(await page.driver.getCurrentUrl()).pathname.split('/')[2])

/** What is stored of a pass's channels, as text: names of tiles say what they hold. @param key project and result. */
export const storedPlanes = (page: BenchPage, key: string): Promise<string> =>
  page.driver.executeAsyncScript<string>(
    `const done = arguments[arguments.length - 1]
     const open = indexedDB.open('muted-relief')
     open.onsuccess = () => {
       const get = open.result.transaction('results').objectStore('results').get(arguments[0])
       get.onsuccess = () => { open.result.close(); done(get.result ? JSON.stringify(get.result.planes) : '') }
     }`,
    key,
  )
