import { InvalidValueError, UnreadableFileError } from '@/core/errors'
import { passResultProblem } from '@/core/passes/check-result'
import type { PassResult } from '@/core/passes/pass-result'
import { passKind } from '@/core/passes/registry'
import type { ChannelData } from '@/core/picture/channel'
import { database, type ResultRow, type TiledPlane, type TileRow } from './database'
import type { Rendered } from './project-schema'
import { cutPlane, dropUnlisted, PASS_TILE_SIDE, putTiles, readPlane } from './tiles'

/** Rendered passes in the browser's storage: a row each, their channels as tiles. */

export const resultKey = (projectId: string, resultId: string): string => `${projectId}/${resultId}`

/** Stores a rendered pass, whole or not at all. @throws {InvalidValueError} where it is not sound. */
export async function saveResult(projectId: string, resultId: string, result: PassResult): Promise<void> {
  const { kind, width, height, channels, lights, params, drawing = null } = result
  const problem = passResultProblem({ ...result, drawing })
  if (problem) throw new InvalidValueError('result', `cannot be stored: ${problem}`, kind)
  const tiles = new Map<string, TileRow>()
  const planes: TiledPlane[] = []
  for (const [i, { format }] of passKind(kind).channels(lights, params).entries())
    planes.push(await cutPlane(format, channels[i], width, PASS_TILE_SIDE, tiles))
  const key = resultKey(projectId, resultId)
  const row: ResultRow = { key, projectId, kind, width, height, planes, tiles: [...tiles.keys()], drawing }
  await database.transaction('rw', database.results, database.tiles, database.paints, async () => {
    const before = await database.results.get(key)
    await putTiles(tiles)
    await database.results.put(row)
    if (before) await dropUnlisted(before.tiles ?? [])
  })
}

/** The channels of a row. @throws {UnreadableFileError} where tiles of it are gone or do not fit. */
async function channelsOf(row: ResultRow, resultId: string): Promise<ChannelData[]> {
  if (row.channels) return row.channels
  const channels: ChannelData[] = []
  for (const [i, plane] of row.planes.entries())
    channels.push(
      await readPlane(plane, row.width, row.height, `${resultId}, channel ${i + 1} of the stored pass`),
    )
  return channels
}

/** A stored pass; null where it is gone. @throws {UnreadableFileError} where it is damaged. */
export async function loadResult(projectId: string, rendered: Rendered): Promise<PassResult | null> {
  const { resultId, surfaces, lights, params, facts } = rendered
  const row = await database.results.get(resultKey(projectId, resultId))
  if (!row) return null
  const { kind, width, height, drawing = null } = row
  const channels = await channelsOf(row, resultId)
  const result: PassResult = { kind, width, height, channels, surfaces, lights, params, facts, drawing }
  const problem = passResultProblem(result)
  if (problem) throw new UnreadableFileError(resultId, `the stored pass is damaged: ${problem}`)
  // Channels of before there were tiles become tiles where there is room; where there is none they stay as they are.
  if (row.channels) await saveResult(projectId, resultId, result).catch(() => undefined)
  return result
}

/** Gives another project the same pass: its row is copied, its tiles are shared. @returns whether it was there. */
export const shareResult = (fromId: string, toId: string, resultId: string): Promise<boolean> =>
  database.transaction('rw', database.results, async () => {
    const row = await database.results.get(resultKey(fromId, resultId))
    if (row) await database.results.put({ ...row, key: resultKey(toId, resultId), projectId: toId })
    return row !== undefined
  })

/** Drops rows of results, and the tiles that nothing else lists. */
export const dropResults = (keys: readonly string[]): Promise<void> =>
  database.transaction('rw', database.results, database.tiles, database.paints, async () => {
    const names = new Set<string>()
    for (const key of keys) {
      for (const name of (await database.results.get(key))?.tiles ?? []) names.add(name)
      await database.results.delete(key)
    }
    await dropUnlisted(names)
  })

/** Drops a result that the stored project no longer names. */
export const dropResult = (projectId: string, resultId: string): Promise<void> =>
  dropResults([resultKey(projectId, resultId)])
