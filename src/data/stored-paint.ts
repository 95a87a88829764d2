import { paintNames } from '@/core/paint/paint-names'
import { database, type TileRow } from './database'
import type { Project } from './project-schema'
import { dropUnlisted, putTiles } from './tiles'

/**
 * What was painted by hand in the browser's storage: tiles under names made of what they hold, and for each project a list of
 * those that its document or a state of its history names. What no list names goes.
 */

/** Stores tiles, and that a project names them: all, or none. */
export const savePaint = (projectId: string, tiles: readonly TileRow[]): Promise<void> =>
  database.transaction('rw', database.paints, database.tiles, async () => {
    await putTiles(new Map(tiles.map((tile) => [tile.name, tile])))
    await addNames(
      projectId,
      tiles.map(({ name }) => name),
    )
  })

async function addNames(projectId: string, names: readonly string[]): Promise<void> {
  const row = await database.paints.get(projectId)
  await database.paints.put({ projectId, tiles: [...new Set([...(row?.tiles ?? []), ...names])] })
}

/** Tiles by their names; those that are gone are left out. */
export async function loadPaint(names: readonly string[]): Promise<TileRow[]> {
  const found: TileRow[] = []
  for (let at = 0; at < names.length; at += 100)
    for (const row of await database.tiles.bulkGet(names.slice(at, at + 100))) if (row) found.push(row)
  return found
}

/** Names of the tiles that states of a project show. */
export const paintOf = (states: readonly Pick<Project, 'sheets' | 'kept'>[]): Map<string, 'layer' | 'mask'> =>
  paintNames(states.flatMap(({ sheets, kept }) => [...sheets, ...kept.map(({ sheet }) => sheet)]))

/** Gives another project tiles that were painted in one: they are shared. */
export const sharePaint = (names: Iterable<string>, toId: string): Promise<void> =>
  database.transaction('rw', database.paints, () => addNames(toId, [...names]))

/** Drops what a project lists and no state of it names any more. */
export const keepPaint = (projectId: string, states: readonly Project[]): Promise<void> =>
  database.transaction('rw', database.paints, database.results, database.tiles, async () => {
    const row = await database.paints.get(projectId)
    if (!row) return
    const wanted = paintOf(states)
    const gone = row.tiles.filter((name) => !wanted.has(name))
    if (gone.length === 0) return
    await database.paints.put({ projectId, tiles: row.tiles.filter((name) => wanted.has(name)) })
    await dropUnlisted(gone)
  })

/** Drops all that was painted in projects. */
export const dropPaint = (projectIds: readonly string[]): Promise<void> =>
  database.transaction('rw', database.paints, database.results, database.tiles, async () => {
    for (const id of projectIds) {
      const row = await database.paints.get(id)
      await database.paints.delete(id)
      if (row) await dropUnlisted(row.tiles)
    }
  })
