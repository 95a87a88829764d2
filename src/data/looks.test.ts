import 'fake-indexeddb/auto'
import { unzipSync, zipSync } from 'fflate'
import { beforeEach, describe, expect, it } from 'vitest'
import { bytesSource } from '@/core/formats/zip-file'
import { database } from './database'
import { keepLook, loadLook, postersIn } from './looks'
import { newProject } from './new-project'
import { PAPER_SIZES } from './page-size'
import { openProjectArchive, streamProjectArchive } from './project-archive'
import {
  clearProject,
  clearUnused,
  duplicateProject,
  setDeleted,
  storedProject,
  storeProject,
} from './project-repository'
import type { Page, Project } from './project-schema'

const [{ unit, widthMm, heightMm, dpi, bleedMm }] = PAPER_SIZES
const PAPER: Page = {
  posterId: 'p',
  unit,
  widthMm,
  heightMm,
  dpi,
  bleedMm,
  marginsMm: [5, 5, 5, 5],
  columns: 1,
  gutterMm: 0,
  baselineMm: 0,
  marks: { crop: true, registration: true },
}
/** What begins as a PNG does is taken for one. */
const png = (last: number) => new Uint8Array([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a, last])

function project(): Project {
  const made = newProject('Hung')
  const [sheet] = made.sheets
  made.posters = [{ id: 'p', name: 'Tide Fair' }]
  made.sheets.push({ ...sheet, id: 'page', page: PAPER }, { ...sheet, id: 'on paper', mockupOf: 'p' })
  return made
}
const written = async (own: Project): Promise<Uint8Array> => {
  const { readable, writable } = new TransformStream<Uint8Array, Uint8Array>()
  const [bytes] = await Promise.all([
    new Response(readable as ReadableStream).arrayBuffer(),
    streamProjectArchive(storedProject(own), writable),
  ])
  return new Uint8Array(bytes)
}

beforeEach(async () => {
  await database.delete()
  await database.open()
})

describe('how pages and mock-ups looked', () => {
  it('goes out with an archive and comes back with it; what is no picture stays behind', async () => {
    const own = project()
    const id = await storeProject(
      {
        project: own,
        file: () => Promise.reject(new Error('none')),
        result: () => Promise.resolve(null),
        paint: () => Promise.resolve(null),
      },
      { keepIdWhereFree: true },
    )
    await keepLook(id, 'page', png(1))
    await keepLook(id, 'on paper', png(2))
    const bytes = await written({ ...own, id })
    expect(Object.keys(unzipSync(bytes))).toEqual(
      expect.arrayContaining(['looks/page.png', 'looks/on%20paper.png']),
    )
    const archive = await openProjectArchive(bytesSource(bytes), 'a.zip')
    const back = await storeProject(archive)
    expect(await loadLook(back, 'page')).toEqual(png(1))
    expect(await loadLook(back, 'on paper')).toEqual(png(2))
    const spoilt = zipSync({ ...unzipSync(bytes), 'looks/page.png': new Uint8Array([1, 2, 3]) })
    const other = await openProjectArchive(bytesSource(spoilt), 'b.zip')
    expect(await other.look('page')).toBeNull()
    expect(await other.look('gone')).toBeNull()
  })
  it('goes along with a copy, and goes with its project and its sheet', async () => {
    const own = project()
    const source = {
      project: own,
      file: () => Promise.reject(new Error('none')),
      result: () => Promise.resolve(null),
      paint: () => Promise.resolve(null),
    }
    const id = await storeProject(source, { keepIdWhereFree: true })
    await keepLook(id, 'page', png(1))
    await keepLook(id, 'on paper', png(2))
    const copy = await duplicateProject(id)
    expect(await loadLook(copy, 'page')).toEqual(png(1))
    await clearUnused({ ...own, id, sheets: own.sheets.filter((sheet) => sheet.id !== 'page') })
    expect(await loadLook(id, 'page')).toBeNull()
    expect(await loadLook(id, 'on paper')).toEqual(png(2))
    await setDeleted(id, true)
    await clearProject(id)
    expect(await database.looks.where('projectId').equals(id).count()).toBe(0)
    expect(await loadLook(copy, 'on paper')).toEqual(png(2))
  })
  it('is told of posters without opening the project, mock-ups first; of anything else nothing', () => {
    expect(postersIn({ document: project() })).toEqual([
      { id: 'p', name: 'Tide Fair', formats: 1, sheetIds: ['on paper', 'page'] },
    ])
    expect(postersIn({ document: newProject('None') })).toEqual([])
    expect(postersIn({ document: { sheets: 3 } })).toEqual([])
  })
})
