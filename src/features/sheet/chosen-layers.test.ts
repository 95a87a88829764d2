import { beforeEach, describe, expect, it } from 'vitest'
import { evenFill, groupOf, newLayer, newMask, surfaceTerm } from '@/core/sheet/new-layer'
import { insertNode, layersOf, validateTree } from '@/core/sheet/sheet-tree'
import { activeSheet } from '@/data/active-shot'
import { newProject } from '@/data/new-project'
import { undo, useProjectStore } from '@/state/project-store'
import { setBench, useViewStore } from '@/state/view-store'
import {
  changeChosen,
  chooseAll,
  chooseLayer,
  chooseOneMore,
  chosenIds,
  deleteChosen,
  dropChosen,
  duplicateChosen,
  groupChosen,
  shareMask,
  stepChosen,
} from './chosen-layers'
import { copyLayers, pasteLayer } from './layer-clipboard'

/** Back first: a, b, a group of c and d, e. */
beforeEach(() => {
  const project = newProject('Rack')
  const [sheet] = project.sheets
  const hang = (id: string, parent: string | null, content = evenFill('#808080')) =>
    insertNode(sheet, newLayer({ id, name: id, content }), { parent, index: Infinity })
  hang('a', null)
  hang('b', null)
  insertNode(sheet, newLayer({ id: 'g', name: 'g', content: groupOf([]) }), { parent: null, index: Infinity })
  hang('c', 'g')
  hang('d', 'g')
  hang('e', null)
  useProjectStore.setState({ project, past: [], future: [] })
  setBench({ layerId: null, alsoChosen: { lead: null, ids: [] }, refusal: null })
})

const sheet = () => {
  const { project } = useProjectStore.getState()
  if (!project) throw new Error('no project')
  const own = activeSheet(project)
  expect(validateTree(own)).toEqual([])
  return own
}
const chosen = () => chosenIds(sheet(), useViewStore.getState()).join('')
const names = () =>
  layersOf(sheet())
    .map(({ name }) => name)
    .join(' ')

describe('choosing several layers', () => {
  it('adds, takes away, and takes all between; another choice forgets them', () => {
    chooseLayer('b')
    chooseLayer('e', 'toggle')
    expect([chosen(), useViewStore.getState().layerId]).toEqual(['be', 'e'])
    chooseLayer('e', 'toggle')
    expect([chosen(), useViewStore.getState().layerId]).toEqual(['b', 'b'])
    // The last one stays.
    chooseLayer('b', 'toggle')
    expect(chosen()).toBe('b')
    chooseLayer('d', 'range')
    expect([chosen(), useViewStore.getState().layerId]).toEqual(['bgcd', 'b'])
    setBench({ layerId: 'a' })
    expect(chosen()).toBe('a')
    chooseOneMore(1)
    chooseOneMore(1)
    expect(chosen()).toBe('abg')
    chooseAll()
    expect(chosen()).toBe('abgcde')
  })

  it('changes all of them as one step, but none that is locked', () => {
    chooseLayer('a')
    chooseLayer('e', 'range')
    changeChosen('lock', (layer) => void (layer.locked = layer.id === 'b'), { lockedToo: true })
    changeChosen('opacity', (layer) => void (layer.opacity = 0.5))
    expect(layersOf(sheet()).map(({ opacity }) => opacity)).toEqual([0.5, 1, 0.5, 0.5, 0.5, 0.5])
    expect(useViewStore.getState().refusal).toMatch(/1 of the chosen layers is locked/)
    undo()
    expect(layersOf(sheet()).every(({ opacity }) => opacity === 1)).toBe(true)
  })

  it('groups, duplicates and deletes what is outermost, in one step each', () => {
    chooseLayer('b')
    chooseLayer('c', 'toggle')
    chooseLayer('g', 'toggle')
    groupChosen()
    expect(names()).toBe('a Group b g c d e')
    undo()
    expect(names()).toBe('a b g c d e')
    chooseLayer('a')
    chooseLayer('g', 'toggle')
    duplicateChosen()
    expect(names()).toBe('a a copy b g c d g copy c d e')
    expect(chosenIds(sheet(), useViewStore.getState())).toHaveLength(2)
    deleteChosen()
    expect(names()).toBe('a b g c d e')
    chooseAll()
    deleteChosen()
    expect(names()).toBe('')
    expect(useViewStore.getState().layerId).toBeNull()
    undo()
    expect(names()).toBe('a b g c d e')
  })

  it('moves them together, by steps and by a drop', () => {
    chooseLayer('a')
    chooseLayer('b', 'toggle')
    stepChosen(1)
    expect(names()).toBe('g c d a b e')
    stepChosen(1)
    stepChosen(1)
    expect(names()).toBe('g c d e a b')
    stepChosen(-1)
    expect(names()).toBe('g c d a b e')
    dropChosen('c', 'after')
    expect(names()).toBe('g c a b d e')
    dropChosen('g', 'before')
    expect(names()).toBe('a b g c d e')
    dropChosen('g', 'within')
    expect(names()).toBe('g c d a b e')
    // Not into themselves.
    chooseLayer('g')
    chooseLayer('e', 'toggle')
    dropChosen('c', 'before')
    expect(names()).toBe('g c d a b e')
  })

  it('gives all the mask of the one that leads', () => {
    chooseLayer('a')
    changeChosen(
      'mask',
      (layer) => void (layer.mask = { ...newMask(), terms: [surfaceTerm('roles', ['ground'])] }),
    )
    chooseLayer('e', 'range')
    shareMask()
    const masks = layersOf(sheet()).map(({ mask }) => mask)
    expect(masks.every((mask) => mask?.terms[0].kind === 'roles')).toBe(true)
    // Each its own from then on.
    expect(masks[1]).not.toBe(masks[0])
  })

  it('copies and pastes them in their order', async () => {
    copyLayers(['b', 'g', 'c'])
    setBench({ layerId: null })
    await pasteLayer()
    expect(names()).toBe('a b g c d e b g c d')
    expect(chosenIds(sheet(), useViewStore.getState())).toHaveLength(2)
  })
})
