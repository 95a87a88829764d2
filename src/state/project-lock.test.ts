import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { holdProject, releaseProject } from './project-lock'

type Grant = (lock: object | null) => Promise<void> | undefined
/** The browser's lock manager as far as it is used: one holder a name, `ifAvailable`, `steal`. */
class Locks {
  readonly held = new Map<string, () => void>()

  async request(
    name: string,
    options: { steal?: boolean; ifAvailable?: boolean },
    grant: Grant,
  ): Promise<void> {
    const holder = this.held.get(name)
    if (holder && options.ifAvailable) return void (await grant(null))
    if (holder) holder()
    await new Promise<void>((resolve, reject) => {
      this.held.set(name, () => reject(new DOMException('stolen', 'AbortError')))
      void Promise.resolve(grant({})).then(() => {
        this.held.delete(name)
        resolve()
      })
    })
  }
}

let locks: Locks
beforeEach(() => {
  locks = new Locks()
  vi.stubGlobal('navigator', { locks })
})
afterEach(() => {
  releaseProject()
  vi.unstubAllGlobals()
  vi.useRealTimers()
})
const name = (id: string) => `muted-relief project ${id}`

describe('holdProject', () => {
  it('holds one project at a time', async () => {
    expect(await holdProject('a', false, vi.fn())).toBe(true)
    expect([...locks.held.keys()]).toEqual([name('a')])
    expect(await holdProject('b', false, vi.fn())).toBe(true)
    await vi.waitFor(() => expect([...locks.held.keys()]).toEqual([name('b')]))
  })
  it('waits a moment for a page that is being reloaded, then gives up', async () => {
    vi.useFakeTimers()
    locks.held.set(name('a'), () => undefined)
    const soon = holdProject('a', false, vi.fn())
    await vi.advanceTimersByTimeAsync(350)
    locks.held.delete(name('a'))
    await vi.advanceTimersByTimeAsync(200)
    expect(await soon).toBe(true)

    releaseProject()
    locks.held.set(name('c'), () => undefined)
    const never = holdProject('c', false, vi.fn())
    await vi.advanceTimersByTimeAsync(2500)
    expect(await never).toBe(false)
  })
  it('takes a project from the tab that holds it, and that tab is told', async () => {
    const lost = vi.fn()
    expect(await holdProject('a', false, lost)).toBe(true)
    // The other tab, which loses it again below.
    void locks.request(name('a'), { steal: true }, () => new Promise(() => undefined)).catch(() => undefined)
    await vi.waitFor(() => expect(lost).toHaveBeenCalledOnce())
    expect(await holdProject('a', true, vi.fn())).toBe(true)
  })
  it('lets everything pass where there is no lock manager', async () => {
    vi.stubGlobal('navigator', {})
    expect(await holdProject('a', false, vi.fn())).toBe(true)
  })
})
