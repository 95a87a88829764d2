import { contentName } from '@/core/content-name'
import { UnreadableFileError } from '@/core/errors'
import type { Tile } from '@/core/passes/tile'
import { allocateChannel, type ChannelData, type ChannelFormat } from '@/core/picture/channel'
import { database, type TiledPlane, type TileRow } from './database'

/**
 * Pictures as the browser keeps them: planes cut into square tiles, each stored once under a name made of its content.
 * A tile never changes; a row that shows one lists its name, and a tile that no row lists goes. What two pictures have
 * in common, two states of one picture above all, takes room once.
 */

/** Tiles of passes, which are read as a whole: large ones are written and read fastest (bench/stored-passes). */
export const PASS_TILE_SIDE = 512

/** Rows of one request to the storage. */
const BULK = 100

function* bulks<T>(all: readonly T[]): Generator<T[]> {
  for (let at = 0; at < all.length; at += BULK) yield all.slice(at, at + BULK)
}

/** The tiles of a plane, row by row; those at its edges are cut short. */
export function tileRects(width: number, height: number, side: number): Tile[] {
  const rects: Tile[] = []
  for (let y = 0; y < height; y += side)
    for (let x = 0; x < width; x += side)
      rects.push({ x, y, width: Math.min(side, width - x), height: Math.min(side, height - y) })
  return rects
}

/**
 * Cuts a plane into tiles and names them.
 * @param data width × height numbers, row by row. @param tiles collects what is to be stored, by name.
 */
export async function cutPlane(
  format: ChannelFormat,
  data: ChannelData,
  width: number,
  side: number,
  tiles: Map<string, TileRow>,
): Promise<TiledPlane> {
  const cut = async (rect: Tile): Promise<string> => {
    const tile = allocateChannel(format, rect.width * rect.height)
    for (let row = 0; row < rect.height; row++) {
      const from = (rect.y + row) * width + rect.x
      tile.set(data.subarray(from, from + rect.width), row * rect.width)
    }
    const bytes = new Uint8Array(tile.buffer as ArrayBuffer)
    const name = await contentName(bytes)
    if (!tiles.has(name)) tiles.set(name, { name, bytes })
    return name
  }
  return { format, side, names: await Promise.all(tileRects(width, data.length / width, side).map(cut)) }
}

/** Stores those tiles that are not there yet; within the transaction that stores the row which lists them. */
export async function putTiles(tiles: ReadonlyMap<string, TileRow>): Promise<void> {
  for (const some of bulks([...tiles.values()])) {
    const names = some.map(({ name }) => name)
    const there = new Set(await database.tiles.where('name').anyOf(names).primaryKeys())
    await database.tiles.bulkPut(some.filter(({ name }) => !there.has(name)))
  }
}

/**
 * A plane put together from its tiles.
 * @param what names the plane in errors.
 * @throws {UnreadableFileError} where tiles are missing or do not fit.
 */
export async function readPlane(
  { format, side, names }: TiledPlane,
  width: number,
  height: number,
  what: string,
): Promise<ChannelData> {
  const rects = tileRects(width, height, side)
  if (rects.length !== names.length)
    throw new UnreadableFileError(what, `has ${names.length} tiles, not ${rects.length}`)
  const plane = allocateChannel(format, width * height)
  const places = new Map<string, number[]>()
  names.forEach((name, i) => places.set(name, [...(places.get(name) ?? []), i]))
  for (const some of bulks([...places.keys()])) {
    const rows = await database.tiles.bulkGet(some)
    rows.forEach((row, n) => {
      for (const i of places.get(some[n]) ?? []) {
        const rect = rects[i]
        const bytes = rect.width * rect.height * plane.BYTES_PER_ELEMENT
        const where = `tile ${i + 1} of ${rects.length}`
        if (!row) throw new UnreadableFileError(what, `${where} is missing from the browser’s storage`)
        if (row.bytes.byteLength !== bytes)
          throw new UnreadableFileError(what, `${where} holds ${row.bytes.byteLength} bytes, not ${bytes}`)
        placeTile(plane, width, rect, row.bytes)
      }
    })
  }
  return plane
}

function placeTile(plane: ChannelData, width: number, rect: Tile, { buffer, byteOffset }: Uint8Array): void {
  const of = plane.constructor as new (b: ArrayBufferLike, at: number, n: number) => ChannelData
  const tile = new of(buffer, byteOffset, rect.width * rect.height)
  for (let row = 0; row < rect.height; row++)
    plane.set(tile.subarray(row * rect.width, (row + 1) * rect.width), (rect.y + row) * width + rect.x)
}

/** Drops those of some tiles that no pass and no painting lists any more; within the transaction that dropped rows which did. */
export async function dropUnlisted(names: Iterable<string>): Promise<void> {
  for (const some of bulks([...new Set(names)])) {
    const listed = new Set([
      ...(await database.results.where('tiles').anyOf(some).uniqueKeys()),
      ...(await database.paints.where('tiles').anyOf(some).uniqueKeys()),
    ])
    await database.tiles.bulkDelete(some.filter((name) => !listed.has(name)))
  }
}
