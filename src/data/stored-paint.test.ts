import 'fake-indexeddb/auto'
import { decode } from 'fast-png'
import { unzipSync } from 'fflate'
import { beforeEach, describe, expect, it } from 'vitest'
import { contentName } from '@/core/content-name'
import { seededRandom } from '@/core/math/sampling'
import { readTile, tileFileName, writeTile } from '@/core/paint/tile-file'
import { inBlocks, TILE, TILE_PIXELS } from '@/core/picture/tile-form'
import { newLayer, newMask, newTerm } from '@/core/sheet/new-layer'
import { insertNode } from '@/core/sheet/sheet-tree'
import { database } from './database'
import { newProject } from './new-project'
import {
  openProjectArchive,
  readProjectArchive,
  writeProjectArchive,
  type ProjectBundle,
} from './project-archive'
import { clearUnused, duplicateProject, loadProject, setDeleted, storeProject } from './project-repository'
import { clearProject } from './project-repository'
import type { Project } from './project-schema'
import { loadPaint, savePaint } from './stored-paint'
import { bytesSource } from '@/core/formats/zip-file'

const SIZE = { width: 300, height: 200 }

const tileOf = (seed: number, words: number): Uint8Array<ArrayBuffer> => {
  const random = seededRandom(seed)
  return new Uint8Array(Uint16Array.from({ length: words }, () => 65536 * random()).buffer)
}
const [ONE, TWO, MASK] = [tileOf(1, 4 * TILE_PIXELS), tileOf(2, 4 * TILE_PIXELS), tileOf(3, TILE_PIXELS)]

/** A project with a painted layer of two tiles, and a mask of one. */
async function painted(): Promise<ProjectBundle & { readonly names: string[] }> {
  const names = await Promise.all([ONE, TWO, MASK].map(contentName))
  const project = newProject('Painted')
  const content = {
    kind: 'painted',
    version: 1,
    ...SIZE,
    tiles: { '0,0': names[0], '1,1': names[1] },
  } as const
  const term = newTerm('painted', { ...SIZE, tiles: { '2,0': names[2] }, outside: true, join: 'intersect' })
  insertNode(
    project.sheets[0],
    newLayer({ id: 'p', name: 'Paint', content, mask: { ...newMask(), terms: [term] } }),
    { parent: null, index: 0 },
  )
  const paint = new Map([ONE, TWO, MASK].map((bytes, i) => [names[i], bytes]))
  return { project, files: new Map(), results: new Map(), paint, names }
}
const without = (project: Project): Project => ({
  ...project,
  sheets: project.sheets.map((sheet) => ({ ...sheet, roots: [], nodes: {} })),
})

describe('what was painted, in an archive', () => {
  it('comes back to the bit, as pictures that any reader of PNG sees', async () => {
    const given = await painted()
    const archive = await writeProjectArchive(given)
    const back = await readProjectArchive(archive, 'a.zip')
    expect(back.project).toEqual(given.project)
    expect(back.paint).toEqual(given.paint)
    const png = decode(unzipSync(archive)[`paint/${tileFileName(given.names[0])}`])
    expect([png.width, png.height, png.depth, png.channels]).toEqual([TILE, TILE, 16, 4])
    const words = new Uint16Array(ONE.buffer)
    for (const p of [0, 1, 5, 129, TILE_PIXELS - 1])
      for (let c = 0; c < 4; c++) expect(png.data[4 * p + c]).toBe(words[inBlocks(p, c)])
  })

  it('is refused under a name that is not its own, and by the file where it is damaged', async () => {
    const given = await painted()
    const swapped = new Map([...(given.paint ?? [])].map(([name], i) => [name, [TWO, ONE, MASK][i]]))
    const archive = await openProjectArchive(
      bytesSource(await writeProjectArchive({ ...given, paint: swapped })),
      'a.zip',
    )
    await expect(archive.paint(given.names[0], 'layer')).rejects.toThrow(tileFileName(given.names[0]))
    expect(() => readTile(writeTile(MASK, 'mask'), 'layer', 'paint/x.png')).toThrow('paint/x.png')
    expect(() => readTile(new Uint8Array(9), 'mask', 'paint/y.png')).toThrow('paint/y.png')
  })

  it('is left out where it is gone: the rest stands', async () => {
    const given = await painted()
    const some = new Map([...(given.paint ?? [])].slice(0, 1))
    const back = await readProjectArchive(await writeProjectArchive({ ...given, paint: some }), 'a.zip')
    expect([...(back.paint?.keys() ?? [])]).toEqual([given.names[0]])
  })
})

describe('what was painted, in the browser', () => {
  beforeEach(async () => {
    await Promise.all(database.tables.map((table) => table.clear()))
  })
  const store = async (given: ProjectBundle) =>
    storeProject({
      project: given.project,
      file: () => Promise.reject(new Error('has none')),
      result: async () => null,
      paint: async (name) => given.paint?.get(name) ?? null,
    })
  const there = async () => (await database.tiles.toCollection().primaryKeys()).sort()

  it('is stored once however many projects show it, and goes with the last of them', async () => {
    const given = await painted()
    const id = await store(given)
    expect(await there()).toEqual([...given.names].sort())
    const copy = await duplicateProject(id)
    expect(await there()).toHaveLength(3)
    for (const own of [id, copy]) {
      expect((await loadPaint(given.names)).map(({ bytes }) => bytes.length)).toEqual([131072, 131072, 32768])
      await setDeleted(own, true)
      await clearProject(own)
    }
    expect(await there()).toEqual([])
    expect(await database.paints.count()).toBe(0)
  })

  it('stays as long as the project or a step of its history names it', async () => {
    const given = await painted()
    const id = await store(given)
    const stray = tileOf(9, TILE_PIXELS)
    await savePaint(id, [{ name: await contentName(stray), bytes: stray }])
    const project = await loadProject(id)
    await clearUnused(project)
    expect(await there()).toEqual([...given.names].sort())
    await clearUnused(without(project), [project])
    expect(await there()).toHaveLength(3)
    await clearUnused(without(project))
    expect(await there()).toEqual([])
  })
})
