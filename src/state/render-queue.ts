import { create } from 'zustand'
import { CancelledError } from '@/core/errors'
import type { Tile } from '@/core/passes/tile'
import type { PassResult } from '@/core/passes/pass-result'
import { newId } from '@/data/new-project'
import { qualitySchema, type Project, type Quality } from '@/data/project-schema'
import { dropJob, loadJobs, saveJob, type JobRecord } from '@/data/render-jobs'
import type { RenderEvents, RenderRequest } from '@/engine/render-request'
import { runRender, type RenderWatch } from '@/engine/run-render'
import { holdProject, letGoOf, onProjectLost } from './project-lock'
import { clearCutOffResults, useProjectStore } from './project-store'
import { ProjectRender } from './project-render'
import { bringDomes, dropWorkers, inTurn, renderWorkers, sceneFor } from './render-scene'
import { StoredTiles } from './stored-tiles'
import { onTabMessage } from './tabs'

/**
 * Renders, one job at a time, the rest waits. A job belongs to its project, not to what is open: leaving the project
 * does not stop it. What of it is finished is kept block by block, so that a pause, a reload or a crash loses no more
 * than the blocks at work.
 */
export interface RenderJob {
  readonly id: string
  readonly projectId: string
  readonly projectName: string
  readonly passIds: readonly string[]
  readonly quality: Quality
  readonly state: 'waiting' | 'preparing' | 'rendering' | 'paused'
  /** Why it stopped by itself; null where it did not. A stopped job is paused and keeps what it has. */
  readonly reason: string | null
  readonly first: Tile | null
  readonly done: number
  readonly total: number
  readonly secondsLeft: number | null
}

interface QueueState {
  readonly jobs: readonly RenderJob[]
  readonly problem: string | null
  /** Counts finished jobs, so that a view can tell that something ended. */
  readonly finished: number
}
export const useRenderQueue = create<QueueState>(() => ({ jobs: [], problem: null, finished: 0 }))

const aborts = new Map<string, AbortController>()
/** What is stored of a job beside what the interface shows. */
const records = new Map<string, JobRecord>()
/** Blocks of a job on their way to storage. */
const storings = new Map<string, Promise<void>>()
/** Jobs that another tab goes on with. */
const leftTo = new Set<string>()

/** Those who want pixels as they come: a pass's picture on screen. */
type PixelListener = (passId: string, rect: Tile, result: PassResult) => void
const listeners = new Set<PixelListener>()
export function onPixels(listener: PixelListener): () => void {
  listeners.add(listener)
  return () => listeners.delete(listener)
}

const toJob = (record: JobRecord): RenderJob => ({
  id: record.id,
  projectId: record.projectId,
  projectName: record.projectName,
  passIds: record.passIds,
  quality: record.quality,
  state: record.paused ? 'paused' : 'waiting',
  reason: record.reason,
  first: record.first,
  done: 0,
  total: 0,
  secondsLeft: null,
})

/** Changes what is stored of a job. A queue that cannot be stored still runs. */
function patchRecord(id: string, patch: Partial<JobRecord>): void {
  const record = records.get(id)
  if (!record) return
  const next = { ...record, ...patch }
  records.set(id, next)
  void saveJob(next).catch(() => undefined)
}

/**
 * Adds a job; passes already waiting at that quality are not added twice.
 * @param first a rectangle of the picture to be rendered before the rest.
 * @param keepsBefore whether what stands now is kept beside it, to be compared.
 * @returns the job's id.
 */
export function queueRender(
  passIds: readonly string[],
  quality: Quality,
  first: Tile | null = null,
  keepsBefore = false,
): string | null {
  const { project } = useProjectStore.getState()
  if (!project) return null
  const { jobs } = useRenderQueue.getState()
  const waiting = new Set(
    jobs.filter((j) => j.quality === quality && j.state === 'waiting').flatMap((j) => j.passIds),
  )
  const wanted = passIds.filter((id) => !waiting.has(id))
  if (wanted.length === 0) return null
  const record: JobRecord = {
    id: newId(),
    projectId: project.id,
    projectName: project.name,
    passIds: wanted,
    quality,
    place: Math.max(0, ...jobs.map((j) => records.get(j.id)?.place ?? 0)) + 1,
    paused: false,
    reason: null,
    keepsBefore,
    first,
    key: '',
    passes: {},
  }
  records.set(record.id, record)
  patchRecord(record.id, {})
  useRenderQueue.setState((s) => ({ jobs: [...s.jobs, toJob(record)], problem: null }))
  void runNext()
  return record.id
}

/**
 * Renders passes once more, each as it was rendered last, so that what was good stays good; those never rendered as
 * drafts. The quick ones go first.
 */
export function renderAgain(
  passIds: readonly string[],
  first: Tile | null = null,
  keepsBefore = false,
): void {
  const { project } = useProjectStore.getState()
  const wanted = project?.passes.filter((pass) => passIds.includes(pass.id)) ?? []
  for (const quality of qualitySchema.options) {
    const own = wanted.filter(({ rendered }) => (rendered?.quality ?? 'draft') === quality)
    if (own.length > 0)
      queueRender(
        own.map(({ id }) => id),
        quality,
        first,
        keepsBefore,
      )
  }
}

/** Takes up again what a reload or a crash left of a project's renders. */
export async function resumeRenders(projectId: string): Promise<void> {
  const known = new Set(useRenderQueue.getState().jobs.map((j) => j.id))
  const found = (await loadJobs(projectId)).filter((record) => !known.has(record.id))
  for (const record of found) records.set(record.id, record)
  useRenderQueue.setState((s) => ({
    jobs: [...s.jobs, ...found.filter((r) => !s.jobs.some((j) => j.id === r.id)).map(toJob)],
  }))
  void runNext()
}

/** Ends a job and drops what it has. */
export function cancelRender(jobId: string): void {
  aborts.get(jobId)?.abort()
  records.delete(jobId)
  void dropJob(jobId).catch(() => undefined)
  useRenderQueue.setState((s) => ({ jobs: s.jobs.filter((j) => j.id !== jobId) }))
}

export function cancelAllRenders(): void {
  for (const job of useRenderQueue.getState().jobs) cancelRender(job.id)
}

export function cancelRendersOf(projectId: string): void {
  for (const job of useRenderQueue.getState().jobs) if (job.projectId === projectId) cancelRender(job.id)
}

/** Stops a job and keeps what it has; {@link resumeRender} goes on from there. */
export function pauseRender(jobId: string): void {
  patchRecord(jobId, { paused: true })
  patchJob(jobId, { state: 'paused' })
  aborts.get(jobId)?.abort()
}

export function resumeRender(jobId: string): void {
  patchRecord(jobId, { paused: false, reason: null })
  patchJob(jobId, { state: 'waiting', reason: null })
  useRenderQueue.setState({ problem: null })
  void runNext()
}

/** Moves a job up (−1) or down (1) the queue. The one that runs stays where it is. */
export function moveRender(jobId: string, by: -1 | 1): void {
  const { jobs } = useRenderQueue.getState()
  const at = jobs.findIndex((j) => j.id === jobId)
  const other = jobs[at + by]
  if (at < 0 || !other || isRunning(other) || isRunning(jobs[at])) return
  const next = [...jobs]
  next[at] = other
  next[at + by] = jobs[at]
  next.forEach((job, place) => patchRecord(job.id, { place }))
  useRenderQueue.setState({ jobs: next })
}

/** Renders a rectangle before the rest of the picture, in the job that runs and in those that wait. */
export function renderRegionFirst(rect: Tile): void {
  for (const job of useRenderQueue.getState().jobs) {
    patchRecord(job.id, { first: rect })
    patchJob(job.id, { first: rect })
  }
  renderWorkers()?.renderFirst(rect)
}

export const isRunning = (job: RenderJob): boolean => job.state === 'preparing' || job.state === 'rendering'

const patchJob = (id: string, patch: Partial<RenderJob>): void =>
  useRenderQueue.setState((s) => ({ jobs: s.jobs.map((j) => (j.id === id ? { ...j, ...patch } : j)) }))

let running = false
async function runNext(): Promise<void> {
  if (running) return
  const job = useRenderQueue.getState().jobs.find((j) => j.state === 'waiting')
  const record = job && records.get(job.id)
  if (!record) return
  running = true
  patchJob(record.id, { state: 'preparing' })
  // What is rendered holds its project, open or not: no other tab may begin the same.
  if (!(await holdProject(record.projectId, 'render', { patienceMs: 0 }))) {
    running = false
    leaveRendersOf(record.projectId)
    void runNext()
    return
  }
  if (!records.has(record.id)) {
    running = false
    letGoOfIdle(record.projectId)
    void runNext()
    return
  }
  live?.abort()
  const abort = new AbortController()
  aborts.set(record.id, abort)
  let isDone = false
  try {
    const document = new ProjectRender(record)
    const tiles = new StoredTiles(document, {
      record: () => records.get(record.id),
      onKept: (next, stored) => {
        records.set(record.id, next)
        storings.set(record.id, stored)
      },
      onDone: (passIds) => leaveOut(record.id, passIds),
    })
    await inTurn(() => runRender(document, tiles, watchOf(record.id), abort.signal))
    isDone = true
  } catch (error) {
    if (!(error instanceof CancelledError)) stopWith(record.id, error)
  } finally {
    aborts.delete(record.id)
    if (isDone) records.delete(record.id)
    // What was ended leaves nothing behind, not even a block that was on its way to storage.
    const last = storings.get(record.id) ?? Promise.resolve()
    storings.delete(record.id)
    if (!records.has(record.id) && !leftTo.delete(record.id))
      void last.then(() => dropJob(record.id)).catch(() => undefined)
    useRenderQueue.setState((s) => ({
      jobs: isDone ? s.jobs.filter((j) => j.id !== record.id) : s.jobs,
      finished: s.finished + 1,
    }))
    running = false
    letGoOfIdle(record.projectId)
    void runNext()
  }
}

/**
 * Gives a project back that nothing is rendered for any more. Where it is closed its paused jobs go from the list with it:
 * they stand in storage, for the tab that opens it next.
 */
function letGoOfIdle(projectId: string): void {
  const { jobs } = useRenderQueue.getState()
  const own = jobs.filter((job) => job.projectId === projectId)
  // One that was just paused has still to end.
  if (own.some((job) => job.state !== 'paused' || aborts.has(job.id))) return
  letGoOf(projectId, 'render')
  const isOpen = useProjectStore.getState().project?.id === projectId
  // In a turn of its own: nothing is stored meanwhile that is to be named.
  if (isOpen && own.length === 0) void inTurn(clearCutOffResults).catch(() => undefined)
  if (isOpen || own.length === 0) return
  for (const job of own) records.delete(job.id)
  useRenderQueue.setState({ jobs: jobs.filter((job) => job.projectId !== projectId) })
}

/** A job that failed stays, paused and with its reason: what it has is not lost, and it can be gone on with. */
function stopWith(jobId: string, error: unknown): void {
  dropWorkers()
  const reason = error instanceof Error ? error.message : String(error)
  patchRecord(jobId, { paused: true, reason })
  patchJob(jobId, { state: 'paused', reason })
  useRenderQueue.setState({ problem: `The render stopped: ${reason}` })
}

/** Milliseconds between two words on progress. */
const TELL_MS = 150

function watchOf(jobId: string): RenderWatch {
  let lastTold = 0
  return {
    onState: (state) => patchJob(jobId, { state }),
    onPixels: (passId, rect, result) => {
      for (const listener of listeners) listener(passId, rect, result)
    },
    onProgress: ({ done, total, secondsLeft }) => {
      const now = performance.now()
      if (now - lastTold < TELL_MS && done < total) return
      lastTold = now
      patchJob(jobId, { done, total, secondsLeft })
    },
  }
}

/** Passes of a job that are done are no longer its; the last ones end it. */
function leaveOut(jobId: string, done: readonly string[]): void {
  const record = records.get(jobId)
  const passIds = record?.passIds.filter((id) => !done.includes(id)) ?? []
  if (passIds.length === 0) return
  patchRecord(jobId, { passIds, key: '', passes: {} })
  patchJob(jobId, { passIds })
}

/** Gets the scene ready before it is asked for, so that the first pixels of a render come at once. */
export function warmUp(project: Project): void {
  if (project.models.length === 0 || useRenderQueue.getState().jobs.length > 0) return
  // A model that cannot be read is told of when something is rendered.
  void inTurn(() => sceneFor(project)).catch(() => undefined)
}

let live: AbortController | null = null

/**
 * Renders for the eye alone, on the same workers; gives way to any job. One at a time: a new one ends the one before.
 * @returns false where a job was running, or came.
 * @throws {CancelledError} when aborted.
 */
export async function renderLive(
  project: Project,
  request: RenderRequest,
  onPixels: NonNullable<RenderEvents['onPixels']>,
  signal: AbortSignal,
): Promise<boolean> {
  live?.abort()
  const own = new AbortController()
  live = own
  const stop = () => own.abort()
  signal.addEventListener('abort', stop)
  try {
    if (useRenderQueue.getState().jobs.length > 0) return false
    return await inTurn(async () => {
      const givesWay = () => own.signal.aborted || useRenderQueue.getState().jobs.length > 0
      if (givesWay()) return false
      const workers = await sceneFor(project)
      await bringDomes(workers, project, request.rig)
      if (givesWay()) return false
      await workers.render(request, { onPixels }, own.signal)
      return true
    })
  } finally {
    signal.removeEventListener('abort', stop)
    if (live === own) live = null
  }
}

/** Lets go of what is rendered for a project that another tab has: it goes on there from the blocks it has. */
function leaveRendersOf(projectId: string): void {
  letGoOf(projectId, 'render')
  for (const job of useRenderQueue.getState().jobs) {
    if (job.projectId !== projectId) continue
    if (isRunning(job)) leftTo.add(job.id)
    records.delete(job.id)
    aborts.get(job.id)?.abort()
  }
  useRenderQueue.setState((s) => ({ jobs: s.jobs.filter((j) => j.projectId !== projectId) }))
}

// What an earlier visit left of its renders goes on when a project opens; one that another tab took is theirs to render.
useProjectStore.subscribe((now, before) => {
  if (now.project && now.project.id !== before.project?.id)
    void resumeRenders(now.project.id).catch(() => undefined)
  if (before.project && now.project?.id !== before.project.id) letGoOfIdle(before.project.id)
})
onProjectLost(leaveRendersOf)
onTabMessage((message) => {
  if (message.type === 'deleted') cancelRendersOf(message.projectId)
})
