import { testModel, testRendered } from './testing/fixtures'
import 'fake-indexeddb/auto'
import { strToU8, unzipSync, zipSync } from 'fflate'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import { ball, cube, fromFront, renderPass, sceneModel } from '@/core/testing/shapes'
import { storedSurfaces } from '@/core/passes/pass-result'
import { makeRegistration } from '@/core/scene/registration'
import { database } from './database'
import { newLayer, passOf } from '@/core/sheet/new-layer'
import { insertNode } from '@/core/sheet/sheet-tree'
import { newProject } from './new-project'
import type { ProjectBundle, ProjectSource } from './project-archive'
import {
  openProjectArchive,
  readProjectArchive,
  streamProjectArchive,
  writeProjectArchive,
} from './project-archive'
import {
  clearDeleted,
  clearProject,
  clearUnused,
  duplicateProject,
  loadProject,
  loadStored,
  renameProject,
  saveFile,
  saveProject,
  setDeleted,
  storedProject,
  storeProject,
} from './project-repository'
import { projectSchema } from './project-schema'

const FRAME = { width: 24, height: 16 }
const { result } = renderPass('id', [sceneModel(cube(), 'm/0')], fromFront(4), FRAME, {
  effort: { samples: 4, rays: 2 },
})
const SCENE = [sceneModel(cube(), 'm/0'), sceneModel(ball(1.2, 12), 'ball "ö"')]
const contour = renderPass('contour', SCENE, fromFront(4), FRAME).result
const wires = renderPass('wireframe', SCENE, fromFront(4), FRAME, { params: { seeThrough: true } }).result
const model = strToU8('v 0 0 0\n')

/** A project with one model, one rendered pass and one layer of it. */
function bundle(): ProjectBundle {
  const project = newProject('Test / project')
  const files = [{ name: 'sub/cube.obj', fileId: 'f1' }]
  project.models = [testModel({ name: 'Cube', source: { type: 'file', entry: 'sub/cube.obj', files } })]
  const pass = project.passes.find((p) => p.kind === 'id')
  if (!pass) throw new Error('no ID pass')
  pass.rendered = testRendered({
    resultId: 'r1',
    registration: makeRegistration(project.shots[0].camera, FRAME, []),
    ...FRAME,
    surfaces: storedSurfaces(result.surfaces),
    facts: result.facts,
  })
  for (const [kind, resultId, own] of [
    ['contour', 'r2', contour],
    ['wireframe', 'r3', wires],
  ] as const) {
    const drawn = project.passes.find((p) => p.kind === kind)
    if (drawn)
      drawn.rendered = testRendered({
        ...FRAME,
        resultId,
        registration: pass.rendered.registration,
        params: own.params,
        surfaces: storedSurfaces(own.surfaces),
        facts: own.facts,
      })
  }
  insertNode(
    project.sheets[0],
    newLayer({ id: 'l', name: 'ID', mode: 'multiply', opacity: 0.5, content: passOf(pass.id, {}) }),
    { parent: null, index: 0 },
  )
  return {
    project,
    files: new Map([['f1', { name: 'sub/cube.obj', bytes: model }]]),
    results: new Map([
      ['r1', result],
      ['r2', contour],
      ['r3', wires],
    ]),
  }
}

describe('project archive', () => {
  it('comes back whole: document, files, every channel to the bit', async () => {
    const given = bundle()
    const back = await readProjectArchive(await writeProjectArchive(given), 'a.zip')
    expect(back.project).toEqual(given.project)
    expect(back.files.get('f1')?.bytes).toEqual(model)
    expect(back.results.get('r1')?.channels.map((c) => [...c])).toEqual(result.channels.map((c) => [...c]))
    expect(back.results.get('r2')).toEqual({ ...contour, lights: [] })
    expect(back.results.get('r3')?.drawing).toEqual(wires.drawing)
    expect(back.results.get('r3')?.channels.length).toBe(4)
  })
  it('is the same bytes whenever it is packed', async () => {
    const given = bundle()
    const first = await writeProjectArchive(given)
    vi.useFakeTimers({ toFake: ['Date'], now: new Date(2031, 4, 5) })
    try {
      expect(await writeProjectArchive(given)).toEqual(first)
    } finally {
      vi.useRealTimers()
    }
  })
  it('reads nothing but its document until more is asked for', async () => {
    const bytes = await writeProjectArchive(bundle())
    let read = 0
    const source = {
      size: bytes.length,
      read: async (start: number, length: number) => {
        const part = bytes.subarray(start, start + length)
        read += part.length
        return part
      },
    }
    const archive = await openProjectArchive(source, 'a.zip')
    const [{ rendered }] = archive.project.passes.filter((p) => p.kind === 'id')
    const before = read
    if (rendered) await archive.result({ ...archive.project.passes[0], kind: 'id' }, rendered)
    expect(read).toBeGreaterThan(before)
    expect(archive.project.name).toBe('Test / project')
  })
  it('is a plain zip of JSON and open files', async () => {
    expect(Object.keys(unzipSync(await writeProjectArchive(bundle()))).sort()).toEqual([
      'files/f1/sub_cube.obj',
      'passes/r1.exr',
      'passes/r2.ply',
      'passes/r3.exr',
      'passes/r3.ply',
      'project.json',
    ])
  })
  const broken = async (
    change: (entries: Record<string, Uint8Array>, json: Record<string, unknown>) => void,
  ) => {
    const entries = unzipSync(await writeProjectArchive(bundle()))
    const json = JSON.parse(new TextDecoder().decode(entries['project.json'])) as Record<string, unknown>
    change(entries, json)
    if (entries['project.json']) entries['project.json'] = strToU8(JSON.stringify(json))
    return zipSync(entries)
  }
  it.each([
    ['no zip', () => strToU8('hello'), 'a.zip: it is not a zip file'],
    ['another zip', () => zipSync({ 'x.txt': model }), 'holds no project.json'],
    [
      'a missing pass',
      () => broken((e) => delete e['passes/r1.exr']),
      'passes/r1.exr is missing from the archive',
    ],
    [
      'a missing model',
      () => broken((e) => delete e['files/f1/sub_cube.obj']),
      'files/f1/sub_cube.obj is missing',
    ],
    [
      'a damaged pass',
      () => broken((e) => (e['passes/r1.exr'] = e['passes/r1.exr'].slice(0, 300))),
      'passes/r1.exr: ',
    ],
    ['lines that are missing', () => broken((e) => delete e['passes/r2.ply']), 'passes/r2.ply is missing'],
    [
      'lines that end early',
      () => broken((e) => (e['passes/r2.ply'] = e['passes/r2.ply'].slice(0, -40))),
      'passes/r2.ply: the file ends in part',
    ],
    [
      'lines of a model',
      () => broken((e) => (e['passes/r3.ply'] = strToU8('ply\nformat ascii 1.0\nend_header\n'))),
      'passes/r3.ply: is not a drawing',
    ],
    ['a newer version', () => broken((_e, json) => (json.version = 99)), 'project.json: version'],
    [
      'a layer of no pass',
      () => broken((_e, json) => (json.passes = [])),
      'layer ID names a pass that is not there',
    ],
  ])('refuses %s by name', async (_what, make, reason) => {
    await expect(readProjectArchive(await make(), 'a.zip')).rejects.toThrow(reason)
  })
})

/** A bundle, its bulk handed out piece by piece. */
const sourceOf = ({ project, files, results, paint }: ProjectBundle): ProjectSource => ({
  project,
  file: async (fileId) => files.get(fileId) ?? { name: '', bytes: new Uint8Array() },
  result: async (_pass, { resultId }) => results.get(resultId) ?? null,
  paint: async (name) => paint?.get(name) ?? null,
})

describe('storage', () => {
  /** A stored project as its archive holds it. */
  const copyOut = async (id: string): Promise<ProjectBundle> => {
    const parts: Uint8Array[] = []
    const out = new WritableStream<Uint8Array>({ write: (part) => void parts.push(part) })
    await streamProjectArchive(storedProject(await loadProject(id)), out)
    return readProjectArchive(Uint8Array.from(parts.flatMap((part) => [...part])), 'a.zip')
  }
  beforeEach(async () => {
    await Promise.all(database.tables.map((t) => t.clear()))
  })
  it('keeps an imported project and gives it back for an archive', async () => {
    const given = bundle()
    const id = await storeProject(sourceOf(given))
    expect(id).not.toBe(given.project.id)
    expect(await loadProject(id)).toEqual({ ...given.project, id })
    const out = await copyOut(id)
    expect([...(out.results.get('r1')?.channels[0] ?? [])]).toEqual([...result.channels[0]])
    expect(out.results.get('r2')?.drawing).toEqual(contour.drawing)
    expect(projectSchema.parse(out.project).passes.filter((p) => p.rendered)).toHaveLength(3)
  })
  it('copies a project with all it holds, and deletes so that it can be taken back', async () => {
    const id = await storeProject(sourceOf(bundle()))
    const copy = await duplicateProject(id)
    expect((await loadProject(copy)).name).toBe('Test / project copy')
    await setDeleted(id, true)
    await expect(loadProject(id)).rejects.toThrow('no such project')
    await setDeleted(id, false)
    expect((await loadProject(id)).id).toBe(id)
    expect((await copyOut(copy)).results.size).toBe(3)
  })
  it('leaves nothing of an import that fails half-way', async () => {
    const given = sourceOf(bundle())
    const failing = { ...given, result: () => Promise.reject(new Error('cut short')) }
    await expect(storeProject(failing)).rejects.toThrow('cut short')
    for (const table of database.tables) expect([table.name, await table.count()]).toEqual([table.name, 0])
  })
  it('tells how far it is, in both directions', async () => {
    const told: number[] = []
    const id = await storeProject(sourceOf(bundle()), { onProgress: (share) => void told.push(share) })
    expect(told).toEqual([0.25, 0.5, 0.75, 1])
    told.length = 0
    const out = new WritableStream<Uint8Array>()
    await streamProjectArchive(storedProject(await loadProject(id)), out, (share) => void told.push(share))
    expect(told).toEqual([0.2, 0.4, 0.6, 0.8, 1])
  })
  it('never saves over what was deleted, and changes what is there in one go', async () => {
    const id = await storeProject(sourceOf(bundle()))
    const project = await loadProject(id)
    await saveProject({ ...project, name: 'Second' }, 7)
    expect(await loadStored(id)).toMatchObject({ project: { name: 'Second' }, edit: 7 })
    await renameProject(id, 'Third')
    expect(await loadStored(id)).toMatchObject({ project: { name: 'Third' }, edit: 7 })
    await setDeleted(id, true)
    await expect(saveProject(project, 8)).rejects.toThrow(/was deleted, in another tab/)
    await expect(renameProject(id, 'Fourth')).rejects.toThrow('no such project')
    await setDeleted(id, false)
    expect((await loadProject(id)).name).toBe('Third')
  })
  it('keeps what was deleted for a month, then clears it; orphans of an interrupted import at once', async () => {
    const id = await storeProject(sourceOf(bundle()))
    await setDeleted(id, true)
    await saveFile('nobody', 'f', 'stray.obj', model)
    const day = 24 * 3600 * 1000
    await clearDeleted(Date.now() + 29 * day)
    expect(await database.files.toCollection().primaryKeys()).toEqual([`${id}/f1`])
    await clearDeleted(Date.now() + 31 * day)
    for (const table of [database.projects, database.files, database.results])
      expect(await table.count()).toBe(0)
  })
  it('clears for good only what was deleted', async () => {
    const id = await storeProject(sourceOf(bundle()))
    await clearProject(id)
    expect((await loadProject(id)).id).toBe(id)
    await setDeleted(id, true)
    await clearProject(id)
    expect(await database.projects.count()).toBe(0)
  })
  it('clears only what the project no longer names', async () => {
    const id = await storeProject(sourceOf(bundle()))
    await saveFile(id, 'stray', 'old.obj', model)
    const project = await loadProject(id)
    await clearUnused(project)
    expect((await database.files.toCollection().primaryKeys()).sort()).toEqual([`${id}/f1`])
    expect(await database.results.count()).toBe(3)
  })
  it('refuses a damaged document by field', async () => {
    const id = await storeProject(sourceOf(bundle()))
    await database.projects.update(id, { document: { version: 1, id } })
    await expect(loadProject(id)).rejects.toThrow(/the stored project is damaged at/)
  })
})
