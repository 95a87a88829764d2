import { testRendered } from '@/data/testing/fixtures'
import 'fake-indexeddb/auto'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import { newProject } from '@/data/new-project'
import { loadProject, createProject } from '@/data/project-repository'
import {
  beginPending,
  changeProject,
  flushSave,
  openProject,
  recordInProject,
  redo,
  undo,
  useProjectStore,
} from './project-store'

const project = () => {
  const found = useProjectStore.getState().project
  if (!found) throw new Error('no project is open')
  return found
}

describe('project store', () => {
  beforeEach(async () => {
    const fresh = newProject('A')
    await createProject(fresh)
    await openProject(fresh.id)
  })
  it('takes back and does again, step by step, and saves what is', async () => {
    changeProject('rename', (d) => void (d.name = 'B'))
    changeProject('rename', (d) => void (d.name = 'C'))
    expect(undo()).toBe('rename')
    expect(project().name).toBe('B')
    undo()
    expect(project().name).toBe('A')
    expect(undo()).toBeNull()
    redo()
    expect(project().name).toBe('B')
    await flushSave()
    expect((await loadProject(project().id)).name).toBe('B')
    changeProject('rename', (d) => void (d.name = 'D'))
    expect(redo()).toBeNull()
  })
  it('makes one step of a drag, and two of two drags', () => {
    vi.useFakeTimers()
    for (const v of [0.1, 0.2, 0.3])
      changeProject('place', (d) => void (d.shots[0].camera.fovDeg = 30 + v), 'lens')
    vi.advanceTimersByTime(2000)
    changeProject('place', (d) => void (d.shots[0].camera.fovDeg = 50), 'lens')
    vi.useRealTimers()
    undo()
    expect(project().shots[0].camera.fovDeg).toBeCloseTo(30.3, 6)
    undo()
    expect(project().shots[0].camera.fovDeg).toBe(30)
  })
  it('keeps what was rendered when a decision is taken back', () => {
    changeProject('rename', (d) => void (d.name = 'B'))
    recordInProject((d) => {
      d.passes[0].rendered = testRendered()
    })
    undo()
    expect(project().name).toBe('A')
    expect(project().passes[0].rendered?.resultId).toBe('r')
  })
  it('takes back first what was decided and has not come yet', () => {
    changeProject('rename', (d) => void (d.name = 'B'))
    const cancel = vi.fn()
    const end = beginPending({ label: 'weld vertices', cancel })
    expect(undo()).toBe('weld vertices')
    expect(cancel).toHaveBeenCalledOnce()
    end()
    expect(project().name).toBe('B')
    beginPending({ label: 'flip', cancel })()
    expect(undo()).toBe('rename')
    expect(project().name).toBe('A')
  })
  it('makes no step of a change that changes nothing', () => {
    changeProject('nothing', (d) => void (d.name = 'A'))
    expect(useProjectStore.getState().past).toHaveLength(0)
  })
})
