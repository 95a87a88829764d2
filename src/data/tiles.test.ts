import 'fake-indexeddb/auto'
import { Dexie } from 'dexie'
import fc from 'fast-check'
import { afterEach, beforeEach, describe, expect, it } from 'vitest'
import { passKind } from '@/core/passes/registry'
import type { PassResult } from '@/core/passes/pass-result'
import { allocateChannel, CHANNEL_FORMATS, type ChannelData } from '@/core/picture/channel'
import { database, type TileRow } from './database'
import { newProject } from './new-project'
import {
  clearProject,
  createProject,
  duplicateProject,
  loadProject,
  setDeleted,
  storageProblem,
} from './project-repository'
import type { Project } from './project-schema'
import { dropResult, loadResult, saveResult } from './stored-results'
import { testRendered } from './testing/fixtures'
import { cutPlane, PASS_TILE_SIDE, putTiles, readPlane, tileRects } from './tiles'

const WIDTH = PASS_TILE_SIDE + 130
const HEIGHT = 40

/** A rendered clay pass: noise in its first tile, one value in the rest. */
function clay(seed: number, rest = 7): PassResult {
  const lights = testRendered().lights
  const channels = passKind('clay')
    .channels(lights, {})
    .map(({ format }, c): ChannelData => {
      const data = allocateChannel(format, WIDTH * HEIGHT).fill(rest)
      for (let i = 0; i < 400; i++) data[i] = (i * (seed + c) * 7919) % 251
      return data
    })
  return {
    kind: 'clay',
    width: WIDTH,
    height: HEIGHT,
    channels,
    surfaces: [],
    lights,
    params: {},
    facts: {},
    drawing: null,
  }
}
const rendered = (resultId: string) => testRendered({ resultId, width: WIDTH, height: HEIGHT })
const names = async () => (await database.tiles.toCollection().primaryKeys()).sort()

beforeEach(async () => {
  await database.delete()
  await database.open()
})

describe('planes as tiles', () => {
  it('come back as they were, of any format, size and side of tile', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.constantFrom(...CHANNEL_FORMATS),
        fc.integer({ min: 1, max: 70 }),
        fc.integer({ min: 1, max: 70 }),
        fc.integer({ min: 1, max: 80 }),
        fc.integer({ min: 1, max: 1e6 }),
        async (format, width, height, side, seed) => {
          const plane = allocateChannel(format, width * height)
          for (let i = 0; i < plane.length; i++) plane[i] = (i * seed) % 65521
          const tiles = new Map<string, TileRow>()
          const cut = await cutPlane(format, plane, width, side, tiles)
          await putTiles(tiles)
          const read = await readPlane(cut, width, height, 'plane')
          expect(read).toEqual(plane)
          expect(read.constructor).toBe(plane.constructor)
        },
      ),
      { numRuns: 60 },
    )
  })
  it('lie edge to edge, each pixel in one of them', () => {
    const seen = new Uint8Array(37 * 29)
    for (const { x, y, width, height } of tileRects(37, 29, 16))
      for (let j = y; j < y + height; j++) for (let i = x; i < x + width; i++) seen[j * 37 + i]++
    expect(new Set(seen)).toEqual(new Set([1]))
    expect(tileRects(37, 29, 16)).toHaveLength(6)
  })
  it('take room once for what they have in common, and are named by what they hold', async () => {
    const flat = new Uint8Array(64 * 64).fill(3)
    const tiles = new Map<string, TileRow>()
    const { names: all } = await cutPlane('unorm8', flat, 64, 16, tiles)
    expect(all).toHaveLength(16)
    expect(tiles.size).toBe(1)
    // SHA-256 of 256 bytes of 3, as another reader works it out.
    expect(all[0]).toBe('4MH0RVeDtrLxUrUmwqc9qw9cOBK2MA7hKRM3Fhb2UDQ=')
  })
})

describe('stored passes', () => {
  it('share their tiles, which go with the last that lists them', async () => {
    await saveResult('p', 'a', clay(1))
    const one = await names()
    await saveResult('p', 'b', clay(2))
    const both = await names()
    expect(both.length).toBeLessThan(2 * one.length)
    expect((await loadResult('p', rendered('b')))?.channels).toEqual(clay(2).channels)
    await dropResult('p', 'b')
    expect(await names()).toEqual(one)
    expect((await loadResult('p', rendered('a')))?.channels).toEqual(clay(1).channels)
    await dropResult('p', 'a')
    expect(await names()).toEqual([])
    expect(await loadResult('p', rendered('a'))).toBeNull()
  })
  it('leave nothing behind of what they replace', async () => {
    await saveResult('p', 'a', clay(1))
    await saveResult('p', 'a', clay(3, 9))
    const kept = await names()
    await dropResult('p', 'a')
    await saveResult('p', 'a', clay(3, 9))
    expect(await names()).toEqual(kept)
  })
  it('of a copied project are those of the first, until one of the two goes', async () => {
    const id = await projectOf(clay(1))
    const one = await names()
    const copy = await duplicateProject(id)
    expect(await names()).toEqual(one)
    await setDeleted(id, true)
    await clearProject(id)
    expect(await names()).toEqual(one)
    expect((await loadProject(copy)).passes[0].rendered?.resultId).toBe('r')
    expect((await loadResult(copy, rendered('r')))?.channels).toEqual(clay(1).channels)
    await setDeleted(copy, true)
    await clearProject(copy)
    expect(await names()).toEqual([])
  })
  it('name a tile that is missing, or does not fit', async () => {
    await saveResult('p', 'a', clay(1))
    const [row] = await database.results.toArray()
    const second = row.planes?.[0].names[1] ?? ''
    await database.tiles.update(second, { bytes: new Uint8Array(5) })
    await expect(loadResult('p', rendered('a'))).rejects.toThrow(
      /channel 1 of the stored pass.*tile 2 of 2 holds 5 bytes/,
    )
    await database.tiles.delete(second)
    await expect(loadResult('p', rendered('a'))).rejects.toThrow(/tile 2 of 2 is missing/)
  })
  describe('where there is no room', () => {
    const full = () => {
      throw new DOMException('no room', 'QuotaExceededError')
    }
    afterEach(() => database.tiles.hook('creating').unsubscribe(full))
    it('leave nothing of themselves, and say so', async () => {
      await saveResult('p', 'a', clay(1))
      const before = await names()
      database.tiles.hook('creating', full)
      const failed = await saveResult('p', 'b', clay(2)).catch((error: unknown) => error)
      expect(storageProblem(failed)).toContain('no room left')
      expect(await names()).toEqual(before)
      expect(await database.results.count()).toBe(1)
    })
  })
  describe('of before there were tiles', () => {
    /** The storage as it was then, with a pass in it. */
    async function storeWhole(result: PassResult): Promise<void> {
      await database.delete()
      const before = new Dexie('muted-relief')
      before.version(3).stores({ projects: 'id, updatedAt, deletedAt', results: 'key, projectId' })
      const { kind, width, height, channels, drawing } = result
      await before
        .table('results')
        .put({ key: 'p/a', projectId: 'p', kind, width, height, channels, drawing })
      before.close()
      await database.open()
    }
    it('are read, and are tiles from then on', async () => {
      await storeWhole(clay(1))
      expect((await loadResult('p', rendered('a')))?.channels).toEqual(clay(1).channels)
      const row = await database.results.get('p/a')
      expect(row?.channels).toBeUndefined()
      expect(row?.tiles).toEqual(expect.arrayContaining(await names()))
      expect((await loadResult('p', rendered('a')))?.channels).toEqual(clay(1).channels)
    })
    it('are read as well where there is no room for tiles, and go without any', async () => {
      await storeWhole(clay(1))
      const full = () => {
        throw new DOMException('no room', 'QuotaExceededError')
      }
      database.tiles.hook('creating', full)
      expect((await loadResult('p', rendered('a')))?.channels).toEqual(clay(1).channels)
      database.tiles.hook('creating').unsubscribe(full)
      expect((await database.results.get('p/a'))?.channels).toHaveLength(clay(1).channels.length)
      await dropResult('p', 'a')
      expect(await database.results.count()).toBe(0)
    })
  })
})

/** A stored project of one pass. @returns its id. */
async function projectOf(result: PassResult): Promise<string> {
  const project: Project = newProject('Pell')
  const [pass] = project.passes
  const passes = [{ ...pass, kind: 'clay' as const, rendered: rendered('r') }]
  await createProject({ ...project, passes })
  await saveResult(project.id, 'r', result)
  return project.id
}
