import type { Draft } from 'immer'
import { produce } from 'immer'
import { CancelledError } from '@/core/errors'
import { hashJson } from '@/core/math/stable-hash'
import type { Tile } from '@/core/passes/tile'
import { storedSurfaces, type PassResult } from '@/core/passes/pass-result'
import { passKind } from '@/core/passes/registry'
import type { ChannelData } from '@/core/picture/channel'
import { registrationHash } from '@/core/scene/registration'
import { renderedLights } from '@/core/scene/rendered-light'
import { rigOf, rigOfPass, shotOf } from '@/data/active-shot'
import { newId } from '@/data/new-project'
import { changeStored, dropResult, loadProject, storageProblem } from '@/data/project-repository'
import { currentRegistration, materialHashes } from '@/data/project-scene'
import type { Project, ProjectPass, Quality } from '@/data/project-schema'
import type { JobRecord } from '@/data/render-jobs'
import { storeBlock, storeResult } from '@/data/storage-service'
import type { RenderProgress } from '@/engine/render-request'
import { keptParts } from './kept-parts'
import { flushSave, recordInProject, useProjectStore } from './project-store'
import { nothingToRender } from './render-check'
import { bringDomes, sceneFor, toSceneKey } from './render-scene'

/** What a running render tells the queue, and what it learns from it. */
export interface RenderWatch {
  readonly onState: (state: 'preparing' | 'rendering') => void
  readonly onPixels: (passId: string, rect: Tile, result: PassResult) => void
  readonly onProgress: (progress: RenderProgress) => void
  /** What is stored of the job as it is now; undefined once it was ended. */
  readonly record: () => JobRecord | undefined
  /** Takes the record that counts a finished block, and the promise of both being stored. */
  readonly onKept: (next: JobRecord, stored: Promise<void>) => void
}

/**
 * Renders what a job asks for, stores it and tells the project.
 * @throws {CancelledError} soon after the signal is aborted; {Error} in words for the artist. Blocks stored so far stay.
 */
export async function runRender(job: JobRecord, watch: RenderWatch, signal: AbortSignal): Promise<void> {
  const open = useProjectStore.getState().project
  const project = open?.id === job.projectId ? open : await loadProject(job.projectId)
  const wanted = project.passes.filter((p) => job.passIds.includes(p.id))
  const passes = wanted.filter((p) => p.shotId === wanted[0].shotId)
  if (passes.length === 0) return
  // A job's passes are of one shot: they were queued together.
  const shot = shotOf(project, passes[0])
  const rig = rigOf(project, shot)
  const nothing = nothingToRender(project)
  if (nothing !== null) throw new Error(nothing)
  watch.onState('preparing')
  // 1. The scene.
  const registration = currentRegistration(project, shot)
  const workers = await sceneFor(project)
  for (const own of new Set([rig, ...passes.map((pass) => rigOfPass(project, pass))]))
    await bringDomes(workers, project, own)
  if (signal.aborted) throw new CancelledError('The render')

  // 2. What is there already.
  const orders = ordersOf(project, passes, job.quality)
  const key = hashJson([
    toSceneKey(project),
    registrationHash(registration),
    passes.map((pass) => [
      pass.id,
      renderedLights(rigOfPass(project, pass)).map((light) => [light.id, light.shape]),
    ]),
    orders.map(({ members, rig: _rig, ...order }) => [order, members]),
  ])
  const kept = await keptParts(job, key, project, passes, orders, shot.frame)
  if (signal.aborted) throw new CancelledError('The render')

  // 3. Render. Blocks go to storage one after the other; one that cannot be stored stops no render.
  watch.onState('rendering')
  let storing: Promise<void> = Promise.resolve()
  // Blocks of a render of some tiles alone would not tell what the tiles they kept show: it is begun again instead.
  let canStore = !kept.some((part) => part?.tiles)
  const rendered = await workers.render(
    { camera: shot.camera, frame: shot.frame, rig, orders, seed: 0, preview: true, first: job.first, kept },
    {
      onPixels: (order, rect, result) => watch.onPixels(passes[order].id, rect, result),
      onProgress: watch.onProgress,
      onBlock: (block, rect, results, told, tallies) => {
        const record = watch.record()
        if (!canStore || !record) return
        const next: JobRecord = {
          ...record,
          key,
          passes: Object.fromEntries(passes.map((p, i) => [p.id, { ...tallies[i] }])),
        }
        const parts = results.map(({ channels, width }, i) => ({
          passId: passes[i].id,
          channels: channels.map((channel) => cutOut(channel, width, rect)),
          told: told[i],
        }))
        storing = storing
          .then(() => (watch.record() ? storeBlock(next, block, rect, parts) : undefined))
          .catch(() => void (canStore = false))
        watch.onKept(next, storing)
      },
    },
    signal,
  )
  await storing

  // 4. Keep, then tell the project; what is replaced goes only once the project that names the new one is stored.
  const replaced: string[] = []
  try {
    for (const [i, { result, rays, seconds }] of rendered.entries()) {
      if (signal.aborted) throw new CancelledError('The render')
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
  } finally {
    await flushSave()
    if (useProjectStore.getState().saving !== 'failed')
      for (const resultId of replaced) await dropResult(project.id, resultId)
  }
}

const ordersOf = (project: Project, passes: readonly ProjectPass[], quality: Quality) =>
  passes.map((pass) => ({
    kind: pass.kind,
    params: pass.params,
    effort: quality === 'custom' ? pass.effort : passKind(pass.kind).efforts[quality],
    members: pass.members,
    rig: rigOfPass(project, pass),
    // Drafts have few rays and are always smoothed.
    denoise: (pass.denoise || quality === 'draft') && passKind(pass.kind).canDenoise,
  }))

/** A rectangle of a channel by itself. */
function cutOut(channel: ChannelData, pictureWidth: number, rect: Tile): ChannelData {
  const out = channel.slice(0, rect.width * rect.height)
  for (let row = 0; row < rect.height; row++) {
    const from = (rect.y + row) * pictureWidth + rect.x
    out.set(channel.subarray(from, from + rect.width), row * rect.width)
  }
  return out
}

/** Writes a fact into a project, open or not. */
async function record(projectId: string, recipe: (draft: Draft<Project>) => void): Promise<void> {
  if (useProjectStore.getState().project?.id === projectId) recordInProject(recipe)
  else await changeStored(projectId, (project) => produce(project, recipe))
}
