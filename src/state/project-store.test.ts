import { testRendered } from '@/data/testing/fixtures'
import 'fake-indexeddb/auto'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { database } from '@/data/database'
import { newProject } from '@/data/new-project'
import { loadProject, createProject } from '@/data/project-repository'
import { letHandGo, pressHand } from './hand-rest'
import {
  beginPending,
  changeProject,
  closeProject,
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

const NO_PLANES = () => ({ kind: 'depth' as const, width: 4, height: 4, planes: [], tiles: [] })

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
  describe('one step', () => {
    beforeEach(() => void vi.useFakeTimers())
    afterEach(() => {
      letHandGo()
      vi.useRealTimers()
    })
    const widen = (...by: number[]) => {
      for (const v of by) {
        changeProject('place', (d) => void (d.shots[0].camera.fovDeg = 30 + v), 'lens')
        vi.advanceTimersByTime(100)
      }
    }
    const undone = (): number => {
      undo()
      return project().shots[0].camera.fovDeg
    }
    it('is a drag, and two are two drags', () => {
      widen(0.1, 0.2, 0.3)
      vi.advanceTimersByTime(2000)
      widen(20)
      expect(undone()).toBeCloseTo(30.3, 6)
      expect(undone()).toBe(30)
    })
    it('is a drag in which the hand holds still for long', () => {
      pressHand(1, true)
      widen(1)
      vi.advanceTimersByTime(20_000)
      widen(2)
      vi.advanceTimersByTime(20_000)
      letHandGo(1)
      vi.advanceTimersByTime(500)
      widen(3)
      vi.advanceTimersByTime(1000)
      widen(4)
      expect(undone()).toBe(33)
      expect(undone()).toBe(30)
    })
    it('is not what was done before a press, nor what another key changed while it lasted', () => {
      widen(1)
      vi.advanceTimersByTime(1000)
      pressHand(1, true)
      vi.advanceTimersByTime(1000)
      widen(2)
      changeProject('rename', (d) => void (d.name = 'B'))
      widen(3)
      expect([undone(), undone(), undone(), undone()]).toEqual([32, 32, 31, 30])
    })
    it('lasts until the last of two fingers is let go of, and no longer than until the next press', () => {
      pressHand(1, true)
      pressHand(2, false)
      letHandGo(1)
      widen(1)
      vi.advanceTimersByTime(2000)
      widen(2)
      // The second finger was taken away unseen.
      pressHand(1, true)
      letHandGo(1)
      vi.advanceTimersByTime(2000)
      widen(3)
      expect([undone(), undone()]).toEqual([32, 30])
    })
    it('counts no rest while the page is still answering', () => {
      changeProject('place', (d) => void (d.shots[0].camera.fovDeg = 31), 'lens')
      const made = performance.now()
      const clock = vi.spyOn(performance, 'now').mockReturnValue(made + 2000)
      vi.advanceTimersByTime(0)
      clock.mockReturnValue(made + 2800)
      changeProject('place', (d) => void (d.shots[0].camera.fovDeg = 32), 'lens')
      clock.mockRestore()
      expect(undone()).toBe(30)
    })
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
  it('keeps of what was rendered what undoing comes to, and not what was rendered again since', async () => {
    const { id, passes } = project()
    const stores = (names: string[]) =>
      Promise.all(
        names.map((name) => database.results.put({ ...NO_PLANES(), key: `${id}/${name}`, projectId: id })),
      )
    const notes = (at: number, resultId: string) =>
      recordInProject((d) => void (d.passes[at].rendered = testRendered({ resultId })))
    notes(0, 'first')
    notes(1, 'taken away')
    changeProject('rename', (d) => void (d.name = 'B'))
    // What stood before is named by the step alone: it never comes back.
    notes(0, 'second')
    changeProject('delete pass', (d) => void d.passes.splice(1, 1))
    await closeProject()
    await stores(['first', 'second', 'taken away', 'nobody’s'])
    await openProject(id)
    const kept = () => database.results.where('projectId').equals(id).primaryKeys()
    await vi.waitFor(async () => expect(await kept()).toEqual([`${id}/second`, `${id}/taken away`]))
    undo()
    expect(
      project()
        .passes.slice(0, 2)
        .map(({ rendered }) => rendered?.resultId),
    ).toEqual(['second', 'taken away'])
    undo()
    expect(project().passes).toEqual([
      { ...passes[0], rendered: testRendered({ resultId: 'second' }) },
      { ...passes[1], rendered: testRendered({ resultId: 'taken away' }) },
      ...passes.slice(2),
    ])
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
