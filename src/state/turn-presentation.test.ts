import 'fake-indexeddb/auto'
import { beforeEach, describe, expect, it } from 'vitest'
import { paramDefaults } from '@/core/params'
import { passKind } from '@/core/passes/registry'
import { newLayer, passOf } from '@/core/sheet/new-layer'
import { insertNode } from '@/core/sheet/sheet-tree'
import { newProject } from '@/data/new-project'
import { createProject } from '@/data/project-repository'
import { projectSchema, type Project } from '@/data/project-schema'
import { testModel } from '@/data/testing/fixtures'
import { changeProject, openProject, undo, useProjectStore } from './project-store'
import { addGroundLayer } from './ground-layers'
import { addPresentation, addTurn } from './turn-actions'

const open = (): Project => {
  const { project } = useProjectStore.getState()
  if (!project) throw new Error('no project is open')
  return project
}
const sheet = () => open().sheets[0]
const front = () => sheet().nodes[sheet().roots.at(-1) ?? '']

beforeEach(async () => {
  const project = { ...newProject('Fog Bell'), models: [testModel()] }
  await createProject(project)
  await openProject(project.id)
  addTurn()
})

describe('what a turntable is presented with', () => {
  it('is a layer with its reveal, both taken back by one undo', () => {
    const before = open()
    addPresentation('card')
    expect(projectSchema.safeParse(open()).success).toBe(true)
    expect(front().name).toBe('Title card')
    expect(open().turns[0].reveals.map(({ layerId }) => layerId)).toEqual([front().id])
    const said = Object.values(sheet().nodes).flatMap(({ content }) =>
      content.kind === 'type' ? content.text : [],
    )
    expect(said[0]).toBe('Fog Bell')
    undo()
    expect(open().sheets).toEqual(before.sheets)
    expect(open().turns).toEqual(before.turns)
  })
  it('has its shadow where a part is the ground, once, with its pass', () => {
    expect(addGroundLayer('shadow')).toBe('no ground')
    changeProject('ground', (draft) => void (draft.models[0].parts[0].role = 'ground'))
    changeProject('no shadow', (draft) => {
      draft.passes = draft.passes.filter(({ kind }) => kind !== 'shadow')
    })
    const passes = open().passes.length
    expect(addGroundLayer('shadow')).toBe('added')
    expect(open().passes).toHaveLength(passes + 1)
    const { content } = front()
    expect(content.kind === 'pass' && content.passId).toBe(open().passes.at(-1)?.id)
    expect(addGroundLayer('shadow')).toBe('there')
    undo()
    expect(open().passes).toHaveLength(passes)
    expect(sheet().roots).toEqual([])
  })
  it('has its reflection over the shadow, in clay where the sheet shows clay alone', () => {
    changeProject('ground', (draft) => {
      draft.models[0].parts[0].role = 'ground'
      draft.passes = draft.passes.filter(({ kind }) => !['shadow', 'reflection'].includes(kind))
    })
    const clay = open().passes.find(({ kind }) => kind === 'clay')
    if (!clay) throw new Error('no clay')
    changeProject('clay', (draft) => {
      const content = passOf(clay.id, { ...paramDefaults(passKind('clay').lookSchema), colour: '#804020' })
      const layer = newLayer({ id: 'clay', name: 'Clay', content })
      insertNode(draft.sheets[0], layer, { parent: null, index: 0 })
    })
    expect(addGroundLayer('reflection')).toBe('added')
    expect(addGroundLayer('shadow')).toBe('added')
    const names = () => sheet().roots.map((id) => sheet().nodes[id].name)
    expect(names()).toEqual(['Clay', 'Ground shadow', 'Ground reflection'])
    const pass = open().passes.find(({ kind }) => kind === 'reflection')
    expect(pass?.params.shows).toBe('clay')
    const { content } = front()
    expect(content.kind === 'pass' && content.look.clay).toBe('#804020')
    expect(projectSchema.safeParse(open()).success).toBe(true)
    undo()
    undo()
    expect(addGroundLayer('shadow')).toBe('added')
    expect(addGroundLayer('reflection')).toBe('added')
    expect(names()).toEqual(['Clay', 'Ground shadow', 'Ground reflection'])
    expect(addGroundLayer('reflection')).toBe('there')
  })
})
