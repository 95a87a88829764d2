import type { Draft } from 'immer'
import { current, produce } from 'immer'
import { orderBytes } from '@/core/passes/pass-bytes'
import { rigOf, rigOfPass, shotOf } from '@/data/active-shot'
import { asBefore, beforeId, beforeOf } from '@/data/before-passes'
import { changeStored, loadProject } from '@/data/project-repository'
import { dropResult } from '@/data/stored-results'
import { orderOf, renderedOf } from '@/data/pass-render'
import type { Project, ProjectPass, Rendered, Shot } from '@/data/project-schema'
import type { JobRecord } from '@/data/render-jobs'
import { ensureRoom } from '@/data/storage-room'
import type { RenderPool } from '@/engine/render-pool'
import type { RenderedPass } from '@/engine/render-request'
import type { PlannedPass, RenderDocument, RenderPlan } from '@/engine/run-render'
import { flushSave, recordInProject, useProjectStore } from './project-store'
import { nothingToRender } from './render-check'
import { bringDomes, sceneFor } from './render-scene'

/** A project, open or stored, as it was when a render of it began: what is rendered, and what is told of it there. */
export class ProjectRender implements RenderDocument {
  private planned: { readonly project: Project; readonly shot: Shot } | null = null
  /** Results that a newer one took the place of. They go only once the project that names the new one is stored. */
  private readonly replaced: string[] = []

  constructor(
    private readonly job: Pick<JobRecord, 'projectId' | 'quality' | 'first' | 'keepsBefore'> & {
      readonly passIds: readonly string[]
    },
  ) {}

  /** @throws {Error} before {@link plan}. */
  get now(): { readonly project: Project; readonly shot: Shot } {
    if (!this.planned) throw new Error('the render was not planned')
    return this.planned
  }

  readonly plan = async (): Promise<RenderPlan> => {
    const { job } = this
    const open = useProjectStore.getState().project
    const project = open?.id === job.projectId ? open : await loadProject(job.projectId)
    const wanted = project.passes.filter((p) => job.passIds.includes(p.id))
    // A job's passes are of one shot: they were queued together.
    const passes = wanted.filter((p) => p.shotId === wanted[0].shotId)
    const shot = passes.length > 0 ? shotOf(project, passes[0]) : project.shots[0]
    const nothing = passes.length > 0 ? nothingToRender(project) : null
    if (nothing !== null) throw new Error(nothing)
    const rig = rigOf(project, shot)
    const planned = passes.map((pass) => ({ id: pass.id, order: orderOf(project, pass, job.quality) }))
    const pixels = shot.frame.width * shot.frame.height
    await ensureRoom(
      planned.length === 1 ? 'This pass' : `Rendering ${planned.length} passes`,
      planned.reduce((sum, { order }) => sum + orderBytes(order, rig, pixels), 0),
    )
    this.planned = { project, shot }
    return {
      camera: shot.camera,
      frame: shot.frame,
      rig,
      seed: 0,
      preview: true,
      first: job.first,
      passes: planned,
    }
  }

  readonly workers = async (): Promise<RenderPool> => {
    const { project, shot } = this.now
    const workers = await sceneFor(project)
    const own = project.passes.filter((p) => this.job.passIds.includes(p.id))
    const rigs = new Set([rigOf(project, shot), ...own.map((pass) => rigOfPass(project, pass))])
    for (const rig of rigs) await bringDomes(workers, project, rig)
    return workers
  }

  readonly note = async (planned: PlannedPass, resultId: string, made: RenderedPass): Promise<void> => {
    const { project, shot } = this.now
    const rendered = renderedOf(
      project,
      shot,
      this.passOf(planned),
      planned.order,
      this.job.quality,
      resultId,
      made,
    )
    await recordIn(project.id, (draft) => {
      const pass = draft.passes.find((p) => p.id === planned.id)
      if (!pass) return
      // What it was at another size cannot be compared with it.
      const was = beforeOf(draft, pass.id)?.rendered
      if (was && (was.width !== rendered.width || was.height !== rendered.height)) {
        this.replaced.push(was.resultId)
        draft.before = draft.before.filter(({ id }) => id !== beforeId(pass.id))
      }
      if (pass.rendered) {
        const isKept = this.job.keepsBefore && !draft.before.some(({ id }) => id === beforeId(pass.id))
        if (isKept) draft.before.push(asBefore(current(pass)))
        else this.replaced.push(pass.rendered.resultId)
      }
      pass.rendered = rendered as Draft<Rendered>
    })
  }

  readonly settle = async (): Promise<void> => {
    await flushSave()
    if (useProjectStore.getState().saving === 'failed') return
    for (const resultId of this.replaced) await dropResult(this.job.projectId, resultId)
  }

  /** A pass as the document had it when the render was planned. */
  passOf({ id }: PlannedPass): ProjectPass {
    const pass = this.now.project.passes.find((p) => p.id === id)
    if (!pass) throw new Error('the render names a pass that is not in the project')
    return pass
  }
}

/** Writes a fact into a project, open or not. */
export async function recordIn(projectId: string, recipe: (draft: Draft<Project>) => void): Promise<void> {
  if (useProjectStore.getState().project?.id === projectId) recordInProject(recipe)
  else await changeStored(projectId, (project) => produce(project, recipe))
}
