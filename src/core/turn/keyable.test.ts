import { describe, expect, it } from 'vitest'
import { evenFill, newEffect, newMask, newTerm, passOf } from '../sheet/new-layer'
import { testLayer, testSheet } from '../sheet/testing/sheets'
import { sheetAt, trackProblem, type Track } from '../sheet/tracks'
import { keyablesOf, samePath, valueOf } from './keyable'

const layer = testLayer('a', {
  content: passOf('p', {}),
  mask: { ...newMask(), terms: [newTerm('clouds'), newTerm('parts', { keys: ['x'] })] },
  effects: [newEffect('g', 'grain'), newEffect('t', 'tint')],
})
const fill = testLayer('f', { content: evenFill('#204060') })
const sheet = testSheet({ width: 40, height: 30 }, [layer, fill])
const kindOf = () => 'contour' as const
const all = [...keyablesOf(layer, kindOf), ...keyablesOf(fill, kindOf)]

describe('values that keys can be set for', () => {
  it('are of the layer, of what it shows, of its mask and of its effects', () => {
    const labels = all.map(({ label }) => label)
    for (const label of [
      'Opacity',
      'Mask: feather',
      'Mask 1, clouds: Cover',
      'Grain: Seed',
      'Grain: strength',
      'Colour',
    ])
      expect(labels).toContain(label)
  })
  it('lead to one value each, which every one of them can be keyed to', () => {
    for (const { path, control } of all) {
      const value = valueOf(sheet, path) ?? control.default
      const track: Track = {
        path,
        keys: [{ at: 0, value: value as string | number | boolean, ease: 'even' }],
      }
      expect(trackProblem(sheet, track), path.join('.')).toBeNull()
    }
    for (const one of all) expect(all.filter(({ path }) => samePath(path, one.path))).toHaveLength(1)
  })
  it('change the sheet where they lead', () => {
    const seed = all.find(({ label }) => label === 'Grain: Seed')
    const track: Track = {
      path: seed?.path ?? [],
      keys: [
        { at: 0, value: 1, ease: 'even' },
        { at: 10, value: 21, ease: 'even' },
      ],
    }
    expect(valueOf(sheetAt(sheet, [track], 5), track.path)).toBe(11)
  })
  it('lead nowhere where nothing is', () => {
    expect(valueOf(sheet, ['nodes', 'gone', 'opacity'])).toBeUndefined()
    expect(valueOf(sheet, ['nodes', 'a', 'effects', 'gone', 'params', 'seed'])).toBeUndefined()
  })
})
