import { describe, expect, it } from 'vitest'
import { batchManifest, batchManifestSchema } from './batch-manifest'
import {
  batchFiles,
  choiceProblem,
  COLOURS_NOW,
  fileIdentity,
  framesNamed,
  nextVersion,
  PURPOSES,
  type BatchBefore,
  type BatchChoice,
  type BatchSource,
} from './batch-plan'

const source = (id: string, rest: Partial<BatchSource> = {}): BatchSource => ({
  what: 'sheet',
  id,
  name: id,
  shot: 'Quay',
  width: 1280,
  height: 801,
  ...rest,
})
const SOURCES = [
  source('Dawn'),
  source('Dusk'),
  source('Clay', { what: 'pass' }),
  source('clay', { what: 'pass', id: 'c2' }),
]
const CHOICE: BatchChoice = {
  chosen: ['Dawn', 'Clay'],
  percents: [50, 100],
  sheetFormat: 'png8',
  passFormat: 'exr',
  pattern: '{project}_{name}_{percent}',
  schemes: [COLOURS_NOW],
  frames: 'all',
  allowsLoss: false,
  onlyChanged: false,
  replaces: false,
  hasManifest: false,
}
const files = (more: Partial<BatchChoice> = {}, before: BatchBefore = {}, sources = SOURCES) =>
  batchFiles('Pell', sources, { ...CHOICE, ...more }, 3, before)

describe('many files in one press', () => {
  it('are each sheet and each pass at each size, with endings of their own', () => {
    expect(files().map(({ file, width, height }) => [file, width, height])).toEqual([
      ['Pell_Dawn_50.png', 640, 401],
      ['Pell_Dawn_100.png', 1280, 801],
      ['Pell_Clay_50.exr', 640, 401],
      ['Pell_Clay_100.exr', 1280, 801],
    ])
  })
  it('are named by words, in folders, safe for any system whatever the words hold', () => {
    expect(
      files({ pattern: '{shot}/{kind}/{name}_{width}x{height}_{version}' }).map(({ file }) => file),
    ).toEqual([
      'Quay/sheets/Dawn_640x401_v003.png',
      'Quay/sheets/Dawn_1280x801_v003.png',
      'Quay/passes/Clay_640x401_v003.exr',
      'Quay/passes/Clay_1280x801_v003.exr',
    ])
    const hostile = [
      source('x', { name: '../../con', shot: '..' }),
      source('y', { name: 'a\u202egnp.\0b', shot: 'C:\\x' }),
    ]
    const named = batchFiles(
      '/etc',
      hostile,
      { ...CHOICE, chosen: ['x', 'y'], percents: [100], pattern: '{project}/{shot}/{name}' },
      1,
    )
    for (const { file } of named) {
      const steps = file.split('/')
      expect(steps).toHaveLength(3)
      for (const step of steps) expect(step).not.toMatch(/^\.|[<>:"\\|?*\u0000-\u001f\u202e]|^con\b/)
    }
  })
  it('say before anything is written which names are taken, also by each other', () => {
    const all = files(
      { chosen: ['Dawn', 'Clay', 'c2'], percents: [100], pattern: '{name}' },
      { isThere: (file) => file === 'Dawn.png' },
    )
    expect(all.map(({ file, problem }) => [file, problem])).toEqual([
      ['Dawn.png', 'is there already'],
      ['Clay.exr', 'another has the same name'],
      ['clay.exr', 'another has the same name'],
    ])
    expect(files({ percents: [2000] })[0].problem).toMatch(/larger than 16384/)
  })
  it('take the first version that is not there', () => {
    const there = new Set(['Dawn_v001.png', 'Dusk_v002.png'])
    const version = (chosen: string[]) =>
      nextVersion(
        'Pell',
        SOURCES,
        { ...CHOICE, chosen, percents: [100], pattern: '{name}_{version}' },
        { isThere: (file) => there.has(file) },
      )
    expect(version(['Dawn'])).toBe(2)
    expect(version(['Dawn', 'Dusk'])).toBe(3)
    expect(version(['Clay'])).toBe(1)
    expect(nextVersion('Pell', SOURCES, { ...CHOICE, pattern: '{name}' }, { isThere: () => true })).toBe(1)
  })
  it('say what is wrong with what was chosen', () => {
    expect(choiceProblem(CHOICE)).toBeNull()
    expect(choiceProblem({ ...CHOICE, chosen: [] })).toMatch(/Choose a sheet/)
    expect(choiceProblem({ ...CHOICE, percents: [] })).toMatch(/Choose a size/)
    for (const pattern of ['', '/a', 'a//b', '../a', 'a/..'])
      expect(choiceProblem({ ...CHOICE, pattern })).toMatch(/file name/)
    expect(choiceProblem({ ...CHOICE, pattern: '{names}' })).toMatch(/no word \{names\}/)
    for (const { choice } of Object.values(PURPOSES))
      expect(choiceProblem({ ...CHOICE, ...choice, chosen: ['Dawn'] })).toBeNull()
  })
  it('are each of them in each colour scheme, and each frame of a turntable once', () => {
    const spin = source('Spin', { what: 'turn', frames: 12, width: 640, height: 400 })
    const sources = [...SOURCES, spin]
    const named = files(
      {
        chosen: ['Dawn', 'Spin'],
        percents: [100],
        schemes: [COLOURS_NOW, 's1'],
        frames: '10-11,0',
        pattern: '{name}_{scheme}',
      },
      { schemeName: () => 'Rust / night' },
      sources,
    )
    expect(named.map(({ file, width, frame }) => [file, width, frame])).toEqual([
      ['Dawn_now.png', 1280, null],
      ['Dawn_Rust _ night.png', 1280, null],
      ['Spin_now_0000.png', 640, 0],
      ['Spin_now_0010.png', 640, 10],
      ['Spin_now_0011.png', 640, 11],
    ])
    expect(choiceProblem({ ...CHOICE, chosen: ['Spin'], frames: '4-12' }, sources)).toMatch(
      /Spin are all, .* 0-11/,
    )
    expect(choiceProblem({ ...CHOICE, schemes: [] })).toMatch(/colours of now/)
    expect(new Set(named.map((row) => fileIdentity(row, CHOICE))).size).toBe(named.length)
  })
  it.each([
    ['all', [0, 1, 2, 3]],
    [' 2 , 0-1,1', [0, 1, 2]],
    ['4', null],
    ['3-1', null],
    ['-1', null],
    ['1,', null],
    ['1e3', null],
  ])('frames %s of four', (text, frames) => expect(framesNamed(text, 4)).toEqual(frames))
  it('refuse to cut numbers, unless that is wished', () => {
    const sources = [
      source('Depth', { what: 'pass', kind: 'depth' }),
      source('Clay', { what: 'pass', kind: 'clay' }),
    ]
    const problems = (more: Partial<BatchChoice>) =>
      files({ chosen: ['Depth', 'Clay'], percents: [100], ...more }, {}, sources).map(
        ({ problem }) => problem,
      )
    expect(problems({ passFormat: 'png16' })).toEqual([expect.stringMatching(/numbers would be cut/), null])
    expect(problems({ passFormat: 'exr' })).toEqual([null, null])
    expect(problems({ passFormat: 'png', allowsLoss: true })).toEqual([null, null])
  })
  it('are left out, or replaced, by what they showed when they were written last', () => {
    const since: BatchBefore['since'] = ({ source: { id } }) =>
      id === 'Dawn' ? 'changed' : id === 'Dusk' ? 'as it was' : 'new'
    const before: BatchBefore = { since, isThere: () => true, isOwn: (file) => file.startsWith('D') }
    const told = (more: Partial<BatchChoice>) =>
      files({ chosen: ['Dawn', 'Dusk', 'Clay'], percents: [100], pattern: '{name}', ...more }, before).map(
        (row) => [row.file, row.since, row.problem],
      )
    const there = 'is there already'
    expect(told({})).toEqual([
      ['Dawn.png', 'changed', there],
      ['Dusk.png', 'as it was', there],
      ['Clay.exr', 'new', there],
    ])
    // What was not written from here is never replaced, nor what shows the same as ever.
    expect(told({ replaces: true })).toEqual([
      ['Dawn.png', 'changed', null],
      ['Dusk.png', 'as it was', there],
      ['Clay.exr', 'new', there],
    ])
    expect(told({ replaces: true, onlyChanged: true }).map(([file]) => file)).toEqual([
      'Dawn.png',
      'Clay.exr',
    ])
  })
  it('say what they want that is not there', () => {
    const [row] = files({ chosen: ['Dawn'] }, { missing: () => 'is not rendered yet' })
    expect(row.problem).toBe('is not rendered yet')
  })
  it('are told of, each with what it shows', () => {
    const spin = source('Spin', { what: 'turn', frames: 2 })
    const sources = [...SOURCES, spin]
    const rows = files(
      { chosen: ['Dawn', 'Clay', 'Spin'], percents: [100], schemes: [COLOURS_NOW, 's'], frames: '1' },
      { schemeName: () => 'Rust' },
      sources,
    )
    const manifest = batchManifest('Pell', rows, () => 'Rust')
    expect(batchManifestSchema.parse(manifest)).toEqual(manifest)
    expect(manifest.files.map(({ shows, name, scheme, frame }) => [shows, name, scheme, frame])).toEqual([
      ['sheet', 'Dawn', undefined, undefined],
      ['sheet', 'Dawn', 'Rust', undefined],
      ['pass', 'Clay', undefined, undefined],
      ['pass', 'Clay', 'Rust', undefined],
      ['turntable', 'Spin', undefined, 1],
    ])
    expect(manifest.files.map(({ file }) => file)).toEqual(rows.map(({ file }) => file))
  })
})
