import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { Locks } from './testing/locks'
import { holdProject, isHeld, letGoOf, onProjectLost } from './project-lock'

let locks: Locks
const lost = vi.fn()
let stop = () => undefined as void
beforeEach(() => {
  locks = new Locks()
  lost.mockReset()
  stop = onProjectLost(lost)
  vi.stubGlobal('navigator', { locks })
})
afterEach(() => {
  stop()
  for (const id of ['a', 'b', 'c'])
    for (const holder of ['open', 'render', 'act'] as const) letGoOf(id, holder)
  vi.unstubAllGlobals()
  vi.useRealTimers()
})
const name = (id: string) => `muted-relief project ${id}`
const takenAway = (id: string) =>
  void locks.request(name(id), { steal: true }, () => new Promise(() => undefined)).catch(() => undefined)

describe('holdProject', () => {
  it('holds until the last reason ends', async () => {
    expect(await holdProject('a', 'open')).toBe(true)
    expect(await holdProject('a', 'render')).toBe(true)
    expect(await holdProject('b', 'open')).toBe(true)
    letGoOf('a', 'open')
    expect([isHeld('a', 'open'), isHeld('a', 'render')]).toEqual([false, true])
    expect([...locks.held.keys()]).toEqual([name('a'), name('b')])
    letGoOf('a', 'render')
    await vi.waitFor(() => expect([...locks.held.keys()]).toEqual([name('b')]), { timeout: 30_000 })
    letGoOf('a', 'render')
    expect(isHeld('b', 'open')).toBe(true)
  })
  it('waits a moment for a page that is being reloaded, then gives up', async () => {
    vi.useFakeTimers()
    locks.held.set(name('a'), () => undefined)
    const soon = holdProject('a', 'open')
    await vi.advanceTimersByTimeAsync(350)
    locks.held.delete(name('a'))
    await vi.advanceTimersByTimeAsync(200)
    expect(await soon).toBe(true)

    locks.held.set(name('c'), () => undefined)
    const never = holdProject('c', 'open')
    await vi.advanceTimersByTimeAsync(2500)
    expect(await never).toBe(false)
    expect(await holdProject('c', 'act', { patienceMs: 0 })).toBe(false)
  })
  it('takes a project from the tab that holds it, and that tab is told once, whatever it held it for', async () => {
    await holdProject('a', 'open')
    await holdProject('a', 'render')
    takenAway('a')
    await vi.waitFor(() => expect(lost).toHaveBeenCalledWith('a'), { timeout: 30_000 })
    expect(lost).toHaveBeenCalledOnce()
    expect([isHeld('a', 'open'), isHeld('a', 'render')]).toEqual([false, false])
    expect(await holdProject('a', 'open', { steal: true })).toBe(true)
  })
  it('lets everything pass where there is no lock manager', async () => {
    vi.stubGlobal('navigator', {})
    expect(await holdProject('a', 'open')).toBe(true)
  })
})
