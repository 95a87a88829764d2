import 'fake-indexeddb/auto'
import { beforeEach, describe, expect, it } from 'vitest'
import { newProject } from '@/data/new-project'
import { createProject } from '@/data/project-repository'
import { openProject, undo, useProjectStore } from '@/state/project-store'
import { setBench, useViewStore } from '@/state/view-store'
import {
  addFillLayer,
  addMaskTerm,
  addPassLayer,
  changeLayer,
  deleteLayer,
  duplicateLayer,
  moveLayer,
  toggleInMask,
} from './layer-actions'

const layers = () => useProjectStore.getState().project?.sheets[0].layers ?? []
const names = () => layers().map((l) => l.name)
const idOf = (name: string) => layers().find((l) => l.name === name)?.id ?? ''
const rename = (id: string, name: string) => changeLayer(id, 'rename layer', (l) => void (l.name = name))

beforeEach(async () => {
  const fresh = newProject('A')
  await createProject(fresh)
  await openProject(fresh.id)
  setBench({ layerId: null, peel: 2 })
  for (const name of ['back', 'middle', 'front']) {
    addFillLayer()
    rename(useViewStore.getState().layerId ?? '', name)
  }
})

describe('layer actions', () => {
  it('hang a new layer in front of the chosen one, choose it and put the peel back', () => {
    expect(names()).toEqual(['back', 'middle', 'front'])
    setBench({ layerId: idOf('back'), peel: 1 })
    addFillLayer()
    expect(names()).toEqual(['back', 'Fill', 'middle', 'front'])
    expect(useViewStore.getState()).toMatchObject({ layerId: idOf('Fill'), peel: Infinity })
  })
  it('give a pass layer the mode, opacity and look its pass begins with', () => {
    const occlusion = useProjectStore.getState().project?.passes.find((p) => p.kind === 'occlusion')
    if (!occlusion) throw new Error('no occlusion pass')
    addPassLayer(occlusion)
    const layer = layers().at(-1)
    expect(layer).toMatchObject({ name: 'Occlusion', mode: 'multiply', opacity: 0.7, visible: true })
    expect(layer?.source).toMatchObject({
      type: 'pass',
      passId: occlusion.id,
      look: { strength: 1, reach: 100 },
    })
  })
  it('move a layer, not beyond the ends, each as one step', () => {
    moveLayer(idOf('back'), 2)
    expect(names()).toEqual(['middle', 'front', 'back'])
    moveLayer(idOf('back'), 99)
    expect(names()).toEqual(['middle', 'front', 'back'])
    expect(undo()).toBe('reorder layers')
    expect(names()).toEqual(['back', 'middle', 'front'])
  })
  it('duplicate in front, with a mask and effects of its own', () => {
    addMaskTerm(idOf('middle'), { join: 'add', by: 'part', keys: ['p'] })
    duplicateLayer(idOf('middle'))
    expect(names()).toEqual(['back', 'middle', 'middle copy', 'front'])
    toggleInMask(idOf('middle copy'), 'part', 'q')
    expect(layers()[1].mask?.terms[0].keys).toEqual(['p'])
    expect(layers()[2].mask?.terms[0].keys).toEqual(['p', 'q'])
  })
  it('delete, choosing the layer behind, and undo brings it back in its place', () => {
    deleteLayer(idOf('middle'))
    expect(names()).toEqual(['back', 'front'])
    expect(useViewStore.getState().layerId).toBe(idOf('back'))
    undo()
    expect(names()).toEqual(['back', 'middle', 'front'])
  })
  it('put a part into the mask by a click and take it out by another, the mask with it', () => {
    const id = idOf('front')
    toggleInMask(id, 'part', 'roof')
    toggleInMask(id, 'material', 'copper')
    expect(layers()[2].mask?.terms).toEqual([
      { join: 'add', by: 'part', keys: ['roof'] },
      { join: 'add', by: 'material', keys: ['copper'] },
    ])
    toggleInMask(id, 'material', 'copper')
    toggleInMask(id, 'part', 'roof')
    expect(layers()[2].mask).toBeNull()
  })
})
