/**
 * One tab at a time holds a project: two that save the same one would undo each other's work. Within a tab what holds it is
 * counted: an open project, and renders, here or at the studio, that go on when it is closed. Rests on the browser's lock manager, which lets go by
 * itself when a tab closes or crashes.
 */

/** Why a tab holds a project. */
export type Holder = 'open' | 'render' | 'studio' | 'act'

interface Hold {
  readonly holders: Set<Holder>
  readonly letGo: () => void
}
const holds = new Map<string, Hold>()
const listeners = new Set<(projectId: string) => void>()

/** Told when another tab takes a project from this one. */
export function onProjectLost(listener: (projectId: string) => void): () => void {
  listeners.add(listener)
  return () => listeners.delete(listener)
}

/** A tab that is being reloaded may hold its lock for a moment after the new page has begun. */
const PATIENCE_MS = 1500
const STEP_MS = 100

const lockName = (projectId: string): string => `muted-relief project ${projectId}`

function tryHold(projectId: string, holder: Holder, steal: boolean): Promise<boolean> {
  return new Promise((resolve) => {
    let held: Hold | null = null
    navigator.locks
      .request(lockName(projectId), steal ? { steal: true } : { ifAvailable: true }, (lock) => {
        if (!lock) {
          resolve(false)
          return undefined
        }
        return new Promise<void>((release) => {
          held = { holders: new Set([holder]), letGo: release }
          holds.set(projectId, held)
          resolve(true)
        })
      })
      .catch(() => {
        // Another tab took the lock away.
        if (held === null) resolve(false)
        else if (holds.get(projectId) === held) {
          holds.delete(projectId)
          for (const listener of listeners) listener(projectId)
        }
      })
  })
}

/**
 * Holds a project for a reason, until {@link letGoOf}.
 * @param steal take it from the tab that holds it.
 * @param patienceMs how long to wait for a tab that is just going.
 * @returns false when another tab holds it. True where the browser has no lock manager.
 */
export async function holdProject(
  projectId: string,
  holder: Holder,
  { steal = false, patienceMs = PATIENCE_MS } = {},
): Promise<boolean> {
  if (typeof navigator === 'undefined' || !('locks' in navigator)) return true
  for (let waited = 0; ; waited += STEP_MS) {
    const own = holds.get(projectId)
    if (own) {
      own.holders.add(holder)
      return true
    }
    if (await tryHold(projectId, holder, steal)) return true
    if (waited >= patienceMs) return false
    await new Promise((resolve) => setTimeout(resolve, STEP_MS))
  }
}

/** Ends one reason to hold a project; with the last one the lock is given back. */
export function letGoOf(projectId: string, holder: Holder): void {
  const hold = holds.get(projectId)
  if (!hold) return
  hold.holders.delete(holder)
  if (hold.holders.size > 0) return
  holds.delete(projectId)
  hold.letGo()
}

/** Whether this tab holds a project for a reason. */
export const isHeld = (projectId: string, holder: Holder): boolean =>
  holds.get(projectId)?.holders.has(holder) ?? false
