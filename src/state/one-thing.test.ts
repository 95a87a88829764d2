import 'fake-indexeddb/auto'
import { beforeEach, describe, expect, it } from 'vitest'
import type { PassResult } from '@/core/passes/pass-result'
import { passKind } from '@/core/passes/registry'
import { allocateChannel } from '@/core/picture/channel'
import { renderedLights } from '@/core/scene/rendered-light'
import { beforeId, beforeOf, comparedPasses } from '@/data/before-passes'
import { newProject } from '@/data/new-project'
import { createProject, clearUnused } from '@/data/project-repository'
import { currentRegistration, materialHashes } from '@/data/project-scene'
import type { Project } from '@/data/project-schema'
import { loadResult, saveResult } from '@/data/stored-results'
import { testModel, testRendered } from '@/data/testing/fixtures'
import { letGoOfBefore, passesShowing, swapBefore } from './one-thing'
import { removePass } from './pass-actions'
import {
  changeProject,
  closeProject,
  flushSave,
  openProject,
  redo,
  undo,
  useProjectStore,
} from './project-store'

const SIZE = { width: 64, height: 64 }
const now = () => {
  const { project } = useProjectStore.getState()
  if (!project) throw new Error('no project is open')
  return project
}

/** A project whose first pass is lit, and shows its one material in one of four tiles. */
function rendered(): Project {
  const project = newProject('p')
  project.models = [testModel()]
  project.passes = [
    { ...project.passes[0], id: 'lit', kind: 'lit', name: 'Lit', params: {} },
    { ...project.passes[0], id: 'clay', kind: 'clay', name: 'Clay' },
  ]
  const registration = currentRegistration(project, project.shots[0])
  const [lit, clay] = project.passes
  const lights = renderedLights(project.rigs[0])
  const told = { registration, lights, ...SIZE, quality: 'good' as const }
  lit.rendered = testRendered({ ...told, materials: materialHashes(project, 'lit'), facts: { touched: [0] } })
  clay.rendered = testRendered({ ...told, resultId: 'c' })
  return project
}
const coloured = (project: Project): Project => {
  const own = structuredClone(project)
  own.models[0].materials[0].baseColour = [1, 0, 0]
  return own
}

describe('passes that show a material', () => {
  it('are told with how much of them does', () => {
    const [showing, ...others] = passesShowing(rendered(), 'm/0')
    expect(others).toEqual([])
    expect(showing).toMatchObject({ pass: { id: 'lit' }, share: 0.25, state: 'as it is' })
    expect(passesShowing(rendered(), 'nothing')).toEqual([])
  })
  it('are to be rendered again where it is another, and whole where more is', () => {
    const project = coloured(rendered())
    expect(passesShowing(project, 'm/0')[0].state).toBe('changed')
    project.shots[0].camera.fovDeg = 50
    expect(passesShowing(project, 'm/0')[0].state).toBe('other')
    // What was smoothed is rendered whole: smoothing reaches into tiles beside.
    const smooth = rendered()
    Object.assign(smooth.passes[0].rendered ?? {}, { denoised: true })
    expect(passesShowing(smooth, 'm/0')[0].share).toBeNull()
  })
})

describe('what a pass was', () => {
  const result = (params = {}): PassResult => ({
    kind: 'normal',
    width: 1,
    height: 1,
    channels: passKind('normal')
      .channels([], params)
      .map(({ format }) => allocateChannel(format, 1)),
    surfaces: [],
    lights: [],
    params,
    facts: {},
  })
  beforeEach(async () => {
    const project = newProject('p')
    const was = testRendered({ resultId: 'old', width: 1, height: 1 })
    const is = testRendered({ resultId: 'new', width: 1, height: 1 })
    project.passes = [{ ...project.passes[0], id: 'n', kind: 'normal', rendered: is }, project.passes[1]]
    project.before = [{ ...project.passes[0], id: beforeId('n'), rendered: was }]
    await createProject(project)
    for (const id of ['old', 'new']) await saveResult(project.id, id, result())
    await openProject(project.id)
  })
  const isThere = async (resultId: string) =>
    (await loadResult(now().id, testRendered({ resultId, width: 1, height: 1 }))) !== null

  it('changes places with what it is, and back, and stays through an undo', () => {
    expect(comparedPasses(now()).map(({ id }) => id)).toEqual(['n'])
    swapBefore()
    expect(now().passes[0].rendered?.resultId).toBe('old')
    expect(beforeOf(now(), 'n')?.rendered?.resultId).toBe('new')
    changeProject('rename', (draft) => void (draft.name = 'q'))
    swapBefore()
    undo()
    expect(now().passes[0].rendered?.resultId).toBe('new')
    expect(beforeOf(now(), 'n')?.rendered?.resultId).toBe('old')
  })
  it('goes with its pass, and comes back with it, also after a reload', async () => {
    changeProject('rename', (draft) => void (draft.name = 'q'))
    removePass('n')
    expect(now().before).toEqual([])
    const { id } = now()
    await closeProject()
    await openProject(id)
    undo()
    expect(beforeOf(now(), 'n')?.rendered?.resultId).toBe('old')
    expect(await isThere('old')).toBe(true)
    redo()
    expect(now().before).toEqual([])
    undo()
    undo()
    expect(beforeOf(now(), 'n')?.rendered?.resultId).toBe('old')
  })
  it('is kept while it is compared, and goes when it is let go of', async () => {
    await clearUnused(now())
    expect(await isThere('old')).toBe(true)
    await letGoOfBefore()
    expect(now().before).toEqual([])
    expect(await isThere('old')).toBe(false)
    expect(await isThere('new')).toBe(true)
    await flushSave()
  })
  it('is not compared with a picture of another size', () => {
    const project = structuredClone(now())
    Object.assign(project.passes[0].rendered ?? {}, { width: 2 })
    expect(comparedPasses(project)).toEqual([])
  })
})
