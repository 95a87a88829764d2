/**
 * One tab at a time holds a project: two that save the same one would undo each other's work. Rests on the browser's
 * lock manager, which lets go by itself when a tab closes or crashes.
 */

let letGo: (() => void) | null = null

/** A tab that is being reloaded may hold its lock for a moment after the new page has begun. */
const PATIENCE_MS = 1500
const STEP_MS = 100

function tryHold(name: string, steal: boolean, onLost: () => void): Promise<boolean> {
  return new Promise((resolve) => {
    let held = false
    navigator.locks
      .request(name, steal ? { steal: true } : { ifAvailable: true }, (lock) => {
        if (!lock) {
          resolve(false)
          return undefined
        }
        held = true
        resolve(true)
        return new Promise<void>((release) => {
          letGo = release
        })
      })
      .catch(() => {
        // Another tab took the lock away.
        if (held) onLost()
        else resolve(false)
      })
  })
}

/**
 * Takes the lock of a project, giving back the one held before.
 * @param steal take it from the tab that holds it.
 * @param onLost called when another tab takes it.
 * @returns false when another tab holds it. True where the browser has no lock manager.
 */
export async function holdProject(id: string, steal: boolean, onLost: () => void): Promise<boolean> {
  releaseProject()
  if (typeof navigator === 'undefined' || !('locks' in navigator)) return true
  for (let waited = 0; ; waited += STEP_MS) {
    if (await tryHold(`muted-relief project ${id}`, steal, onLost)) return true
    if (waited >= PATIENCE_MS) return false
    await new Promise((resolve) => setTimeout(resolve, STEP_MS))
  }
}

export function releaseProject(): void {
  letGo?.()
  letGo = null
}
