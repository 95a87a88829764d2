/** Small paint jobs, done a few milliseconds per frame so that rendering never holds up the interface. */
const BUDGET_MS = 8
const jobs: (() => void)[] = []
let running = false

function work(): void {
  const started = performance.now()
  while (jobs.length > 0 && performance.now() - started < BUDGET_MS) jobs.shift()?.()
  running = jobs.length > 0
  if (running) requestAnimationFrame(work)
}

export function paintSoon(job: () => void): void {
  jobs.push(job)
  if (running) return
  running = true
  requestAnimationFrame(work)
}
