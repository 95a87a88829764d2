import 'fake-indexeddb/auto'
import { beforeEach, describe, expect, it } from 'vitest'
import { surfaceTerm } from '@/core/sheet/new-layer'
import { childrenOf, layersOf, placeOf } from '@/core/sheet/sheet-tree'
import { newProject } from '@/data/new-project'
import { createProject } from '@/data/project-repository'
import { openProject, undo, useProjectStore } from '@/state/project-store'
import { setBench, useViewStore } from '@/state/view-store'
import {
  addFillLayer,
  addGroup,
  addMaskTerm,
  addPassLayer,
  addWash,
  changeLayer,
  deleteLayer,
  dropPlace,
  duplicateLayer,
  foldGroup,
  hangingLayers,
  moveLayer,
  stepLayer,
  toggleInMask,
  ungroup,
} from './layer-actions'

const sheet = () => {
  const found = useProjectStore.getState().project?.sheets[0]
  if (!found) throw new Error('no project is open')
  return found
}
/** On the sheet itself, back first. */
const layers = () => sheet().roots.map((id) => sheet().nodes[id])
const inGroup = (id: string) => childrenOf(sheet(), id).map((child) => sheet().nodes[child].name)
const names = () => layers().map((l) => l.name)
const idOf = (name: string) => layersOf(sheet()).find((l) => l.name === name)?.id ?? ''
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
    expect(layer?.content).toMatchObject({
      kind: 'pass',
      passId: occlusion.id,
      look: { strength: 1, reach: 100 },
    })
  })
  it('move a layer, not beyond the ends, each as one step', () => {
    moveLayer(idOf('back'), { parent: null, index: 2 })
    expect(names()).toEqual(['middle', 'front', 'back'])
    moveLayer(idOf('back'), { parent: null, index: 99 })
    expect(names()).toEqual(['middle', 'front', 'back'])
    expect(undo()).toBe('reorder layers')
    expect(names()).toEqual(['back', 'middle', 'front'])
  })
  it('duplicate in front, with a mask and effects of its own', () => {
    addMaskTerm(idOf('middle'), surfaceTerm('parts', ['p']))
    duplicateLayer(idOf('middle'))
    expect(names()).toEqual(['back', 'middle', 'middle copy', 'front'])
    toggleInMask(idOf('middle copy'), 'parts', 'q')
    expect(layers()[1].mask?.terms).toEqual([surfaceTerm('parts', ['p'])])
    expect(layers()[2].mask?.terms).toEqual([surfaceTerm('parts', ['p', 'q'])])
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
    toggleInMask(id, 'parts', 'roof')
    toggleInMask(id, 'materials', 'copper')
    expect(layers()[2].mask?.terms).toEqual([
      surfaceTerm('parts', ['roof']),
      surfaceTerm('materials', ['copper']),
    ])
    toggleInMask(id, 'materials', 'copper')
    toggleInMask(id, 'parts', 'roof')
    expect(layers()[2].mask).toBeNull()
  })
  it('put the chosen layer into a group in its place, and take a group apart again', () => {
    setBench({ layerId: idOf('middle') })
    addGroup()
    expect(names()).toEqual(['back', 'Group', 'front'])
    expect(inGroup(idOf('Group'))).toEqual(['middle'])
    expect(useViewStore.getState().layerId).toBe(idOf('Group'))
    // An open group that is chosen takes what is added, at its front.
    addWash()
    expect(inGroup(idOf('Group'))).toEqual(['middle', 'Levels wash'])
    ungroup(idOf('Group'))
    expect(names()).toEqual(['back', 'middle', 'Levels wash', 'front'])
    expect(undo()).toBe('take the group apart')
    expect(inGroup(idOf('Group'))).toEqual(['middle', 'Levels wash'])
  })
  it('step a layer past its neighbours, into open groups and out of them again', () => {
    setBench({ layerId: idOf('middle') })
    addGroup()
    const group = idOf('Group')
    stepLayer(idOf('back'), 1)
    expect(inGroup(group)).toEqual(['back', 'middle'])
    stepLayer(idOf('back'), 1)
    expect(inGroup(group)).toEqual(['middle', 'back'])
    stepLayer(idOf('back'), 1)
    expect(names()).toEqual(['Group', 'back', 'front'])
    stepLayer(idOf('back'), -1)
    expect(inGroup(group)).toEqual(['middle', 'back'])
    stepLayer(idOf('middle'), -1)
    expect(names()).toEqual(['middle', 'Group', 'front'])
    // A folded one is stepped over.
    foldGroup(group, true)
    stepLayer(idOf('middle'), 1)
    expect(names()).toEqual(['Group', 'middle', 'front'])
    expect(hangingLayers(sheet()).map(({ name }) => name)).toEqual(['Group', 'middle', 'front'])
  })
  it('drop a layer before, after or into what it is dropped on, and never into itself', () => {
    setBench({ layerId: idOf('middle') })
    addGroup()
    const [back, front, group, middle] = ['back', 'front', 'Group', 'middle'].map(idOf)
    expect(dropPlace(sheet(), back, front, 'after')).toEqual({ parent: null, index: 2 })
    expect(dropPlace(sheet(), back, front, 'before')).toEqual({ parent: null, index: 1 })
    expect(dropPlace(sheet(), front, back, 'before')).toEqual({ parent: null, index: 0 })
    expect(dropPlace(sheet(), back, group, 'within')).toEqual({ parent: group, index: 1 })
    expect(dropPlace(sheet(), back, middle, 'before')).toEqual({ parent: group, index: 0 })
    expect(dropPlace(sheet(), group, middle, 'after')).toBeNull()
    moveLayer(group, { parent: group, index: 0 })
    expect(placeOf(sheet(), group)).toEqual({ parent: null, index: 1 })
  })
  it('duplicate and delete a group with all that lies in it', () => {
    setBench({ layerId: idOf('middle') })
    addGroup()
    duplicateLayer(idOf('Group'))
    expect(names()).toEqual(['back', 'Group', 'Group copy', 'front'])
    const copy = idOf('Group copy')
    expect(inGroup(copy)).toEqual(['middle'])
    expect(new Set(layersOf(sheet()).map(({ id }) => id)).size).toBe(6)
    deleteLayer(copy)
    expect(Object.keys(sheet().nodes)).toHaveLength(4)
    expect(names()).toEqual(['back', 'Group', 'front'])
  })
})
