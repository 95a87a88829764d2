import 'fake-indexeddb/auto'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { database } from '@/data/database'
import { newProject } from '@/data/new-project'
import { createProject, loadStored } from '@/data/project-repository'
import { dropJournal, journalled } from './edit-journal'
import {
  changeProject,
  closeProject,
  flushSave,
  openProject,
  redo,
  undo,
  useProjectStore,
} from './project-store'

/** The browser's synchronous storage; it outlives a page. */
class Lasting {
  readonly kept = new Map<string, string>()
  isFull = false
  get length(): number {
    return this.kept.size
  }
  key = (i: number) => [...this.kept.keys()][i] ?? null
  getItem = (key: string) => this.kept.get(key) ?? null
  setItem = (key: string, text: string) => {
    if (this.isFull) throw new DOMException('no room', 'QuotaExceededError')
    this.kept.set(key, text)
  }
  removeItem = (key: string) => void this.kept.delete(key)
}

let storage: Lasting
const name = () => useProjectStore.getState().project?.name
const rename = (to: string) => changeProject('rename', (draft) => void (draft.name = to))

/** The page goes, with all that it had not saved; storage stays as it is at that moment. */
async function crash(): Promise<void> {
  const rows = await database.projects.toArray()
  const kept = new Map(storage.kept)
  await closeProject()
  await database.projects.bulkPut(rows)
  storage.kept.clear()
  for (const [key, text] of kept) storage.kept.set(key, text)
}

describe('edits that were not saved', () => {
  const fresh = newProject('A')
  beforeEach(async () => {
    storage = new Lasting()
    vi.stubGlobal('localStorage', storage)
    await createProject(fresh)
    await openProject(fresh.id)
  })
  afterEach(async () => {
    await closeProject()
    vi.unstubAllGlobals()
  })

  it('come back after the page went at once, undone and done again ones as they were', async () => {
    rename('B')
    await crash()
    expect((await loadStored(fresh.id)).project.name).toBe('A')
    await openProject(fresh.id)
    expect(name()).toBe('B')
    expect((await loadStored(fresh.id)).project.name).toBe('B')
    rename('C')
    rename('D')
    undo()
    await crash()
    await openProject(fresh.id)
    expect(name()).toBe('C')
    rename('E')
    undo()
    redo()
    await crash()
    await openProject(fresh.id)
    expect(name()).toBe('E')
  })
  it('are forgotten once they are saved, but not what came while saving', async () => {
    rename('B')
    const saved = flushSave()
    rename('C')
    await saved
    const [text] = storage.kept.values()
    expect(JSON.parse(text)).toMatchObject({ entries: [{ changes: [{ path: ['name'], value: 'C' }] }] })
    await crash()
    await openProject(fresh.id)
    expect(name()).toBe('C')
    await flushSave()
    expect(storage.kept.size).toBe(0)
  })
  it('are not made twice where the page went between the save and the note of it', async () => {
    changeProject('add', (draft) => void draft.palettes.push({ id: 'p', name: 'P', colours: [] }))
    const [[key, text]] = storage.kept
    await flushSave()
    storage.kept.set(key, text)
    await crash()
    await openProject(fresh.id)
    expect(useProjectStore.getState().project?.palettes).toHaveLength(1)
  })
  it('take one entry where a hand moves one thing, and come back as it left it', async () => {
    const entries = () => {
      const [text] = storage.kept.values()
      return (JSON.parse(text) as { entries: unknown[] }).entries.length
    }
    for (const to of ['B', 'C', 'D']) rename(to)
    expect(entries()).toBe(1)
    changeProject('add', (draft) => void draft.palettes.push({ id: 'p', name: 'P', colours: [] }))
    rename('E')
    rename('F')
    expect(entries()).toBe(3)
    await crash()
    await openProject(fresh.id)
    expect(name()).toBe('F')
    expect(useProjectStore.getState().project?.palettes).toHaveLength(1)
  })
  it('are saved at once where the journal has no room', async () => {
    storage.isFull = true
    rename('B')
    await vi.waitFor(async () => expect((await loadStored(fresh.id)).project.name).toBe('B'), {
      timeout: 30_000,
    })
  })
  it.each([
    '{',
    '{"version":1,"entries":[]}',
    '{"version":5,"entries":[{"edit":99,"changes":[{"path":["shots",7],"value":1}]}]}',
  ])('are left alone where the journal is damaged: %s', async (text) => {
    await closeProject()
    storage.kept.set(`muted-relief journal ${fresh.id}`, text)
    await openProject(fresh.id)
    expect(name()).toBe('A')
  })
  it('are listed by project, and dropped with it', () => {
    rename('B')
    storage.kept.set('something else', '')
    expect(journalled()).toEqual([fresh.id])
    dropJournal(fresh.id)
    expect(journalled()).toEqual([])
  })
})
