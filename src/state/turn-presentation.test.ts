import 'fake-indexeddb/auto'
import { beforeEach, describe, expect, it } from 'vitest'
import { newProject } from '@/data/new-project'
import { createProject } from '@/data/project-repository'
import { projectSchema, type Project } from '@/data/project-schema'
import { testModel } from '@/data/testing/fixtures'
import { changeProject, openProject, undo, useProjectStore } from './project-store'
import { addGroundShadow, addPresentation, addTurn } from './turn-actions'

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
    expect(addGroundShadow()).toBe('no ground')
    changeProject('ground', (draft) => void (draft.models[0].parts[0].role = 'ground'))
    changeProject('no shadow', (draft) => {
      draft.passes = draft.passes.filter(({ kind }) => kind !== 'shadow')
    })
    const passes = open().passes.length
    expect(addGroundShadow()).toBe('added')
    expect(open().passes).toHaveLength(passes + 1)
    const { content } = front()
    expect(content.kind === 'pass' && content.passId).toBe(open().passes.at(-1)?.id)
    expect(addGroundShadow()).toBe('there')
    undo()
    expect(open().passes).toHaveLength(passes)
    expect(sheet().roots).toEqual([])
  })
})
