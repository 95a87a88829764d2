import type { Draft } from 'immer'
import { produce } from 'immer'
import { create } from 'zustand'
import { CancelledError } from '@/core/errors'
import type { Tile } from '@/core/passes/pass-kind'
import { storedSurfaces, type PassResult } from '@/core/passes/pass-result'
import { passKind } from '@/core/passes/registry'
import type { Rig } from '@/core/scene/light-rig'
import { hashJson } from '@/core/math/stable-hash'
import { activeShot, rigOf, shotOf } from '@/data/active-shot'
import { currentRegistration, toSceneModels } from '@/data/project-scene'
import { newId } from '@/data/new-project'
import { dropResult, loadFile, loadProject, saveProject, storageProblem } from '@/data/project-repository'
import { storeResult } from '@/data/storage-service'
import type { Project, Quality } from '@/data/project-schema'
import { decodeDomeInWorker } from '@/engine/decode-dome-in-worker'
import type { RenderEvents, RenderRequest } from '@/engine/render-pool'
import { RenderPool } from '@/engine/render-pool'
import { spawnBrowserWorker } from '@/engine/spawn-browser'
import { currentMesh, ensureMeshes, useMeshStore } from './mesh-store'
import { flushSave, recordInProject, useProjectStore } from './project-store'

/**
 * Renders, one job at a time, the rest waits. A job belongs to its project, not to what is open: leaving the project
 * does not stop it.
 */
export interface RenderJob {
  readonly id: string
  readonly projectId: string
  readonly projectName: string
  readonly passIds: readonly string[]
  readonly quality: Quality
  readonly state: 'waiting' | 'preparing' | 'rendering'
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
let pool: RenderPool | null = null
let sceneKey = ''

/** Those who want pixels as they come: a pass's picture on screen. */
type PixelListener = (passId: string, rect: Tile, result: PassResult) => void
const listeners = new Set<PixelListener>()
export function onPixels(listener: PixelListener): () => void {
  listeners.add(listener)
  return () => listeners.delete(listener)
}

/** Adds a job; passes already waiting at that quality are not added twice. @returns the job's id. */
export function queueRender(passIds: readonly string[], quality: Quality): string | null {
  const { project } = useProjectStore.getState()
  if (!project) return null
  const waiting = new Set(
    useRenderQueue
      .getState()
      .jobs.filter((j) => j.quality === quality && j.state === 'waiting')
      .flatMap((j) => j.passIds),
  )
  const wanted = passIds.filter((id) => !waiting.has(id))
  if (wanted.length === 0) return null
  const job: RenderJob = {
    id: newId(),
    projectId: project.id,
    projectName: project.name,
    passIds: wanted,
    quality,
    state: 'waiting',
    done: 0,
    total: 0,
    secondsLeft: null,
  }
  useRenderQueue.setState((s) => ({ jobs: [...s.jobs, job], problem: null }))
  void runNext()
  return job.id
}

export function cancelRender(jobId: string): void {
  aborts.get(jobId)?.abort()
  useRenderQueue.setState((s) => ({ jobs: s.jobs.filter((j) => j.id !== jobId) }))
}

export function cancelAllRenders(): void {
  for (const job of useRenderQueue.getState().jobs) cancelRender(job.id)
}

const patchJob = (id: string, patch: Partial<RenderJob>): void =>
  useRenderQueue.setState((s) => ({ jobs: s.jobs.map((j) => (j.id === id ? { ...j, ...patch } : j)) }))

let running = false
async function runNext(): Promise<void> {
  if (running) return
  const job = useRenderQueue.getState().jobs.find((j) => j.state === 'waiting')
  if (!job) return
  running = true
  live?.abort()
  const abort = new AbortController()
  aborts.set(job.id, abort)
  try {
    await runJob(job, abort.signal)
  } catch (error) {
    if (!(error instanceof CancelledError)) {
      // A pool that failed once may be missing a worker: the next job starts a new one.
      pool?.close()
      pool = null
      domes = new Set()
      sceneKey = ''
      useRenderQueue.setState({
        problem: `The render stopped: ${error instanceof Error ? error.message : String(error)}`,
      })
    }
  } finally {
    aborts.delete(job.id)
    useRenderQueue.setState((s) => ({
      jobs: s.jobs.filter((j) => j.id !== job.id),
      finished: s.finished + 1,
    }))
    running = false
    void runNext()
  }
}

/** What the workers hold is made from this; another value means that it must be built again. */
export const toSceneKey = (project: Project): string =>
  hashJson([
    project.id,
    currentRegistration(project, activeShot(project)).models,
    project.models.map((m) => [m.materials, m.parts.map((p) => p.name)]),
  ])

let preparing: Promise<unknown> = Promise.resolve()

/** The workers with the project's scene in them, built only when it changed. Calls wait for each other. */
function sceneFor(project: Project): Promise<RenderPool> {
  const prepared = preparing.then(async () => {
    await ensureMeshes(project)
    pool ??= new RenderPool(spawnBrowserWorker, Math.max(1, Math.min(16, navigator.hardwareConcurrency)))
    const key = toSceneKey(project)
    if (key === sceneKey) return pool
    sceneKey = ''
    await pool.setScene(
      toSceneModels(project, (id) => {
        const model = project.models.find((m) => m.id === id)
        const loaded = model && currentMesh(model)
        if (!loaded) throw new Error(useMeshStore.getState().problems[id] ?? `model ${id} is not loaded`)
        return loaded
      }),
    )
    sceneKey = key
    return pool
  })
  preparing = prepared.catch(() => undefined)
  return prepared
}

/** Gets the scene ready before it is asked for, so that the first pixels of a render come at once. */
export function warmUp(project: Project): void {
  if (project.models.length === 0 || useRenderQueue.getState().jobs.length > 0) return
  // A model that cannot be read is told of when something is rendered.
  void sceneFor(project).catch(() => undefined)
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
    const workers = await sceneFor(project)
    await bringDomes(workers, project, request.rig)
    if (own.signal.aborted || useRenderQueue.getState().jobs.length > 0) return false
    await workers.render(request, { onPixels }, own.signal)
    return true
  } finally {
    signal.removeEventListener('abort', stop)
    if (live === own) live = null
  }
}

/** Domes the workers of now have, by picture id. */
let domes = new Set<string>()

/** Gives the workers the pictures of a rig's domes that they do not have yet. */
async function bringDomes(workers: RenderPool, project: Project, rig: Rig): Promise<void> {
  for (const light of rig.lights) {
    if (light.kind !== 'dome' || light.look !== 'picture' || light.pictureId === null) continue
    const picture = project.pictures.find((p) => p.id === light.pictureId)
    if (!picture || domes.has(picture.id)) continue
    const bytes = await loadFile(project.id, picture.fileId)
    await workers.setDome(picture.id, await decodeDomeInWorker(bytes, picture.name))
    domes.add(picture.id)
  }
}

async function runJob(job: RenderJob, signal: AbortSignal): Promise<void> {
  const open = useProjectStore.getState().project
  const project = open?.id === job.projectId ? open : await loadProject(job.projectId)
  const wanted = project.passes.filter((p) => job.passIds.includes(p.id))
  const passes = wanted.filter((p) => p.shotId === wanted[0].shotId)
  if (passes.length === 0) return
  // A job's passes are of one shot: they were queued together.
  const shot = shotOf(project, passes[0])
  const rig = rigOf(project, shot)
  if (project.models.length === 0) throw new Error('there is no model in the project yet')
  patchJob(job.id, { state: 'preparing' })
  // 1. The scene.
  const registration = currentRegistration(project, shot)
  const workers = await sceneFor(project)
  await bringDomes(workers, project, rig)
  if (signal.aborted) throw new CancelledError('The render')

  // 2. Render.
  const orders = passes.map((p) => ({
    kind: p.kind,
    params: p.params,
    effort: job.quality === 'custom' ? p.effort : passKind(p.kind).efforts[job.quality],
    members: p.members,
  }))
  patchJob(job.id, { state: 'rendering' })
  let lastTold = 0
  const rendered = await workers.render(
    { camera: shot.camera, frame: shot.frame, rig, orders, seed: 0, preview: true },
    {
      onPixels: (order, rect, result) => {
        for (const listener of listeners) listener(passes[order].id, rect, result)
      },
      onProgress: ({ done, total, secondsLeft }) => {
        const now = performance.now()
        if (now - lastTold < 120 && done < total) return
        lastTold = now
        patchJob(job.id, { done, total, secondsLeft })
      },
    },
    signal,
  )

  // 3. Keep, then tell the project; what is replaced goes only once the project that names the new one is stored.
  const replaced: string[] = []
  for (const [i, { result, rays, seconds }] of rendered.entries()) {
    const resultId = newId()
    try {
      await storeResult(project.id, resultId, result)
    } catch (error) {
      throw new Error(storageProblem(error), { cause: error })
    }
    await record(project.id, (draft) => {
      const pass = draft.passes.find((p) => p.id === passes[i].id)
      if (!pass) return
      if (pass.rendered) replaced.push(pass.rendered.resultId)
      pass.rendered = {
        resultId,
        registration,
        params: passes[i].params,
        quality: job.quality,
        width: shot.frame.width,
        height: shot.frame.height,
        surfaces: storedSurfaces(result.surfaces),
        facts: result.facts,
        members: passes[i].members,
        denoised: passes[i].denoise,
        lights: result.lights.map((light) => ({ ...light })),
        rays,
        seconds,
        samples: orders[i].effort.samples,
      }
    })
  }
  await flushSave()
  if (useProjectStore.getState().saving !== 'failed')
    for (const resultId of replaced) await dropResult(project.id, resultId)
}

/** Writes a fact into a project, open or not. */
async function record(projectId: string, recipe: (draft: Draft<Project>) => void): Promise<void> {
  if (useProjectStore.getState().project?.id === projectId) recordInProject(recipe)
  else await saveProject(produce(await loadProject(projectId), recipe))
}

/** Stops what is rendered for a project, as when another tab takes it over. */
export function cancelRendersOf(projectId: string): void {
  for (const job of useRenderQueue.getState().jobs) if (job.projectId === projectId) cancelRender(job.id)
}

// A project that another tab took is theirs to render.
useProjectStore.subscribe((now, before) => {
  if (now.elsewhere && !before.elsewhere && before.project) cancelRendersOf(before.project.id)
})
