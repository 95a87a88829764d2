/**
 * Small paint jobs, done a few milliseconds at a time so that rendering never holds up the interface, and not on every
 * frame: each frame with a change is put together anew, which takes time from the workers.
 */
const BUDGET_MS = 10
const PAUSE_MS = 60
const jobs: (() => void)[] = []
let running = false

function work(): void {
  const started = performance.now()
  let done = 0
  while (done < jobs.length && performance.now() - started < BUDGET_MS) jobs[done++]()
  jobs.splice(0, done)
  running = jobs.length > 0
  if (running) setTimeout(() => requestAnimationFrame(work), PAUSE_MS)
}

export function paintSoon(job: () => void): void {
  jobs.push(job)
  if (running) return
  running = true
  setTimeout(() => requestAnimationFrame(work), PAUSE_MS)
}
