import 'fake-indexeddb/auto'
import type { Draft } from 'immer'
import { beforeEach, describe, expect, it } from 'vitest'
import { evenFill, newLayer, passOf, surfaceTerm } from '@/core/sheet/new-layer'
import { insertNode, layersOf } from '@/core/sheet/sheet-tree'
import { activeSheet, rigOfPass } from '@/data/active-shot'
import { newProject } from '@/data/new-project'
import { createProject } from '@/data/project-repository'
import { projectSchema, validateProject, type Project, type ProjectPass } from '@/data/project-schema'
import { testModel, testRendered } from '@/data/testing/fixtures'
import { addSecondLighting, changePass, setPassRig } from '@/state/pass-actions'
import { passStatus } from '@/state/pass-status'
import { changeProject, openProject, undo, useProjectStore } from '@/state/project-store'
import { renderWarnings } from '@/state/render-check'
import { removeRig, useRig as takeRig } from '@/state/rig-actions'
import { joinProblem, lightingOf, otherLightings, takeFromLighting } from './join-lighting'
import { renderedLights } from '@/core/scene/rendered-light'
import { currentRegistration } from '@/data/project-scene'
import { activeShot } from '@/data/active-shot'

const project = (): Project => {
  const found = useProjectStore.getState().project
  if (!found) throw new Error('no project is open')
  return found
}
const pass = (id: string): ProjectPass => {
  const found = project().passes.find((p) => p.id === id)
  if (!found) throw new Error('no such pass')
  return found
}
const layers = () => layersOf(activeSheet(project()))
/** Marks a pass as rendered as everything is now. */
const render = (id: string) =>
  changePass(id, 'rendered', (p) => {
    const rig = rigOfPass(project(), pass(id))
    const registration = currentRegistration(project(), activeShot(project()))
    p.rendered = testRendered({
      registration,
      lights: renderedLights(rig),
      params: { ...p.params },
    }) as Draft<NonNullable<ProjectPass['rendered']>>
  })

let clay = ''
beforeEach(async () => {
  const made = { ...newProject('A'), models: [testModel()] }
  await createProject(made)
  await openProject(made.id)
  clay = project().passes.find((p) => p.kind === 'clay')?.id ?? ''
  changeProject('hang', (draft) => {
    const content = passOf(clay, { exposure: 1 })
    insertNode(activeSheet(draft), newLayer({ id: 'base', name: 'Clay', content }), {
      parent: null,
      index: 0,
    })
  })
})

describe('a pass with a rig of its own', () => {
  it('is a copy under the next rig, brought in where the project has but one, as one step', () => {
    const rigs = project().rigs.length
    const second = pass(addSecondLighting(clay) ?? '')
    expect(project().rigs).toHaveLength(rigs + 1)
    expect(second).toMatchObject({ kind: 'clay', rendered: null, rigId: project().rigs.at(-1)?.id })
    expect(second.name).toBe(`Clay, ${project().rigs.at(-1)?.name}`)
    expect(validateProject(project())).toEqual([])
    // The rig that is there now and that no clay pass has yet is taken before another is brought in.
    const third = pass(addSecondLighting(second.id) ?? '')
    expect(third.rigId).not.toBe(second.rigId)
    expect(undo()).toBe('second lighting')
    expect(undo()).toBe('second lighting')
    expect(project().rigs).toHaveLength(rigs)
  })

  it('is out of register by the rig alone, in words, and keeps the light it was rendered in', () => {
    render(clay)
    expect(passStatus(project(), pass(clay)).state).toBe('ready')
    const second = addSecondLighting(clay) ?? ''
    const { rigId } = pass(second)
    setPassRig(clay, rigId)
    const name = rigOfPass(project(), pass(clay)).name
    expect(passStatus(project(), pass(clay))).toEqual({
      state: 'out of register',
      reasons: [`it is lit by ${name} now`],
    })
    setPassRig(clay, null)
    expect(passStatus(project(), pass(clay)).state).toBe('ready')
  })

  it('is checked before rendering by its own rig', () => {
    const second = addSecondLighting(clay) ?? ''
    changeProject('dark', (draft) => {
      const rig = draft.rigs.find(({ id }) => id === pass(second).rigId)
      for (const light of rig?.lights ?? []) light.on = false
    })
    const messages = renderWarnings(project(), [pass(clay), pass(second)]).map((w) => w.message)
    expect(messages).toEqual([`${pass(second).name} holds no light that is on: it will be black`])
  })

  it('goes back to its shot’s where its rig is removed', () => {
    const second = addSecondLighting(clay) ?? ''
    const held = rigOfPass(project(), pass(second)).lights[0].id
    changePass(second, 'hold', (p) => void (p.members.lights = [held]))
    takeRig(pass(second).rigId ?? '')
    removeRig()
    expect(pass(second)).toMatchObject({ rigId: null, members: { lights: null } })
    expect(validateProject(project())).toEqual([])
  })

  it('is a document of before without the word', () => {
    const plain = JSON.parse(JSON.stringify(project())) as { passes: { rigId?: unknown }[] }
    for (const p of plain.passes) delete p.rigId
    expect(projectSchema.parse(plain).passes.every((p) => p.rigId === null)).toBe(true)
    const wrong = { ...project(), passes: [{ ...pass(clay), rigId: 'gone' }] }
    expect(validateProject(wrong)).toContain('pass Clay names a rig that is not there')
  })
})

describe('two lightings of one shot', () => {
  const id = () => project().passes.find((p) => p.kind === 'id')?.id ?? ''
  const base = () => layers()[0]
  it('are joined by one press, and by another into the same mask', () => {
    const second = addSecondLighting(clay) ?? ''
    render(second)
    render(id())
    expect(otherLightings(project(), pass(clay)).map((p) => p.id)).toEqual([second])
    expect(joinProblem(project(), base(), pass(second))).toBeNull()
    const [red, green] = project()
      .models[0].parts.map(({ key }) => key)
      .concat('other')
    takeFromLighting(base(), pass(second), 'materials', red)
    expect(layers()).toHaveLength(2)
    expect(layers()[1]).toMatchObject({
      name: pass(second).name,
      mode: 'normal',
      opacity: 1,
      content: { kind: 'pass', passId: second, look: { exposure: 1 } },
      mask: { terms: [{ join: 'add', kind: 'materials', keys: [red] }], invert: false },
    })
    takeFromLighting(base(), pass(second), 'materials', green)
    takeFromLighting(base(), pass(second), 'materials', green)
    expect(layers()[1].mask?.terms).toEqual([surfaceTerm('materials', [red, green])])
    expect(layers()).toHaveLength(2)
    expect(undo()).toBe(`take from ${pass(second).name}`)
    expect(layers()[1].mask?.terms).toEqual([surfaceTerm('materials', [red])])
    undo()
    expect(layers()).toHaveLength(1)
  })

  it('say what is missing', () => {
    const second = addSecondLighting(clay) ?? ''
    expect(joinProblem(project(), base(), pass(second))).toBe(`${pass(second).name} is not rendered yet`)
    render(second)
    expect(joinProblem(project(), base(), pass(second))).toMatch(/ID pass/)
    render(id())
    expect(joinProblem(project(), { mode: 'multiply', opacity: 1 }, pass(second))).toMatch(/normal and whole/)
    expect(joinProblem(project(), { mode: 'normal', opacity: 0.5 }, pass(second))).toMatch(/normal and whole/)
  })

  it('are of clay and lit layers only, and of another rig', () => {
    const occlusion = project().passes.find((p) => p.kind === 'occlusion')
    const of = (passId: string) => lightingOf(project(), { content: passOf(passId, {}) })
    expect(of(clay)?.id).toBe(clay)
    expect(of(occlusion?.id ?? '')).toBeNull()
    expect(lightingOf(project(), { content: evenFill('#ffffff') })).toBeNull()
    const second = addSecondLighting(clay) ?? ''
    setPassRig(second, null)
    expect(otherLightings(project(), pass(clay))).toEqual([])
  })
})
