import { beforeEach, describe, expect, it } from 'vitest'
import { evenFill, newLayer, passOf } from '@/core/sheet/new-layer'
import { insertNode, layersOf } from '@/core/sheet/sheet-tree'
import { activeSheet } from '@/data/active-shot'
import { newPass, newProject } from '@/data/new-project'
import { projectSchema, validateProject } from '@/data/project-schema'
import { testRendered } from '@/data/testing/fixtures'
import { removePass } from '@/state/pass-actions'
import { goInHistory, useProjectStore } from '@/state/project-store'
import { bringBackState, changeSheet, forgetState, keepState, renameState } from '@/state/sheet-actions'
import { shownSide, sidesOf } from './compare-sides'
import { nextStateName } from './kept-states'

beforeEach(() => {
  const project = newProject('Sides')
  project.passes = (['clay', 'id'] as const).map((kind) => ({
    ...newPass(project.shotId, kind),
    id: kind,
    name: kind,
    rendered: kind === 'clay' ? testRendered() : null,
  }))
  const [sheet] = project.sheets
  insertNode(sheet, newLayer({ id: 'a', name: 'a', content: evenFill('#808080') }), {
    parent: null,
    index: 0,
  })
  insertNode(sheet, newLayer({ id: 'b', name: 'b', content: passOf('clay', {}) }), { parent: null, index: 1 })
  useProjectStore.setState({ project, past: [], future: [] })
})
const now = () => {
  const { project } = useProjectStore.getState()
  if (!project) throw new Error('no project')
  return project
}
const names = () => layersOf(activeSheet(now())).map(({ name }) => name)
const rename = (name: string) => changeSheet('rename', (sheet) => void (sheet.nodes.a.name = name))

describe('kept states', () => {
  it('come back as they were, by name, and each act is one step', () => {
    keepState(nextStateName(now()))
    rename('other')
    keepState(nextStateName(now()))
    expect(now().kept.map(({ name }) => name)).toEqual(['State 1', 'State 2'])
    renameState(now().kept[0].id, 'Before')
    bringBackState(now().kept[0].id)
    expect(names()).toEqual(['a', 'b'])
    // What is worked on from there does not change what was kept.
    rename('third')
    expect(now().kept[0].sheet.nodes.a.name).toBe('a')
    goInHistory(-3)
    expect(names()).toEqual(['other', 'b'])
    goInHistory(3)
    expect(names()).toEqual(['third', 'b'])
    forgetState(now().kept[0].id)
    expect(now().kept.map(({ name }) => name)).toEqual(['State 2'])
    expect(projectSchema.safeParse(now()).success).toBe(true)
  })

  it('leave out what was removed since', () => {
    keepState('Before')
    removePass('clay')
    expect(names()).toEqual(['a'])
    bringBackState(now().kept[0].id)
    expect(names()).toEqual(['a'])
    expect(validateProject(now())).toEqual([])
  })

  it('of a project of before there were any are none', () => {
    const { kept: _kept, ...before } = now()
    expect(projectSchema.parse(before).kept).toEqual([])
  })
})

describe('the sides of a comparison', () => {
  it('are what there is: layers, states, sheets of the same shape, rendered passes', () => {
    keepState('Before')
    const layer = activeSheet(now()).nodes.a
    expect(sidesOf(now(), layer).map(({ label }) => label)).toEqual([
      'As it is',
      'Without a',
      'a alone',
      'Kept: Before',
      'Pass: clay',
    ])
    expect(sidesOf(now(), undefined).map(({ label }) => label)).toEqual([
      'As it is',
      'Kept: Before',
      'Pass: clay',
    ])
  })

  it('show another sheet, the same one as long as nothing changes, and as it is where it is gone', () => {
    keepState('Before')
    const layer = activeSheet(now()).nodes.a
    const [{ id, sheet }] = now().kept
    expect(shownSide(now(), layer, `kept ${id}`).sheet).toBe(sheet)
    expect(shownSide(now(), layer, 'without')).toMatchObject({ without: 'a', sheet: null })
    const pass = shownSide(now(), layer, 'pass clay').sheet
    expect(pass && layersOf(pass).map(({ content }) => content)).toMatchObject([
      { kind: 'pass', passId: 'clay' },
    ])
    expect(shownSide(now(), layer, 'pass clay').sheet).toBe(pass)
    expect(shownSide(now(), layer, 'alone').sheet?.roots).toEqual(['a'])
    expect(shownSide(now(), layer, 'kept gone')).toEqual({ label: 'As it is', without: null, sheet: null })
    expect(shownSide(now(), undefined, 'without')).toEqual({ label: 'As it is', without: null, sheet: null })
  })
})
