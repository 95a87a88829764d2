import 'fake-indexeddb/auto'
import { beforeEach, describe, expect, it } from 'vitest'
import { READY_RIGS } from '@/core/scene/ready-rigs'
import { activePasses, activeSheet, activeShot, rigOf } from '@/data/active-shot'
import { newProject } from '@/data/new-project'
import { createProject } from '@/data/project-repository'
import { validateProject, type Project, type ProjectModel } from '@/data/project-schema'
import { testModel, testRendered } from '@/data/testing/fixtures'
import {
  addScheme,
  matchPalette,
  restoreColours,
  setColour,
  shufflePalette,
  useScheme,
} from './material-actions'
import {
  changeProp,
  dissolveGroup,
  freeGroupName,
  groupByMaterial,
  groupParts,
  moveToGroup,
  nestGroup,
  renamePart,
  renameParts,
  setRoles,
  startingCopies,
} from './model-actions'
import { changeProject, openProject, undo, useProjectStore } from './project-store'
import { addLight, addRig, changeLight, duplicateLight, removeLight, removeRig, useRig } from './rig-actions'
import { addShotFromHere, lockShot, goToShot, keepView, newMove, removeShot, setFrame } from './shot-actions'

const project = (): Project => {
  const found = useProjectStore.getState().project
  if (!found) throw new Error('no project is open')
  return found
}
const parts = () => project().models.flatMap((m) => m.parts)
const steps = () => useProjectStore.getState().past.length
/** One undo brings back what was. */
const isOneStep = (act: () => void) => {
  const before = { project: project(), steps: steps() }
  act()
  expect(steps()).toBe(before.steps + 1)
  expect(validateProject(project())).toEqual([])
  const after = project()
  undo()
  expect(project()).toEqual(before.project)
  useProjectStore.setState({ project: after })
}

const model = (): ProjectModel => {
  const {
    parts: [part],
    materials: [material],
  } = testModel()
  return testModel({
    parts: ['Wall', 'Post 1', 'Post 2', 'Roof'].map((name, i) => ({
      ...part,
      key: `m/${i}`,
      name,
      materials: [name.startsWith('Post') ? 1 : 0],
    })),
    materials: [
      { ...material, key: 'm/0', name: 'Planks', baseColour: [0.6, 0.4, 0.2], fileColour: [0.6, 0.4, 0.2] },
      { ...material, key: 'm/1', name: 'Iron', baseColour: [0.2, 0.2, 0.25], fileColour: [0.2, 0.2, 0.25] },
    ],
  })
}

beforeEach(async () => {
  const fresh = { ...newProject('A'), models: [model()] }
  await createProject(fresh)
  await openProject(fresh.id)
})

describe('parts and groups', () => {
  it('take roles and names together, in one step each', () => {
    isOneStep(() => setRoles(['m/1', 'm/2'], 'unseen'))
    expect(parts().map((p) => p.role)).toEqual(['subject', 'unseen', 'unseen', 'subject'])
    isOneStep(() => renameParts(['m/2', 'm/1'], { kind: 'number', pattern: 'Pillar #', from: 1 }))
    // Numbered in the order of the tree, whatever the order they were chosen in.
    expect(parts().map((p) => p.name)).toEqual(['Wall', 'Pillar 1', 'Pillar 2', 'Roof'])
    const before = project()
    renamePart('m/0', '   ')
    expect(project()).toBe(before)
  })
  it('go into groups and out, and a group into another but never into itself', () => {
    const name = freeGroupName(project())
    isOneStep(() => void groupParts(['m/1', 'm/2'], name))
    const [posts] = project().groups
    expect(freeGroupName(project())).not.toBe(name)
    const all = groupParts(['m/0'], 'All')
    isOneStep(() => nestGroup(posts.id, all))
    const before = project()
    nestGroup(all, posts.id)
    nestGroup(all, all)
    expect(project()).toBe(before)
    isOneStep(() => moveToGroup(['m/3'], posts.id))
    isOneStep(() => dissolveGroup(posts.id))
    expect(parts().map((p) => p.groupId)).toEqual([all, all, all, all])
    isOneStep(() => dissolveGroup(all))
    expect(parts().every((p) => p.groupId === null)).toBe(true)
  })
  it('are grouped by material, into groups that are there already too', () => {
    isOneStep(() => groupByMaterial(['m/0', 'm/1']))
    expect(project().groups.map((g) => g.name)).toEqual(['Planks', 'Iron'])
    groupByMaterial(['m/2', 'm/3'])
    expect(project().groups).toHaveLength(2)
    const [planks, iron] = project().groups
    expect(parts().map((p) => p.groupId)).toEqual([planks.id, iron.id, iron.id, planks.id])
  })
  it('stand as copies at distances of their own', () => {
    expect(startingCopies('one', project(), project().models[0])).toEqual({ kind: 'one' })
    expect(startingCopies('ring', project(), project().models[0])).toMatchObject({
      kind: 'ring',
      sweepDeg: 360,
    })
  })
  it('of our own making change with their measures, fingerprint and all', () => {
    const prop = testModel({
      id: 'p',
      source: { type: 'prop', prop: 'ground-plane', params: { size: 4 } },
      parts: [{ ...testModel().parts[0], key: 'p/0' }],
    })
    changeProject('add', (draft) => void draft.models.push(prop as (typeof draft.models)[number]))
    isOneStep(() => changeProp(prop, 'size', 6))
    const changed = project().models[1]
    expect(changed.source).toMatchObject({ params: { size: 6 } })
    expect(changed.geometryHash).not.toBe(prop.geometryHash)
  })
})

describe('colours', () => {
  const colours = () => project().models[0].materials.map((m) => m.baseColour)
  it('are kept in schemes, and each scheme keeps what is changed in it', () => {
    const asTheyWere = colours()
    isOneStep(addScheme)
    expect(project().schemes).toHaveLength(2)
    setColour('m/0', [1, 0, 0])
    const [first, second] = project().schemes
    isOneStep(() => useScheme(first.id))
    expect(colours()).toEqual(asTheyWere)
    useScheme(second.id)
    expect(colours()[0]).toEqual([1, 0, 0])
    restoreColours()
    expect(colours()).toEqual(asTheyWere)
  })
  it('come from a palette by the nearest, always the same, or by chance', () => {
    const palette = {
      id: 'q',
      name: 'Quay',
      colours: [
        [0.1, 0.1, 0.2],
        [0.7, 0.5, 0.3],
      ] as [number, number, number][],
    }
    changeProject('add', (draft) => void draft.palettes.push(palette))
    isOneStep(() => matchPalette('q'))
    expect(colours()).toEqual([palette.colours[1], palette.colours[0]])
    const before = project()
    matchPalette('q')
    expect(colours()).toEqual(before.models[0].materials.map((m) => m.baseColour))
    shufflePalette('q', () => 0)
    expect(colours()).toEqual(expect.arrayContaining(palette.colours))
  })
})

describe('shots', () => {
  it('begin from here with passes and a sheet of their own, and go with them', () => {
    changeProject('clay', (draft) => {
      draft.passes[0].params = { roughness: 0.9 }
      draft.passes[0].rendered = testRendered() as (typeof draft.passes)[number]['rendered']
    })
    lockShot(true)
    isOneStep(() => addShotFromHere())
    expect(project().shots.map((s) => [s.name, s.locked])).toEqual([
      ['Shot 1', true],
      ['Shot 2', false],
    ])
    expect(activeShot(project()).name).toBe('Shot 2')
    expect(activePasses(project())[0]).toMatchObject({ params: { roughness: 0.9 }, rendered: null })
    expect(activeSheet(project()).roots).toEqual([])
    const [first] = project().shots
    const before = steps()
    goToShot(first.id)
    expect(steps()).toBe(before)
    expect(activePasses(project())[0].rendered).not.toBeNull()
    isOneStep(removeShot)
    expect(project().shots).toHaveLength(1)
    removeShot()
    expect(project().shots).toHaveLength(1)
  })
  it('keep views and make moves between them', () => {
    keepView()
    keepView('From the quay')
    expect(activeShot(project()).views.map((v) => v.name)).toEqual(['View 1', 'From the quay'])
    const cameras = activeShot(project()).views.map((v) => v.camera)
    expect(newMove('between', cameras)).toMatchObject({ from: cameras[0], to: cameras[1] })
    expect(newMove('spin', cameras)).toMatchObject({ turns: 1 })
  })
  it('hand their size to a sheet that is still empty', () => {
    isOneStep(() => setFrame({ width: 400, height: 300 }))
    expect(activeSheet(project())).toMatchObject({ width: 400, height: 300 })
  })
})

describe('rigs', () => {
  const rig = () => rigOf(project(), activeShot(project()))
  it('are begun from ready ones, copied, taken and removed', () => {
    const first = rig().id
    isOneStep(() => addRig(READY_RIGS[3]))
    expect(rig().name).toBe(READY_RIGS[3].name)
    isOneStep(() => addRig(null))
    expect(rig().name).toBe(`${READY_RIGS[3].name} copy`)
    isOneStep(() => useRig(first))
    addShotFromHere()
    isOneStep(removeRig)
    expect(project().shots.every((shot) => shot.rigId === project().rigs[0].id)).toBe(true)
  })
  it('take lights in and out, each with a name of its own, sixteen at most', () => {
    const before = rig().lights.length
    isOneStep(() => addLight('area'))
    addLight('area')
    expect(
      rig()
        .lights.slice(before)
        .map((l) => l.name),
    ).toEqual(['Area', 'Area 2'])
    const [area] = rig().lights.slice(before)
    isOneStep(() => changeLight(area.id, 'strength', { strength: 3 }))
    isOneStep(() => duplicateLight(area.id))
    isOneStep(() => removeLight(area.id))
    for (let i = 0; i < 30; i++) addLight('point')
    expect(rig().lights).toHaveLength(16)
  })
})
