import { create } from 'zustand'
import { CancelledError } from '@/core/errors'
import type { PassResult } from '@/core/passes/pass-result'
import { rigOf, rigOfPass } from '@/data/active-shot'
import { renderedOf } from '@/data/pass-render'
import { storageProblem } from '@/data/project-repository'
import type { Project, Shot } from '@/data/project-schema'
import { ensureRoom } from '@/data/storage-room'
import { framesThere, saveFrame, tidyFrames } from '@/data/stored-frames'
import { projectInFrame, turnOrder, type TurnPose } from '@/data/turn-frames'
import { dropTurnJob, loadTurnJob, saveTurnJob, type TurnJobRecord } from '@/data/turn-jobs'
import { renderAll } from '@/engine/render-all'
import { FrameMaker } from './frame-maker'
import { onProjectLost } from './project-lock'
import { useProjectStore } from './project-store'
import { nothingToRender } from './render-check'
import { isRunning, useRenderQueue } from './render-queue'
import { bringDomes, dropWorkers, inTurn, sceneFor } from './render-scene'
import { TurnClock } from './turn-clock'
import { planTurn, type TurnPlan } from './turn-plan'

/**
 * Renders the frames of a turntable, pose by pose, coarse to fine; passes that are asked for themselves go first. What is there
 * stands in storage frame by frame: a pause, a reload or a crash loses no more than the pose at work.
 */
export interface TurnJob {
  readonly turnId: string
  readonly state: 'waiting' | 'preparing' | 'rendering' | 'paused'
  /** Why it stopped by itself; null where it did not. */
  readonly reason: string | null
  /** Frames at work. */
  readonly at: readonly number[]
  readonly secondsLeft: number | null
}

interface TurnJobState {
  readonly job: TurnJob | null
  /** The project that this is told of. */
  readonly projectId: string
  /** Names of its frames that are there. */
  readonly there: ReadonlySet<string>
  /** How much room a frame takes, in the mean; bytes. Null before there is one. */
  readonly bytesPerFrame: number | null
}
export const useTurnJob = create<TurnJobState>(() => ({
  job: null,
  projectId: '',
  there: new Set(),
  bytesPerFrame: null,
}))

/** A frame takes about so many bytes a pixel before one was measured. */
const BYTES_PER_PIXEL = 1.6

let abort: AbortController | null = null

const patchJob = (patch: Partial<TurnJob>): void =>
  useTurnJob.setState(({ job }) => ({ job: job && { ...job, ...patch } }))

function note(projectId: string, { turnId, state, reason }: TurnJob): void {
  const record: TurnJobRecord = { turnId, paused: state === 'paused', reason }
  void saveTurnJob(projectId, record).catch(() => undefined)
}

/** About how many bytes the frames of a plan take that are not there yet. */
export function bytesMissing({ names, size }: Pick<TurnPlan, 'names' | 'size'>): number {
  const { there, bytesPerFrame } = useTurnJob.getState()
  const missing = new Set(names.filter((name) => !there.has(name))).size
  return missing * (bytesPerFrame ?? BYTES_PER_PIXEL * size.width * size.height)
}

/** Begins to render a turntable, or goes on with it. Another that was at work is left where it is. */
export function renderTurn(turnId: string): void {
  const { project } = useProjectStore.getState()
  if (!project) return
  stopWork()
  const job: TurnJob = { turnId, state: 'waiting', reason: null, at: [], secondsLeft: null }
  useTurnJob.setState({ job })
  note(project.id, job)
  void work(project.id)
}

/** Stops and keeps what it has; {@link renderTurn} goes on from there. */
export function pauseTurn(): void {
  const { job, projectId } = useTurnJob.getState()
  stopWork()
  if (!job) return
  patchJob({ state: 'paused', at: [], secondsLeft: null })
  note(projectId, { ...job, state: 'paused' })
}

/** Ends it; the frames that are there stay. */
export function cancelTurn(): void {
  const { projectId } = useTurnJob.getState()
  stopWork()
  useTurnJob.setState({ job: null })
  void dropTurnJob(projectId).catch(() => undefined)
}

function stopWork(): void {
  abort?.abort()
  abort = null
}

async function work(projectId: string): Promise<void> {
  const own = new AbortController()
  abort = own
  // One for each: what was stopped may still be at its last frame when it is begun again.
  const maker = new FrameMaker()
  try {
    await framesTurned(projectId, maker, own.signal)
    if (own.signal.aborted) return
    useTurnJob.setState({ job: null })
    await dropTurnJob(projectId)
  } catch (error) {
    if (own.signal.aborted) return
    if (error instanceof CancelledError) {
      // The turntable was removed meanwhile.
      cancelTurn()
      return
    }
    const reason = error instanceof Error ? error.message : String(error)
    dropWorkers()
    patchJob({ state: 'paused', reason, at: [], secondsLeft: null })
    const { job } = useTurnJob.getState()
    if (job) note(projectId, job)
  } finally {
    maker.close()
    if (abort === own) abort = null
  }
}

/** The turntable as it is now, planned anew when the project has changed. */
class Plans {
  private last: { readonly project: Project; readonly plan: TurnPlan } | null = null

  constructor(
    private readonly projectId: string,
    private readonly signal: AbortSignal,
  ) {}

  /** @throws {CancelledError} where the project or the turntable is no longer there. */
  async now(): Promise<TurnPlan> {
    const { project } = useProjectStore.getState()
    const turn = project?.turns.find(({ id }) => id === useTurnJob.getState().job?.turnId)
    if (this.signal.aborted || project?.id !== this.projectId || !turn)
      throw new CancelledError('The turntable')
    if (this.last?.project !== project)
      this.last = { project, plan: await planTurn(project, turn, this.signal) }
    return this.last.plan
  }
}

async function framesTurned(projectId: string, maker: FrameMaker, signal: AbortSignal): Promise<void> {
  const plans = new Plans(projectId, signal)
  patchJob({ state: 'preparing' })
  const { project } = useProjectStore.getState()
  const nothing = project && nothingToRender(project)
  if (nothing) throw new Error(nothing)
  if (project) await inTurn(() => sceneFor(project))
  const first = await plans.now()
  // What nothing shows any more makes room first.
  await tidy(projectId)
  await ensureRoom('This turntable', bytesMissing(first))
  const clock = new TurnClock()
  /** Frames of the pose before are composited while the next is rendered. */
  let composing: Promise<void> = Promise.resolve()
  let problem: { readonly error: unknown } | null = null
  const busy = new Set<string>()
  for (;;) {
    const plan = await plans.now()
    const left = missingPoses(plan, busy)
    if (left.length === 0 || problem) break
    const [pose] = left
    patchJob({ state: 'rendering', at: pose.frames, secondsLeft: clock.secondsLeft(left) })
    await queueIsIdle(signal)
    const begun = performance.now()
    for (const frame of pose.frames) busy.add(plan.names[frame])
    for (let step = 0; step < pose.poses.length && !problem; step++) {
      const made = await inTurn(() => renderPose(plan, pose, step, signal))
      await composing
      composing = compose(plan, pose, step, made, maker, signal).catch(
        (error: unknown) => void (problem ??= { error }),
      )
    }
    clock.tell(pose, (performance.now() - begun) / 1000)
  }
  await composing
  if (problem) throw (problem as { readonly error: unknown }).error
  const plan = await plans.now()
  // What was changed meanwhile is not there yet.
  if (missingPoses(plan, new Set()).length > 0) await framesTurned(projectId, maker, signal)
  else await tidy(projectId)
}

/** Poses of which a frame is neither there nor on its way. */
function missingPoses({ poses, names }: TurnPlan, busy: ReadonlySet<string>): TurnPose[] {
  const { there } = useTurnJob.getState()
  return poses.filter(({ frames }) =>
    frames.some((frame) => !there.has(names[frame]) && !busy.has(names[frame])),
  )
}

/** Passes that were asked for themselves go first. */
function queueIsIdle(signal: AbortSignal): Promise<void> {
  const isIdle = () =>
    !useRenderQueue.getState().jobs.some((job) => isRunning(job) || job.state === 'waiting')
  if (isIdle()) return Promise.resolve()
  return new Promise((resolve, reject) => {
    const end = (settle: () => void) => {
      unsubscribe()
      signal.removeEventListener('abort', stop)
      settle()
    }
    const stop = () => end(() => reject(new CancelledError('The turntable')))
    const unsubscribe = useRenderQueue.subscribe(() => isIdle() && end(resolve))
    signal.addEventListener('abort', stop)
  })
}

/** Passes of a pose, and the project in which they are noted. */
interface PosePasses {
  readonly project: Project
  readonly results: ReadonlyMap<string, PassResult>
}

async function renderPose(
  { stage, size, names, turning }: TurnPlan,
  pose: TurnPose,
  step: number,
  signal: AbortSignal,
): Promise<PosePasses> {
  const project = projectInFrame(stage, pose.poses[step], pose.frames[0], size)
  const shot = project.shots.find(({ id }) => id === stage.shot.id) as Shot
  const passes = project.passes.filter(({ id, shotId }) => shotId === shot.id && pose.passIds.includes(id))
  const results = new Map<string, PassResult>()
  if (passes.length === 0) return { project, results }
  const { quality } = stage.turn
  const name = names[pose.frames[0]]
  const orders = new Map(passes.map((pass) => [pass.id, turnOrder(project, pass, quality)]))
  const rendered = await renderAll(
    {
      camera: shot.camera,
      frame: shot.frame,
      rig: rigOf(project, shot),
      seed: 0,
      preview: false,
      turning,
      passes: [...orders].map(([id, order]) => ({ id, order })),
    },
    async () => {
      const workers = await sceneFor(stage.project)
      for (const rig of new Set([rigOf(project, shot), ...passes.map((pass) => rigOfPass(project, pass))]))
        await bringDomes(workers, project, rig)
      return workers
    },
    signal,
  )
  const noted = project.passes.map((pass) => {
    const [made, order] = [rendered.get(pass.id), orders.get(pass.id)]
    if (!made || !order) return pass
    results.set(pass.id, made.result)
    return {
      ...pass,
      rendered: renderedOf(project, shot, pass, order, quality, `${name} ${step} ${pass.id}`, made),
    }
  })
  return { project: { ...project, passes: noted }, results }
}

/** Composites the frames of a pose that are not there yet, and keeps them once the shutter has closed. */
async function compose(
  { stage, size, names }: TurnPlan,
  pose: TurnPose,
  step: number,
  { project, results }: PosePasses,
  maker: FrameMaker,
  signal: AbortSignal,
): Promise<void> {
  await maker.takePose(stage, project, results)
  for (const frame of pose.frames) {
    if (signal.aborted) throw new CancelledError('The turntable')
    if (useTurnJob.getState().there.has(names[frame])) continue
    const bare = projectInFrame(stage, pose.poses[step], frame, size)
    const steps = pose.poses.length
    const mean = steps > 1 ? { key: names[frame], isLast: step === steps - 1 } : null
    const picture = await maker.frame(stage, { ...bare, passes: project.passes }, size, mean)
    if (mean && !mean.isLast) continue
    if (signal.aborted) throw new CancelledError('The turntable')
    try {
      await saveFrame(project.id, names[frame], picture)
    } catch (error) {
      throw new Error(`Frame ${frame} could not be kept: ${storageProblem(error)}`, { cause: error })
    }
    keepFrame(project.id, names[frame], picture.size)
  }
}

/** Notes a frame that is stored. */
export const keepFrame = (projectId: string, name: string, bytes: number): void =>
  useTurnJob.setState((now) =>
    now.projectId !== projectId
      ? {}
      : {
          there: new Set(now.there).add(name),
          bytesPerFrame: now.bytesPerFrame === null ? bytes : 0.9 * now.bytesPerFrame + 0.1 * bytes,
        },
  )

/** Drops what nothing shows any more. */
async function tidy(projectId: string): Promise<void> {
  const { project } = useProjectStore.getState()
  if (project?.id !== projectId) return
  const plans = await Promise.all(project.turns.map((turn) => planTurn(project, turn)))
  const gone = new Set(await tidyFrames(projectId, new Set(plans.flatMap(({ names }) => names))))
  if (gone.size > 0)
    useTurnJob.setState(({ there }) => ({ there: new Set([...there].filter((name) => !gone.has(name))) }))
}

/** Takes up what an earlier visit left of a project. */
async function takeUp(projectId: string): Promise<void> {
  stopWork()
  useTurnJob.setState({ job: null, projectId, there: new Set(), bytesPerFrame: null })
  const there = await framesThere(projectId)
  const record = await loadTurnJob(projectId)
  if (useTurnJob.getState().projectId !== projectId) return
  useTurnJob.setState({ there })
  const { project } = useProjectStore.getState()
  if (!record || project?.id !== projectId || !project.turns.some(({ id }) => id === record.turnId)) return
  const { turnId, paused, reason } = record
  const job: TurnJob = { turnId, state: paused ? 'paused' : 'waiting', reason, at: [], secondsLeft: null }
  useTurnJob.setState({ job })
  if (!paused) void work(projectId)
}

useProjectStore.subscribe((now, before) => {
  const [id, last] = [now.project?.id ?? '', before.project?.id ?? '']
  if (id === last) return
  stopWork()
  if (id === '') useTurnJob.setState({ job: null, projectId: '', there: new Set() })
  else void takeUp(id).catch(() => undefined)
})
onProjectLost((projectId) => {
  if (useTurnJob.getState().projectId === projectId) stopWork()
})
