import { describe, expect, it } from 'vitest'
import { batchFiles, COLOURS_NOW, type BatchChoice } from '@/core/batch/batch-plan'
import { newTurn } from '@/core/turn/turn-schema'
import { inScheme } from '@/data/in-scheme'
import { newProject } from '@/data/new-project'
import { materialHashes } from '@/data/project-scene'
import type { Project } from '@/data/project-schema'
import { testModel, testRendered } from '@/data/testing/fixtures'
import { batchBefore, batchSources, isRenderedAnew, NO_FRAMES, recordOf } from './batch-sources'

const NOTHING: ReadonlySet<string> = new Set()
function example(): Project {
  const project = newProject('p')
  project.models = [testModel()]
  project.schemes = [{ id: 's', name: 'Rust', colours: { 'm/0': [1, 0, 0] } }]
  project.passes = [
    { ...project.passes[0], id: 'lit', kind: 'lit', name: 'Lit', params: {} },
    { ...project.passes[0], id: 'clay', kind: 'clay', name: 'Clay' },
  ]
  project.passes[0].rendered = testRendered({
    materials: materialHashes(project, 'lit'),
    width: 32,
    height: 16,
  })
  return project
}
const surfacesOf = ({ models: [model] }: Project) => [
  {
    part: model.parts[0].key,
    material: model.materials[0].key,
    partName: 'Roof',
    materialName: 'Copper',
    opacity: 1,
    groups: [],
    baseColour: model.materials[0].baseColour,
  },
]
const choose = (chosen: string[], more: Partial<BatchChoice> = {}): BatchChoice => ({
  chosen,
  percents: [100],
  schemes: [COLOURS_NOW],
  frames: 'all',
  sheetFormat: 'png8',
  passFormat: 'png',
  pattern: '{name}_{scheme}',
  allowsLoss: false,
  onlyChanged: false,
  replaces: false,
  hasManifest: false,
  ...more,
})
const planned = (project: Project, choice: BatchChoice) =>
  batchFiles('p', batchSources(project), choice, 1, batchBefore(project, choice, NOTHING, NO_FRAMES))

describe('what may become files', () => {
  it('is every sheet and pass, rendered or not, as large as it is', () => {
    const project = example()
    const passes = batchSources(project).filter(({ what }) => what === 'pass')
    expect(passes.map(({ id, width, isRendered }) => [id, width, isRendered])).toEqual([
      ['lit', 32, true],
      ['clay', project.shots[0].frame.width, false],
    ])
  })
  it('is rendered for its file where it is not there as it is wanted', () => {
    const project = example()
    const [lit, clay] = project.passes
    const as = { percent: 100, scheme: COLOURS_NOW }
    expect(isRenderedAnew(project, lit, as)).toBe(false)
    expect(isRenderedAnew(project, lit, { ...as, percent: 50 })).toBe(true)
    expect(isRenderedAnew(project, lit, { ...as, scheme: 's' })).toBe(true)
    expect(isRenderedAnew(project, clay, as)).toBe(true)
    expect(inScheme(project, 's').models[0].materials[0].baseColour).toEqual([1, 0, 0])
    expect(project.models[0].materials[0].baseColour).toEqual([0, 0, 0])
  })
  it('tells what changed since it was written, each file by itself', () => {
    const project = example()
    const choice = choose(['lit', project.sheets[0].id], { schemes: [COLOURS_NOW, 's'] })
    const since = (own: Project) => planned(own, choice).map((row) => [row.file, row.since])
    expect(since(project).every(([, word]) => word === 'new')).toBe(true)
    const written = planned(project, choice).map((row) => recordOf(project, row, choice, NO_FRAMES))
    const after = { ...project, handOver: { choice, written } }
    expect(since(after).every(([, word]) => word === 'as it was')).toBe(true)
    const sheet = { ...after.sheets[0], width: after.sheets[0].width + 2 }
    expect(since({ ...after, sheets: [sheet] }).filter(([, word]) => word === 'changed')).toHaveLength(2)
    const [lit, clay] = after.passes
    const again = { ...lit, rendered: testRendered({ ...lit.rendered, resultId: 'again' }) }
    expect(since({ ...after, passes: [again, clay] }).filter(([, word]) => word === 'changed')).toEqual([
      ['Lit_now.png', 'changed'],
    ])
    // Another form is another file.
    const exr = { ...choice, passFormat: 'exr' as const }
    expect(planned(after, exr).find(({ file }) => file === 'Lit_now.exr')?.since).toBe('new')
  })
  it('is not another where only what it does not show is', () => {
    const project = example()
    const choice = choose(['clay', 'lit'])
    const [lit, clay] = project.passes
    clay.rendered = testRendered({ resultId: 'c', surfaces: surfacesOf(project) })
    if (lit.rendered) lit.rendered.surfaces = surfacesOf(project)
    const written = planned(project, choice).map((row) => recordOf(project, row, choice, NO_FRAMES))
    const after = structuredClone({ ...project, handOver: { choice, written } })
    after.models[0].materials[0].baseColour = [0, 1, 0]
    expect(planned(after, choice).map(({ since }) => since)).toEqual(['as it was', 'as it was'])
    // What has the colours of now is.
    const flat = structuredClone(after)
    for (const own of [project, flat]) own.passes[1].kind = 'flat'
    flat.handOver.written = planned(project, choice).map((row) => recordOf(project, row, choice, NO_FRAMES))
    expect(planned(flat, choice).map(({ since }) => since)).toEqual(['as it was', 'changed'])
  })
  it('says of frames whether they are there', () => {
    const project = example()
    project.turns = [newTurn('t', 'Spin', project.sheets[0].id, { turns: 1, framesPerTurn: 12 })]
    const choice = choose(['t'], { frames: '0-1' })
    const known = { names: new Map([['t', ['a', 'b']]]), there: new Set(['b']) }
    const rows = batchFiles(
      'p',
      batchSources(project),
      choice,
      1,
      batchBefore(project, choice, NOTHING, known),
    )
    expect(rows.map(({ file, problem }) => [file, problem])).toEqual([
      ['Spin_now_0000.png', expect.stringMatching(/not rendered yet/)],
      ['Spin_now_0001.png', null],
    ])
  })
})
