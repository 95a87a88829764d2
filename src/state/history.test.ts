import 'fake-indexeddb/auto'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import { seededRandom } from '@/core/math/sampling'
import { evenFill, newLayer } from '@/core/sheet/new-layer'
import { insertNode, moveNode, removeNode } from '@/core/sheet/sheet-tree'
import { activeSheet } from '@/data/active-shot'
import { database } from '@/data/database'
import { newProject } from '@/data/new-project'
import { createProject, saveFile, setDeleted, clearProject } from '@/data/project-repository'
import type { Project } from '@/data/project-schema'
import { MOST_STORED, readHistory, storedHistory } from './history'
import {
  changeProject,
  closeProject,
  flushSave,
  openProject,
  redo,
  undo,
  useProjectStore,
} from './project-store'

const project = (): Project => {
  const found = useProjectStore.getState().project
  if (!found) throw new Error('no project is open')
  return found
}
let id = ''
beforeEach(async () => {
  await closeProject()
  const fresh = newProject('Low Water')
  id = fresh.id
  await createProject(fresh)
  await openProject(id)
})
async function reopen(): Promise<void> {
  await closeProject()
  await openProject(id)
}

/** Any edit of a sheet. */
function edit(step: number, random: () => number): void {
  changeProject(`edit ${step}`, (draft) => {
    const sheet = activeSheet(draft)
    const ids = Object.keys(sheet.nodes)
    const some = ids[Math.floor(random() * ids.length)]
    const kind = Math.floor(random() * 5)
    if (kind === 0 || ids.length < 3)
      insertNode(sheet, newLayer({ id: `n${step}`, name: `N${step}`, content: evenFill('#406080') }), {
        parent: null,
        index: Math.floor(random() * 9),
      })
    else if (kind === 1) removeNode(sheet, some)
    else if (kind === 2) moveNode(sheet, some, { parent: null, index: Math.floor(random() * ids.length) })
    else if (kind === 3) sheet.nodes[some].opacity = Math.round(100 * random()) / 100
    else draft.name = `name ${step}`
  })
}

describe('a history', () => {
  it('lasts over a reload: 200 steps back and forth are the states that were', async () => {
    const random = seededRandom(5)
    const states = [project()]
    for (let step = 0; step < 200; step++) {
      edit(step, random)
      if (project() !== states.at(-1)) states.push(project())
    }
    const steps = states.length - 1
    expect(steps).toBeGreaterThan(150)
    await reopen()
    for (let at = steps - 1; at >= 0; at--) {
      expect(undo()).not.toBeNull()
      expect(project()).toEqual(states[at])
    }
    expect(undo()).toBeNull()
    // In the middle of it, again: what was taken back can still be done again.
    for (let at = 1; at <= 40; at++) redo()
    await reopen()
    expect(project()).toEqual(states[40])
    for (let at = 41; at <= steps; at++) {
      expect(redo()).not.toBeNull()
      expect(project()).toEqual(states[at])
    }
    expect(redo()).toBeNull()
    undo()
    expect(project()).toEqual(states[steps - 1])
  })
  it('keeps what was not saved as one step', async () => {
    const kept = new Map<string, string>()
    vi.stubGlobal('localStorage', {
      getItem: (key: string) => kept.get(key) ?? null,
      setItem: (key: string, text: string) => void kept.set(key, text),
      removeItem: (key: string) => void kept.delete(key),
    })
    await reopen()
    changeProject('a', (draft) => void (draft.name = 'A'))
    await flushSave()
    const rows = [await database.projects.toArray(), await database.histories.toArray()] as const
    changeProject('b', (draft) => void (draft.name = 'B'))
    changeProject('c', (draft) => void (draft.palettes = [{ id: 'p', name: 'P', colours: [] }]))
    const journal = new Map(kept)
    // The page goes before any of it is saved.
    await closeProject()
    await database.projects.bulkPut(rows[0])
    await database.histories.bulkPut(rows[1])
    for (const [key, text] of journal) kept.set(key, text)
    await openProject(id)
    expect([project().name, project().palettes.length]).toEqual(['B', 1])
    expect(undo()).toBe('what was not saved')
    expect([project().name, project().palettes.length]).toEqual(['A', 0])
    expect(undo()).toBe('a')
    expect(project().name).toBe('Low Water')
    vi.unstubAllGlobals()
  })
  it('of another state than the stored one, or damaged, is left out as far as it cannot be followed', async () => {
    for (const name of ['A', 'B', 'C', 'D']) changeProject(name, (draft) => void (draft.name = name))
    await closeProject()
    const row = await database.histories.get(id)
    if (!row) throw new Error('nothing was stored')
    const now = { ...newProject('D'), id }
    expect(readHistory(now, row, row.edit + 1)).toEqual({ past: [], future: [] })
    expect(readHistory(now, undefined, 0)).toEqual({ past: [], future: [] })
    expect(readHistory(now, row, row.edit).past.map(({ label }) => label)).toEqual(['A', 'B', 'C', 'D'])
    const torn = { ...row, past: row.past.map((text, i) => (i === 1 ? text.slice(3) : text)) }
    expect(readHistory(now, torn, row.edit).past.map(({ label }) => label)).toEqual(['C', 'D'])
    // A step to what is no project goes nowhere.
    const wrong = JSON.stringify({ label: 'C', changes: [{ path: ['sheets'], value: 'none' }] })
    await database.histories.put({ ...row, past: row.past.map((text, i) => (i === 2 ? wrong : text)) })
    await openProject(id)
    expect(undo()).toBe('D')
    expect(undo()).toBeNull()
    expect(project().name).toBe('C')
  })
  it('keeps within its room, the nearest steps first', () => {
    const long = 'x'.repeat(MOST_STORED / 4)
    const past = ['a', 'b', 'c', 'd', 'e'].map((label) => ({
      label,
      project: { ...newProject(`${label}${long}`), id },
    }))
    const stored = storedHistory({ ...newProject('now'), id }, { past, future: [] }, 1)
    expect(stored.past.map((text) => (JSON.parse(text) as { label: string }).label)).toEqual(['c', 'd', 'e'])
  })
  it('holds on to the files it names, and goes with its project', async () => {
    await saveFile(id, 'f', 'wall.png', Uint8Array.of(1))
    await saveFile(id, 'lost', 'lost.png', Uint8Array.of(2))
    changeProject('add', (draft) => void draft.pictures.push({ id: 'p', name: 'wall.png', fileId: 'f' }))
    changeProject('remove', (draft) => void draft.pictures.pop())
    await reopen()
    await vi.waitFor(async () => expect(await database.files.get(`${id}/lost`)).toBeUndefined(), {
      timeout: 30_000,
    })
    expect(await database.files.get(`${id}/f`)).toBeDefined()
    undo()
    expect(project().pictures).toHaveLength(1)
    await closeProject()
    await setDeleted(id, true)
    await clearProject(id)
    expect(await database.histories.get(id)).toBeUndefined()
  })
})
