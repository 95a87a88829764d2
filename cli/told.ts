/** What a command tells of itself while it works, to the process that started it. */
export interface Told {
  /** How much is done, 0…1. */
  readonly share: number
  /** Rays so far. */
  readonly rays: number
}

/** Least time between two tellings. Milliseconds. */
const EVERY_MS = 250

let told: Told = { share: 0, rays: 0 }
let last = 0

/** Tells how far it is, where somebody listens: not more often than anyone reads it. */
export function tellShare(share: number): void {
  told = { ...told, share: Math.min(1, Math.max(0, share)) }
  tell()
}

/** Counts rays that were traced. */
export function tellRays(rays: number): void {
  told = { ...told, rays: told.rays + rays }
  tell()
}

function tell(): void {
  const now = performance.now()
  if (!process.connected || now - last < EVERY_MS) return
  last = now
  process.send?.(told)
}

/** All that was told so far, at the end of a command. */
export function tellLast(): void {
  last = -EVERY_MS
  if (process.connected) tell()
  told = { share: 0, rays: 0 }
}
