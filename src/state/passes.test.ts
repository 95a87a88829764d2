import 'fake-indexeddb/auto'
import { beforeEach, describe, expect, it } from 'vitest'
import { newPass, newProject } from '@/data/new-project'
import { changedMaterials, materialHashes, surfacesNow } from '@/data/project-scene'
import { createProject } from '@/data/project-repository'
import type { Project } from '@/data/project-schema'
import { testModel, testRendered } from '@/data/testing/fixtures'
import { renderedLights } from '@/core/scene/rendered-light'
import { currentRegistration } from '@/data/project-scene'
import { addPass, addPassSet, changePass, duplicatePass, layersOfPass, removePass } from './pass-actions'
import { isOnlyMaterials, passStatus } from './pass-status'
import { openProject, undo, useProjectStore } from './project-store'
import { renderWarnings } from './render-check'

const open = (): Project => {
  const { project } = useProjectStore.getState()
  if (!project) throw new Error('no project is open')
  return project
}
const names = () => open().passes.map((p) => p.name)

beforeEach(async () => {
  const project = { ...newProject('A'), models: [testModel()] }
  await createProject(project)
  await openProject(project.id)
})

describe('passes of a shot', () => {
  it('are added under free names, a light pass with one light', () => {
    addPass('occlusion')
    expect(names().at(-1)).toBe('Occlusion 2')
    const id = addPass('light')
    const pass = open().passes.find((p) => p.id === id)
    expect(pass?.members.lights).toHaveLength(1)
    expect(pass?.name).toMatch(/^Light, /)
    expect(undo()).toMatch(/^add Light/)
  })
  it('are duplicated without their render, and removed with the layers that show them', () => {
    const [first] = open().passes
    changePass(first.id, 'test', (p) => void (p.rendered = testRendered()))
    const copy = duplicatePass(first.id)
    expect(open().passes[1]).toMatchObject({ id: copy, name: 'Clay 2', rendered: null, kind: 'clay' })
    expect(layersOfPass(first.id)).toBe(0)
    removePass(first.id)
    expect(names()).not.toContain('Clay')
    for (const { id } of open().passes) removePass(id)
    expect(open().passes).toHaveLength(1)
  })
  it('come in sets, without a second of what is there', () => {
    addPassSet('overpaint')
    const kinds = open().passes.map((p) => p.kind)
    expect(new Set(kinds).size).toBe(kinds.length)
    for (const kind of ['lit', 'flat', 'shadow', 'depth', 'facing']) expect(kinds).toContain(kind)
    expect(undo()).toBe('add passes for overpaint')
  })
})

describe('the check before rendering', () => {
  const warningsOf = (
    kind: Parameters<typeof newPass>[1],
    change: (pass: ReturnType<typeof newPass>) => void,
  ) => {
    const project = open()
    const pass = newPass(project.shotId, kind)
    change(pass)
    return renderWarnings(project, [pass]).map((w) => w.message)
  }
  it('says nothing of passes in order', () => {
    expect(renderWarnings(open(), open().passes)).toEqual([])
  })
  it('names a pass without light, without part, and with a ground that is not there', () => {
    expect(warningsOf('clay', (p) => void (p.members.lights = []))).toEqual([
      'Clay holds no light that is on: it will be black',
    ])
    expect(warningsOf('flat', (p) => void (p.members.parts = []))).toEqual([
      'Flat holds no part: it will be empty',
    ])
    expect(warningsOf('flat', (p) => void (p.members.parts = ['gone']))[0]).toMatch(
      /no part that Flat holds is seen/,
    )
    expect(warningsOf('shadow', () => undefined)).toEqual([
      'Shadow is taken from the ground, and no part is ground',
    ])
  })
  it('names lights that joined, and a light pass that holds all', () => {
    const project = open()
    const [rig] = project.rigs
    const lights = renderedLights(rig)
    expect(lights.length).toBeGreaterThan(1)
    const joined = warningsOf('clay', (p) => void (p.rendered = testRendered({ lights: lights.slice(1) })))
    expect(joined).toEqual([`${lights[0].name} joined Clay, which holds all lights`])
    expect(warningsOf('light', () => undefined)[0]).toMatch(/holds every light/)
  })
})

describe('materials of a rendered pass', () => {
  const litPass = (project: Project) => ({
    ...newPass(project.shotId, 'lit'),
    rendered: testRendered({
      registration: currentRegistration(project, project.shots[0]),
      lights: renderedLights(project.rigs[0]),
      materials: materialHashes(project, 'lit'),
    }),
  })
  const red = (project: Project): Project => ({
    ...project,
    models: project.models.map((m) => ({
      ...m,
      materials: m.materials.map((x) => ({ ...x, baseColour: [1, 0, 0] as [number, number, number] })),
    })),
  })
  it('put it out of register when they change, and only passes that show them', () => {
    const project = open()
    const pass = litPass(project)
    expect(passStatus(project, pass).state).toBe('ready')
    const changed = red(project)
    expect(changedMaterials(changed, pass).map((m) => m.name)).toEqual(['Copper'])
    expect(passStatus(changed, pass)).toEqual({
      state: 'out of register',
      reasons: ['material Copper changed'],
    })
    expect(isOnlyMaterials(changed, pass)).toBe(true)
    const flat = {
      ...newPass(project.shotId, 'flat'),
      rendered: testRendered({
        registration: currentRegistration(project, project.shots[0]),
        materials: materialHashes(project, 'flat'),
      }),
    }
    // Flat takes colours live.
    expect(passStatus(changed, flat).state).toBe('ready')
    expect(materialHashes(project, 'depth')).toEqual({})
  })
  it('are not all that changed when a light moved too', () => {
    const project = open()
    const pass = litPass(project)
    const moved = red(project)
    const other = { ...moved, rigs: [{ ...moved.rigs[0], lights: [] }] }
    expect(isOnlyMaterials(other, { ...pass, members: { ...pass.members, parts: [] } })).toBe(false)
  })
  it('give surfaces the colours they have now', () => {
    const project = red(open())
    const surface = {
      part: 'm/0',
      material: 'm/0',
      partName: 'Roof',
      materialName: 'Copper',
      groups: [],
      opacity: 1,
      baseColour: [0, 0, 0] as [number, number, number],
    }
    expect(
      surfacesNow([surface, { ...surface, material: 'gone' }], project).map((s) => s.baseColour),
    ).toEqual([
      [1, 0, 0],
      [0, 0, 0],
    ])
  })
})
