import type { Draft } from 'immer'
import { produce } from 'immer'
import { create } from 'zustand'
import { CancelledError } from '@/core/errors'
import type { PassFacts, Tile } from '@/core/passes/pass-kind'
import { storedSurfaces, type PassResult } from '@/core/passes/pass-result'
import { showsMaterial } from '@/core/passes/lit'
import { passKind } from '@/core/passes/registry'
import { memberRig, type PassOrder } from '@/core/passes/render-tile'
import type { ChannelData } from '@/core/picture/channel'
import type { Frame } from '@/core/scene/camera'
import { registrationHash } from '@/core/scene/registration'
import { renderedLights } from '@/core/scene/rendered-light'
import { OPAQUE } from '@/core/scene/scene-geometry'
import type { Rig } from '@/core/scene/light-rig'
import { hashJson } from '@/core/math/stable-hash'
import { activeShot, rigOf, shotOf } from '@/data/active-shot'
import { changedMaterials, currentRegistration, materialHashes, toSceneModels } from '@/data/project-scene'
import { dropBlocks, dropJob, loadJobs, saveJob, type JobRecord } from '@/data/render-jobs'
import { newId } from '@/data/new-project'
import { dropResult, loadFile, loadProject, saveProject, storageProblem } from '@/data/project-repository'
import { fetchBlocks, fetchResult, storeBlock, storeResult } from '@/data/storage-service'
import type { Project, ProjectPass, Quality } from '@/data/project-schema'
import { decodeDomeInWorker } from '@/engine/decode-dome-in-worker'
import type { KeptPass, RenderEvents, RenderRequest } from '@/engine/render-pool'
import { RenderPool } from '@/engine/render-pool'
import { spawnBrowserWorker } from '@/engine/spawn-browser'
import { currentMesh, ensureMeshes, useMeshStore } from './mesh-store'
import { isOnlyMaterials, passStatus } from './pass-status'
import { flushSave, recordInProject, useProjectStore } from './project-store'

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
let pool: RenderPool | null = null
let sceneKey = ''

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
 * @returns the job's id.
 */
export function queueRender(
  passIds: readonly string[],
  quality: Quality,
  first: Tile | null = null,
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

/** Stops a job and keeps what it has; {@link resumeRender} goes on from there. */
export function pauseRender(jobId: string): void {
  patchRecord(jobId, { paused: true })
  patchJob(jobId, { state: 'paused' })
  aborts.get(jobId)?.abort()
}

export function resumeRender(jobId: string): void {
  patchRecord(jobId, { paused: false })
  patchJob(jobId, { state: 'waiting' })
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
  pool?.renderFirst(rect)
}

export const isRunning = (job: RenderJob): boolean => job.state === 'preparing' || job.state === 'rendering'

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
  let isDone = true
  try {
    await runJob(job, abort.signal)
  } catch (error) {
    if (error instanceof CancelledError) isDone = false
    else {
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
    if (isDone) records.delete(job.id)
    // What was ended leaves nothing behind, not even a block that was on its way to storage.
    const last = storings.get(job.id) ?? Promise.resolve()
    storings.delete(job.id)
    if (!records.has(job.id) && !leftTo.delete(job.id))
      void last.then(() => dropJob(job.id)).catch(() => undefined)
    useRenderQueue.setState((s) => ({
      jobs: isDone ? s.jobs.filter((j) => j.id !== job.id) : s.jobs,
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
    project.models.map((m) => [m.materials, m.parts.map((p) => [p.name, p.groupId])]),
    project.groups,
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

  // 2. What is there already.
  const orders = passes.map((p) => ({
    kind: p.kind,
    params: p.params,
    effort: job.quality === 'custom' ? p.effort : passKind(p.kind).efforts[job.quality],
    members: p.members,
    // Drafts have few rays and are always smoothed.
    denoise: (p.denoise || job.quality === 'draft') && passKind(p.kind).canDenoise,
  }))
  const key = hashJson([
    toSceneKey(project),
    registrationHash(registration),
    renderedLights(rig).map((light) => [light.id, light.shape]),
    passes.map((p) => p.id),
    orders.map(({ members, ...order }) => [order, members]),
  ])
  const kept = await keptParts(job, key, project, passes, orders, rig, shot.frame)
  if (signal.aborted) throw new CancelledError('The render')

  // 3. Render. Blocks go to storage one after the other; one that cannot be stored stops no render.
  patchJob(job.id, { state: 'rendering' })
  let lastTold = 0
  let storing: Promise<void> = Promise.resolve()
  // Blocks of a render of some tiles alone would not tell what the tiles they kept show: it is begun again instead.
  let canStore = !kept.some((part) => part?.tiles)
  const rendered = await workers.render(
    { camera: shot.camera, frame: shot.frame, rig, orders, seed: 0, preview: true, first: job.first, kept },
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
      onBlock: (block, rect, results, told, tallies) => {
        const record = records.get(job.id)
        if (!canStore || !record) return
        const next: JobRecord = {
          ...record,
          key,
          passes: Object.fromEntries(passes.map((p, i) => [p.id, { ...tallies[i] }])),
        }
        records.set(job.id, next)
        const parts = results.map(({ channels, width }, i) => ({
          passId: passes[i].id,
          channels: channels.map((channel) => cutOut(channel, width, rect)),
          told: told[i],
        }))
        storing = storing
          .then(() => (records.has(job.id) ? storeBlock(next, block, rect, parts) : undefined))
          .catch(() => void (canStore = false))
        storings.set(job.id, storing)
      },
    },
    signal,
  )
  await storing

  // 4. Keep, then tell the project; what is replaced goes only once the project that names the new one is stored.
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
        denoised: orders[i].denoise,
        materials: materialHashes(project, passes[i].kind),
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

/** A rectangle of a channel by itself. */
function cutOut(channel: ChannelData, pictureWidth: number, rect: Tile): ChannelData {
  const out = channel.slice(0, rect.width * rect.height)
  for (let row = 0; row < rect.height; row++) {
    const from = (rect.y + row) * pictureWidth + rect.x
    out.set(channel.subarray(from, from + rect.width), row * rect.width)
  }
  return out
}

/**
 * For each pass what of it need not be rendered: blocks of this job from before a pause or a reload; else, where nothing
 * but materials changed since it was last rendered, the tiles that do not show them.
 */
async function keptParts(
  job: RenderJob,
  key: string,
  project: Project,
  passes: readonly ProjectPass[],
  orders: readonly PassOrder[],
  rig: Rig,
  frame: Frame,
): Promise<(KeptPass | null)[]> {
  const record = records.get(job.id)
  if (record?.key === key) {
    const parts: (KeptPass | null)[] = []
    for (const pass of passes) {
      const lights = renderedLights(memberRig(rig, pass.members))
      const specs = passKind(pass.kind).channels(lights, pass.params)
      const { channels, blocks } = await fetchBlocks(job.id, pass.id, specs, frame)
      const tally = record.passes[pass.id] ?? { rays: 0, seconds: 0, samples: 0 }
      const rules = passKind(pass.kind).facts
      const told = blocks.reduce((all, b) => rules?.merge(all, b.told) ?? {}, {} as PassFacts)
      const result = {
        kind: pass.kind,
        ...frame,
        channels,
        surfaces: [],
        lights,
        params: pass.params,
        facts: {},
      }
      parts.push({ result, blocks: new Set(blocks.map((b) => b.block)), told, tally })
    }
    // Counts belong to blocks that are there in every pass.
    const common = [...(parts[0]?.blocks ?? [])].filter((block) => parts.every((p) => p?.blocks.has(block)))
    return parts.map((part) => part && { ...part, blocks: new Set(common) })
  }
  if (record?.key) await dropBlocks(job.id)
  return Promise.all(passes.map((pass, i) => keptTiles(job, project, pass, orders[i], rig)))
}

/** See {@link keptParts}. */
async function keptTiles(
  job: RenderJob,
  project: Project,
  pass: ProjectPass,
  order: PassOrder,
  rig: Rig,
): Promise<KeptPass | null> {
  const { rendered } = pass
  if (pass.kind !== 'lit' || !rendered || rendered.quality !== job.quality || rendered.denoised) return null
  if (job.quality === 'custom' || order.denoise || passStatus(project, pass).state !== 'out of register')
    return null
  if (!isOnlyMaterials(project, pass)) return null
  const changed = changedMaterials(project, pass).map(({ key }) => key)
  const all = project.models.flatMap((model) => model.materials)
  // Glass that became solid, or the other way round, changes shadows anywhere.
  const numbers = changed.map((key) => all.findIndex((m) => m.key === key))
  const before = new Map(rendered.surfaces.map((s) => [s.material, s.opacity]))
  if (numbers.some((n) => (before.get(all[n].key) ?? 1) < OPAQUE !== all[n].opacity < OPAQUE)) return null
  const result = await fetchResult(project.id, rendered)
  if (!result) return null
  const lights = renderedLights(memberRig(rig, pass.members))
  return {
    result: { ...result, lights },
    blocks: new Set(),
    tiles: showsMaterial(rendered.facts, numbers),
    told: structuredClone(rendered.facts),
    tally: { rays: 0, seconds: 0, samples: 0 },
  }
}

/** Writes a fact into a project, open or not. */
async function record(projectId: string, recipe: (draft: Draft<Project>) => void): Promise<void> {
  if (useProjectStore.getState().project?.id === projectId) recordInProject(recipe)
  else await saveProject(produce(await loadProject(projectId), recipe))
}

/** Lets go of what is rendered for a project that another tab took over: it goes on there from the blocks it has. */
function leaveRendersOf(projectId: string): void {
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
  if (now.elsewhere && !before.elsewhere && before.project) leaveRendersOf(before.project.id)
})
