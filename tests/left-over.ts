import { paintNames } from '@/core/paint/paint-names'
import type { BenchPage } from './bench-page'
import { storedProject } from './stored-project'

interface Kept {
  readonly results: readonly { readonly key: string; readonly tiles: readonly string[] }[]
  readonly tiles: readonly string[]
  readonly paints: readonly { readonly projectId: string; readonly tiles: readonly string[] }[]
  readonly jobs: readonly string[]
  readonly blocks: readonly string[]
}

const keptBy = (page: BenchPage): Promise<Kept> =>
  page.driver.executeAsyncScript<Kept>(
    `const done = arguments[arguments.length - 1]
     const open = indexedDB.open('muted-relief')
     open.onsuccess = async () => {
       const all = (store, how) => new Promise((resolve, reject) => {
         const asked = open.result.transaction(store).objectStore(store)[how]()
         asked.onsuccess = () => resolve(asked.result)
         asked.onerror = () => reject(asked.error)
       })
       const results = (await all('results', 'getAll')).map(({ key, tiles }) => ({ key, tiles: tiles ?? [] }))
       const found = {
         results,
         tiles: await all('tiles', 'getAllKeys'),
         paints: await all('paints', 'getAll'),
         jobs: await all('jobs', 'getAllKeys'),
         blocks: await all('blocks', 'getAllKeys'),
       }
       open.result.close()
       done(found)
     }`,
  )

/**
 * What of storage is not as a project names it: a result or tile that is missing, or that nothing names.
 * @returns it in words; null where all is in order.
 */
export async function leftOver(page: BenchPage, id: string): Promise<string | null> {
  const [project, kept] = [await storedProject(page, id), await keptBy(page)]
  const own = kept.results.filter(({ key }) => key.startsWith(`${id}/`))
  const named = [...project.passes, ...project.before].flatMap(({ rendered }) =>
    rendered ? [`${id}/${rendered.resultId}`] : [],
  )
  const missing = named.find((key) => !own.some((row) => row.key === key))
  if (missing !== undefined) return `${missing} is named and not there`
  const left = own.find(({ key }) => !named.includes(key))
  if (left) return `${left.key} is there and not named`
  const tiles = new Set(kept.tiles)
  const listed = new Set([
    ...kept.results.flatMap((row) => row.tiles),
    ...kept.paints.flatMap((row) => row.tiles),
  ])
  const gone = [...listed].find((name) => !tiles.has(name))
  if (gone !== undefined) return `tile ${gone} is listed and not there`
  const orphan = kept.tiles.find((name) => !listed.has(name))
  if (orphan !== undefined) return `tile ${orphan} is there and not listed`
  const unpainted = [...paintNames(project.sheets).keys()].find((name) => !tiles.has(name))
  if (unpainted !== undefined) return `painted tile ${unpainted} is named and not there`
  const block = kept.blocks.find((key) => !kept.jobs.some((job) => key.startsWith(`${job}/`)))
  if (block !== undefined) return `block ${block} is of no job`
  return null
}
