import 'fake-indexeddb/auto'
import { beforeEach, expect, it, vi } from 'vitest'
import {
  evenFill,
  groupOf,
  newEffect,
  newLayer,
  newMask,
  newTerm,
  passOf,
  wholePicture,
} from '@/core/sheet/new-layer'
import { layersOf } from '@/core/sheet/sheet-tree'
import { newProject } from '@/data/new-project'
import { createProject, loadFile, saveFile } from '@/data/project-repository'
import { openProject, undo, useProjectStore } from '@/state/project-store'
import { setBench, useViewStore } from '@/state/view-store'
import { changeLayer, deleteLayer, duplicateLayer, moveLayer, changeAnyLayer } from './layer-actions'
import { copyLayers, copyMask, pasteLayer, pasteMask } from './layer-clipboard'

vi.mock('@/data/storage-service', async () => {
  const { saveFile: save } = await import('@/data/project-repository')
  return { storeFile: save }
})

const project = () => {
  const found = useProjectStore.getState().project
  if (!found) throw new Error('no project is open')
  return found
}
const sheet = () => project().sheets[0]

/** A project of a group of two layers that know each other: a picture, and a pass masked by its alpha. */
async function begin(name: string): Promise<string> {
  const fresh = newProject(name)
  const clay = fresh.passes.find(({ kind }) => kind === 'clay')
  const [own] = fresh.sheets
  own.nodes = {
    g: newLayer({ id: 'g', name: 'Tray', content: groupOf(['p', 'c']) }),
    p: newLayer({ id: 'p', name: 'Wall', content: wholePicture('wall') }),
    c: newLayer({
      id: 'c',
      name: 'Clay',
      content: passOf(clay?.id ?? '', {}),
      mask: { ...newMask(), terms: [newTerm('layerAlpha', { layer: 'p' })] },
      effects: [{ ...newEffect('d', 'displace'), params: { layer: 'p', amount: 4, angleDeg: 0 } }],
    }),
    f: newLayer({ id: 'f', name: 'p', content: evenFill('#ffffff') }),
  }
  own.roots = ['f', 'g']
  fresh.pictures = [{ id: 'wall', name: 'wall.png', fileId: 'file' }]
  await saveFile(fresh.id, 'file', 'wall.png', Uint8Array.of(1, 2, 3))
  await createProject(fresh)
  return fresh.id
}

beforeEach(async () => {
  await openProject(await begin('A'))
  setBench({ layerId: null })
})

it('pastes a group with all that lies in it; what refers to one of them refers to its copy', async () => {
  copyLayers(['g'])
  expect(await pasteLayer()).toEqual([])
  const copies = layersOf(sheet()).filter(({ id }) => !['g', 'p', 'c', 'f'].includes(id))
  expect(copies.map(({ name }) => name)).toEqual(['Tray', 'Wall', 'Clay'])
  const [, wall, clay] = copies
  expect(clay.mask?.terms[0]).toMatchObject({ layer: wall.id })
  expect(clay.effects[0]).toMatchObject({ params: { layer: wall.id } })
  expect(clay.effects[0].id).not.toBe('d')
  expect(wall.content).toMatchObject({ pictureId: 'wall' })
  expect(useViewStore.getState().layerId).toBe(copies[0].id)
  expect(undo()).toBe('paste Tray')
  expect(layersOf(sheet())).toHaveLength(4)
})
it('takes pictures along into another project, and passes by their kind', async () => {
  copyLayers(['g'])
  const first = project().id
  const other = newProject('B')
  await createProject(other)
  await openProject(other.id)
  expect(await pasteLayer()).toEqual([])
  const { pictures, passes } = project()
  expect(pictures.map(({ name }) => name)).toEqual(['wall.png'])
  expect([...(await loadFile(other.id, pictures[0].fileId))]).toEqual([1, 2, 3])
  const [, wall, clay] = layersOf(sheet())
  expect(wall.content).toMatchObject({ pictureId: pictures[0].id })
  expect(clay.content).toMatchObject({ passId: passes.find(({ kind }) => kind === 'clay')?.id })
  expect(first).not.toBe(other.id)
})
it('says which pass the other shot has not', async () => {
  copyLayers(['c'])
  const other = { ...newProject('C'), passes: [] }
  await createProject(other)
  await openProject(other.id)
  expect(await pasteLayer()).toEqual(['Clay: the shot has no such pass'])
})
it('leaves a locked layer alone, and what lies in a locked group', () => {
  changeAnyLayer('g', 'lock layer', (l) => void (l.locked = true))
  const before = sheet()
  changeLayer('c', 'opacity', (l) => void (l.opacity = 0.5))
  moveLayer('p', { parent: null, index: 0 })
  deleteLayer('g')
  expect(sheet()).toEqual(before)
  changeAnyLayer('g', 'hide layer', (l) => void (l.visible = false))
  expect(sheet().nodes.g.visible).toBe(false)
  // A copy of it is free.
  duplicateLayer('g')
  const copy = useViewStore.getState().layerId ?? ''
  expect(sheet().nodes[copy].locked).toBe(false)
})
it('gives another layer a copy of a mask, in one step', () => {
  expect(pasteMask('f')).toBe(false)
  expect(copyMask('f')).toBe(false)
  expect(copyMask('c')).toBe(true)
  expect(pasteMask('f')).toBe(true)
  expect(sheet().nodes.f.mask).toEqual(sheet().nodes.c.mask)
  changeLayer('c', 'feather', (l) => void (l.mask && (l.mask.featherPx = 9)))
  expect(sheet().nodes.f.mask?.featherPx).toBe(0)
  undo()
  expect(undo()).toBe('paste mask')
  expect(sheet().nodes.f.mask).toBeNull()
})
