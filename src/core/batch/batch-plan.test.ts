import { describe, expect, it } from 'vitest'
import {
  batchFiles,
  choiceProblem,
  nextVersion,
  PURPOSES,
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
}
const files = (more: Partial<BatchChoice> = {}, isThere?: (file: string) => boolean) =>
  batchFiles('Pell', SOURCES, { ...CHOICE, ...more }, 3, isThere)

describe('many files in one press', () => {
  it('are each sheet at each size, and each pass once, with endings of their own', () => {
    expect(files().map(({ file, width, height }) => [file, width, height])).toEqual([
      ['Pell_Dawn_50.png', 640, 401],
      ['Pell_Dawn_100.png', 1280, 801],
      ['Pell_Clay_100.exr', 1280, 801],
    ])
  })
  it('are named by words, in folders, safe for any system whatever the words hold', () => {
    expect(
      files({ pattern: '{shot}/{kind}/{name}_{width}x{height}_{version}' }).map(({ file }) => file),
    ).toEqual([
      'Quay/sheets/Dawn_640x401_v003.png',
      'Quay/sheets/Dawn_1280x801_v003.png',
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
      (file) => file === 'Dawn.png',
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
        (file) => there.has(file),
      )
    expect(version(['Dawn'])).toBe(2)
    expect(version(['Dawn', 'Dusk'])).toBe(3)
    expect(version(['Clay'])).toBe(1)
    expect(nextVersion('Pell', SOURCES, { ...CHOICE, pattern: '{name}' }, () => true)).toBe(1)
  })
  it('say what is wrong with what was chosen', () => {
    expect(choiceProblem(CHOICE)).toBeNull()
    expect(choiceProblem({ ...CHOICE, chosen: [] })).toMatch(/Choose a sheet/)
    expect(choiceProblem({ ...CHOICE, percents: [] })).toMatch(/Choose a size/)
    for (const pattern of ['', '/a', 'a//b', '../a', 'a/..'])
      expect(choiceProblem({ ...CHOICE, pattern })).toMatch(/file name/)
    expect(choiceProblem({ ...CHOICE, pattern: '{names}' })).toMatch(/no word \{names\}/)
    for (const { choice } of Object.values(PURPOSES))
      expect(choiceProblem({ ...choice, chosen: ['Dawn'] })).toBeNull()
  })
})
