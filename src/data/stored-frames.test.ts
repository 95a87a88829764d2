import 'fake-indexeddb/auto'
import { beforeEach, describe, expect, it } from 'vitest'
import { database } from './database'
import { newProject } from './new-project'
import { clearDeleted, clearProject, clearUnused, createProject, setDeleted } from './project-repository'
import { framesThere, loadFrame, saveFrame, tidyFrames } from './stored-frames'
import { loadTurnJob, saveTurnJob } from './turn-jobs'

const picture = (size: number): Blob =>
  new Blob([new Uint8Array(size).fill(size % 251)], { type: 'image/png' })

beforeEach(async () => {
  await database.frames.clear()
  await database.projects.clear()
})

describe('frames that are kept', () => {
  it('are there under their names, each project’s its own', async () => {
    await saveFrame('p', 'a', picture(10))
    await saveFrame('p', 'b', picture(20))
    await saveFrame('pp', 'c', picture(30))
    expect([...(await framesThere('p'))].sort()).toEqual(['a', 'b'])
    expect((await loadFrame('p', 'b'))?.size).toBe(20)
    expect(await loadFrame('p', 'c')).toBeNull()
  })
  it('make room, the oldest first, but those that are wanted', async () => {
    for (const [i, name] of ['a', 'b', 'c', 'd'].entries()) {
      await saveFrame('p', name, picture(100))
      await database.frames.update(`p/${name}`, { at: i })
    }
    await saveFrame('q', 'other', picture(100))
    expect(await tidyFrames('p', new Set(['a']), 200)).toEqual(['b'])
    expect([...(await framesThere('p'))].sort()).toEqual(['a', 'c', 'd'])
    expect(await framesThere('q')).toEqual(new Set(['other']))
    expect((await tidyFrames('p', new Set(), 0)).sort()).toEqual(['a', 'c', 'd'])
  })
  it('go with their project, and stay when what it does not use is cleared', async () => {
    const project = newProject('P')
    await createProject(project)
    await saveFrame(project.id, 'a', picture(10))
    await saveTurnJob(project.id, { turnId: 't', paused: false, reason: null })
    await clearUnused(project)
    expect((await framesThere(project.id)).size).toBe(1)
    await setDeleted(project.id, true)
    await clearProject(project.id)
    expect((await framesThere(project.id)).size).toBe(0)
    expect(await loadTurnJob(project.id)).toBeNull()
  })
  it('of a project that never was are cleared', async () => {
    await saveFrame('nobody', 'a', picture(10))
    await clearDeleted()
    expect((await framesThere('nobody')).size).toBe(0)
  })
})

describe('a turntable under way', () => {
  it('is kept for the next visit; one that cannot be read is none', async () => {
    await saveTurnJob('p', { turnId: 't', paused: true, reason: 'no room' })
    expect(await loadTurnJob('p')).toEqual({ turnId: 't', paused: true, reason: 'no room' })
    await database.settings.put({ key: 'turntable p', value: { turnId: 5 } })
    expect(await loadTurnJob('p')).toBeNull()
  })
})
