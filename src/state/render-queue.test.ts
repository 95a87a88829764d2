import 'fake-indexeddb/auto'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import { propKind } from '@/core/geometry/props/registry'
import { paramDefaults } from '@/core/params'
import { summarizeMesh } from '@/core/geometry/mesh-summary'
import { database } from '@/data/database'
import { newProject } from '@/data/new-project'
import { createProject, loadProject } from '@/data/project-repository'
import { toProjectModel } from '@/data/project-scene'
import type { Project } from '@/data/project-schema'
import { loadJobs } from '@/data/render-jobs'
import { loadResult, saveResult } from '@/data/stored-results'
import { hideParts } from './model-actions'
import { addPass } from './pass-actions'
import { isHeld } from './project-lock'
import { closeProject, openProject, useProjectStore } from './project-store'
import {
  cancelAllRenders,
  cancelRender,
  moveRender,
  onPixels,
  pauseRender,
  queueRender,
  renderAgain,
  renderRegionFirst,
  resumeRender,
  resumeRenders,
  useRenderQueue,
} from './render-queue'

import { Locks } from './testing/locks'
import { deleteStored, restoreStored } from './stored-projects'

/** What goes wrong, and what was asked of the workers; hoisted with the mocks. */
const world = vi.hoisted(() => ({ isFull: false, isBroken: false, tiles: 0, onBlock: () => {} }))

vi.mock('@/engine/spawn-browser', async () => {
  const { WorkerCore } = await import('@/engine/worker-core')
  const { parseToWorker } = await import('@/engine/messages')
  const { answerRequests } = await import('@/core/workers/answer-requests')
  return {
    spawnBrowserWorker: (onMessage: (m: unknown) => void, onError: (reason: string) => void) => {
      const core = new WorkerCore(() => performance.now())
      const answer = answerRequests(parseToWorker, (message) => core.answer(message), onMessage)
      return {
        post: (message: { type: string }) => {
          if (message.type === 'tile') world.tiles++
          setTimeout(() => {
            if (world.isBroken && message.type === 'tile') onError('a render worker stopped')
            else void answer(message)
          }, 1)
        },
        close: () => undefined,
      }
    },
  }
})
vi.mock('@/engine/read-model-in-worker', () => ({
  readModelInWorker: async ({ prop, params }: { prop: 'pedestal'; params: never }) => ({
    ...propKind(prop).make(params),
    files: [],
  }),
}))
vi.mock('@/data/storage-service', async () => {
  const jobs = await import('@/data/render-jobs')
  const results = await import('@/data/stored-results')
  return {
    storeBlock: async (...all: Parameters<typeof jobs.saveBlock>) => {
      await jobs.saveBlock(...all)
      world.onBlock()
    },
    fetchBlocks: (
      jobId: string,
      passId: string,
      specs: never,
      { width, height }: { width: number; height: number },
    ) => jobs.loadBlocks(jobId, passId, specs, width, height),
    storeResult: async (...all: Parameters<typeof results.saveResult>) => {
      if (world.isFull) throw new DOMException('no room', 'QuotaExceededError')
      await results.saveResult(...all)
    },
    fetchResult: results.loadResult,
  }
})

const locks = new Locks()
const FRAME = { width: 288, height: 160 }
const jobs = () => useRenderQueue.getState().jobs
const open = (): Project => {
  const { project } = useProjectStore.getState()
  if (!project) throw new Error('no project is open')
  return project
}
const passOf = (kind: string) => {
  const pass = open().passes.find((p) => p.kind === kind)
  if (!pass) throw new Error(`no ${kind}`)
  return pass
}
const until = (check: () => boolean) => vi.waitFor(() => expect(check()).toBe(true), { timeout: 20_000 })
const untilDone = () => until(() => jobs().length === 0)

beforeEach(async () => {
  vi.stubGlobal('navigator', { hardwareConcurrency: 2, locks })
  cancelAllRenders()
  Object.assign(world, { isFull: false, isBroken: false, tiles: 0, onBlock: () => {} })
  const params = paramDefaults(propKind('pedestal').schema)
  const made = propKind('pedestal').make(params)
  const source = { type: 'prop', prop: 'pedestal', params } as const
  const model = toProjectModel('m', source, made, summarizeMesh(made.mesh, made.parts.length))
  const base = newProject('A')
  const project = { ...base, models: [model], shots: base.shots.map((s) => ({ ...s, frame: FRAME })) }
  await createProject(project)
  await openProject(project.id)
  addPass('depth')
})

describe('a render', () => {
  it('is stored and told to its project, and leaves nothing of the job behind', async () => {
    const seen = new Set<string>()
    const stop = onPixels((passId) => seen.add(passId))
    queueRender([passOf('depth').id, passOf('occlusion').id], 'draft')
    expect(queueRender([passOf('depth').id], 'draft')).not.toBeNull()
    await untilDone()
    stop()
    const { rendered } = passOf('occlusion')
    expect(rendered).toMatchObject({ ...FRAME, quality: 'draft', denoised: true })
    expect(seen).toEqual(new Set([passOf('depth').id, passOf('occlusion').id]))
    const result = rendered && (await loadResult(open().id, rendered))
    expect(result?.channels[0]).toHaveLength(FRAME.width * FRAME.height)
    await vi.waitFor(async () => expect(await database.blocks.count()).toBe(0), { timeout: 30_000 })
    expect(await loadJobs(open().id)).toEqual([])
  })

  it('that cannot be stored stays, paused with its reason, and goes on without rendering again', async () => {
    world.isFull = true
    queueRender([passOf('depth').id], 'good')
    await until(() => jobs()[0]?.state === 'paused')
    expect(jobs()[0].reason).toMatch(/no room left/)
    expect(useRenderQueue.getState().problem).toMatch(/no room left/)
    expect((await loadJobs(open().id))[0]).toMatchObject({ paused: true, reason: jobs()[0].reason })
    expect(passOf('depth').rendered).toBeNull()
    world.isFull = false
    world.tiles = 0
    resumeRender(jobs()[0].id)
    expect(jobs()[0].reason).toBeNull()
    await untilDone()
    expect(passOf('depth').rendered).not.toBeNull()
    expect(world.tiles).toBe(0)
    expect(useRenderQueue.getState().problem).toBeNull()
  })

  it('whose worker stopped stays likewise, does not hold up the next, and starts with new workers', async () => {
    world.isBroken = true
    queueRender([passOf('depth').id], 'draft')
    await until(() => jobs()[0]?.state === 'paused')
    expect(jobs()[0].reason).toMatch(/worker stopped/)
    world.isBroken = false
    queueRender([passOf('id').id], 'draft')
    await until(() => passOf('id').rendered !== null)
    resumeRender(jobs()[0].id)
    await untilDone()
    expect(passOf('depth').rendered).not.toBeNull()
  })

  it('keeps its blocks over a pause and goes on from them', async () => {
    const id = queueRender([passOf('occlusion').id], 'good')
    await vi.waitFor(async () => expect(await database.blocks.count()).toBeGreaterThan(0), {
      timeout: 20_000,
      interval: 2,
    })
    pauseRender(id ?? '')
    await until(() => jobs()[0].state === 'paused')
    expect(jobs()[0].reason).toBeNull()
    const whole = Math.ceil(FRAME.width / 32) * Math.ceil(FRAME.height / 32)
    Object.assign(world, { tiles: 0, onBlock: () => {} })
    resumeRender(id ?? '')
    await untilDone()
    expect(world.tiles).toBeLessThan(whole)
    expect(passOf('occlusion').rendered?.rays).toBeGreaterThan(0)
  })

  it('that goes on after it was cut off lets go of what was stored and not told then', async () => {
    queueRender([passOf('id').id], 'draft')
    await untilDone()
    const { rendered } = passOf('id')
    const result = rendered && (await loadResult(open().id, rendered))
    if (!result) throw new Error('nothing was rendered')
    await saveResult(open().id, 'cut off', result)
    queueRender([passOf('depth').id], 'draft')
    await untilDone()
    const named = open().passes.flatMap((pass) =>
      pass.rendered ? [`${open().id}/${pass.rendered.resultId}`] : [],
    )
    expect(named).toHaveLength(2)
    const stored = () => database.results.where('projectId').equals(open().id).primaryKeys()
    await vi.waitFor(async () => expect((await stored()).sort()).toEqual(named.sort()), { timeout: 30_000 })
  })

  it('that was ended leaves no block and no record', async () => {
    const id = queueRender([passOf('occlusion').id], 'good')
    await vi.waitFor(async () => expect(await database.blocks.count()).toBeGreaterThan(0), {
      timeout: 20_000,
      interval: 2,
    })
    cancelRender(id ?? '')
    expect(jobs()).toEqual([])
    await vi.waitFor(async () => {
      expect(await database.blocks.count()).toBe(0)
      expect(await database.jobs.count()).toBe(0)
    })
    expect(passOf('occlusion').rendered).toBeNull()
  })
})

describe('rendering again', () => {
  it('keeps the quality each pass was rendered with', async () => {
    queueRender([passOf('depth').id], 'good')
    queueRender([passOf('id').id], 'final')
    await untilDone()
    renderAgain([passOf('depth').id, passOf('id').id, passOf('occlusion').id])
    expect(jobs().map((j) => [j.quality, j.passIds])).toEqual([
      ['draft', [passOf('occlusion').id]],
      ['good', [passOf('depth').id]],
      ['final', [passOf('id').id]],
    ])
    await untilDone()
    expect(passOf('depth').rendered?.quality).toBe('good')
    expect(passOf('id').rendered?.quality).toBe('final')
  })
  it('of a scene in which every part is hidden stops in words', async () => {
    hideParts(open().models.flatMap((m) => m.parts.map((p) => p.key)))
    queueRender([passOf('depth').id], 'draft')
    await until(() => jobs()[0]?.state === 'paused')
    expect(jobs()[0].reason).toMatch(/every part is hidden or off. Show one in Models/)
  })
})

describe('a render and the project it belongs to', () => {
  it('holds it after it was closed, and gives it back when it is done', async () => {
    const { id } = open()
    const pass = passOf('occlusion')
    queueRender([pass.id], 'good')
    await until(() => jobs()[0]?.state === 'rendering')
    await closeProject()
    expect([isHeld(id, 'open'), isHeld(id, 'render'), locks.held.size]).toEqual([false, true, 1])
    await untilDone()
    const stored = await loadProject(id)
    expect(stored.passes.find((p) => p.id === pass.id)?.rendered).not.toBeNull()
    await vi.waitFor(() => expect([isHeld(id, 'render'), locks.held.size]).toEqual([false, 0]), {
      timeout: 30_000,
    })
  })
  it('ends with it, where it is deleted', async () => {
    const { id } = open()
    queueRender([passOf('occlusion').id], 'good')
    queueRender([passOf('depth').id], 'final')
    await until(() => jobs()[0]?.state === 'rendering')
    await closeProject()
    await deleteStored(id)
    expect(jobs()).toEqual([])
    await vi.waitFor(async () => expect(await database.jobs.count()).toBe(0), { timeout: 30_000 })
    // Nobody writes it again.
    await new Promise((resolve) => setTimeout(resolve, 300))
    const row = await database.projects.get(id)
    expect(row?.deletedAt).not.toBeNull()
    await restoreStored(id)
    expect((await loadProject(id)).passes.every((p) => p.rendered === null)).toBe(true)
  })
  it('leaves what is paused to whoever opens it next', async () => {
    const { id } = open()
    const job = queueRender([passOf('occlusion').id], 'good') ?? ''
    await until(() => jobs()[0]?.state === 'rendering')
    pauseRender(job)
    await until(() => jobs()[0].state === 'paused')
    await closeProject()
    await until(() => jobs().length === 0)
    expect(await loadJobs(id)).toMatchObject([{ id: job, paused: true }])
    await openProject(id)
    await until(() => jobs().length === 1)
    expect(jobs()[0]).toMatchObject({ id: job, state: 'paused' })
  })
})

describe('the queue', () => {
  it('is taken in its order, which can be changed, but not before what runs', async () => {
    const a = queueRender([passOf('occlusion').id], 'good') ?? ''
    await until(() => jobs()[0].state === 'rendering')
    const b = queueRender([passOf('depth').id], 'draft') ?? ''
    const c = queueRender([passOf('id').id], 'draft') ?? ''
    moveRender(c, -1)
    expect(jobs().map((j) => j.id)).toEqual([a, c, b])
    moveRender(c, -1)
    expect(jobs().map((j) => j.id)).toEqual([a, c, b])
    const order: string[] = []
    const stop = useProjectStore.subscribe(({ project }) => {
      for (const p of project?.passes ?? []) if (p.rendered && !order.includes(p.kind)) order.push(p.kind)
    })
    await untilDone()
    stop()
    expect(order).toEqual(['occlusion', 'id', 'depth'])
  })

  it('comes back after a reload in its order, paused what was paused', async () => {
    const record = {
      projectId: open().id,
      projectName: 'A',
      quality: 'draft' as const,
      first: null,
      key: '',
      passes: {},
    }
    const stopped = {
      ...record,
      id: 'x',
      passIds: [passOf('depth').id],
      place: 1,
      paused: true,
      reason: 'why',
    }
    await database.jobs.put({ id: 'x', projectId: open().id, record: stopped })
    await resumeRenders(open().id)
    expect(jobs()).toMatchObject([{ id: 'x', state: 'paused', reason: 'why' }])
    await resumeRenders(open().id)
    expect(jobs()).toHaveLength(1)
  })

  it('renders a rectangle first in what runs and in what waits', async () => {
    queueRender([passOf('occlusion').id], 'good')
    await until(() => jobs()[0].state === 'rendering')
    queueRender([passOf('depth').id], 'good')
    const first = { x: 0, y: 0, width: 20, height: 20 }
    renderRegionFirst(first)
    expect(jobs().map((j) => j.first)).toEqual([first, first])
    const drawn: string[] = []
    const stop = onPixels((passId, rect) => {
      if (passId === passOf('depth').id && rect.width <= 32 && rect.height <= 32)
        drawn.push(`${rect.x} ${rect.y}`)
    })
    await untilDone()
    stop()
    // The coarse pictures have larger pieces but in their last corner; after them the corner comes before the middle.
    expect(drawn.find((place) => place !== '256 128')).toBe('0 0')
  })
})
