import { describe, expect, it } from 'vitest'
import { evenFill, gradientFill, groupOf, wash } from '../new-layer'
import type { Sheet } from '../sheet-schema'
import { testLayer, testResources, testSheet } from '../testing/sheets'
import { KeptTiles } from './kept-tiles'
import { planSheet } from './plan-sheet'
import { SheetEvaluator } from './sheet-evaluator'
import { findStep, toneHistogram, TONES } from './tone-histogram'

const SIZE = { width: 256, height: 40 }
const resources = testResources()
function tonesOf(sheet: Sheet, id: string, side: 'own' | 'beneath'): number[] | null {
  const evaluator = new SheetEvaluator(new KeptTiles(), resources)
  const plan = planSheet(sheet, { size: SIZE }, resources)
  evaluator.begin(plan)
  return toneHistogram(evaluator, plan, id, side)
}
const ramp = testLayer('ramp', {
  content: gradientFill('linear', ['#000000', '#ffffff'], [0, 0.5], [1, 0.5]),
})
const grey = testLayer('grey', { content: evenFill('#80808080') })

describe('tones', () => {
  it('of a ramp are as many of each', () => {
    const tones = tonesOf(testSheet(SIZE, [ramp]), 'ramp', 'own')
    expect(tones).toHaveLength(TONES)
    for (const count of tones ?? []) expect(count).toBeCloseTo((SIZE.width / TONES) * SIZE.height, -1)
    expect(tones?.reduce((a, b) => a + b, 0)).toBeCloseTo(SIZE.width * SIZE.height, 0)
  })
  it('count as much as they cover', () => {
    const tones = tonesOf(testSheet(SIZE, [ramp, grey]), 'grey', 'own') ?? []
    expect(tones.filter((count) => count > 0)).toHaveLength(1)
    expect(tones[32]).toBeCloseTo((SIZE.width * SIZE.height * 128) / 255, -1)
  })
  it('beneath a layer are without it, on the ground where there is one', () => {
    const sheet = testSheet(SIZE, [ramp, grey], { background: '#ffffff' })
    expect(tonesOf(sheet, 'grey', 'beneath')).toEqual(tonesOf(sheet, 'ramp', 'own'))
    expect(tonesOf(sheet, 'ramp', 'beneath')?.[TONES - 1]).toBe(SIZE.width * SIZE.height)
    expect(tonesOf(testSheet(SIZE, [ramp]), 'ramp', 'beneath')).toEqual(new Array(TONES).fill(0))
  })
  it('of a wash are what it makes of what lies beneath', () => {
    const own = testLayer('wash', {
      content: wash(),
      effects: [
        { id: 'e', kind: 'levels', version: 1, enabled: true, opacity: 1, mask: null, params: { low: 0.5 } },
      ],
    })
    const tones = tonesOf(testSheet(SIZE, [ramp, own]), 'wash', 'own') ?? []
    expect(tones.slice(0, TONES / 2 - 1).every((count) => count === 0)).toBe(true)
  })
  it('are found within groups, and not of what is hidden', () => {
    const group = testLayer('group', { content: groupOf(['grey']), mode: 'multiply' })
    const sheet = testSheet(SIZE, [ramp, grey, group])
    const plan = planSheet(sheet, { size: SIZE }, resources)
    expect(findStep(plan, 'grey')?.composition.name).toBe('group')
    expect(tonesOf(sheet, 'grey', 'own')?.[32]).toBeGreaterThan(0)
    expect(tonesOf(testSheet(SIZE, [{ ...ramp, visible: false }]), 'ramp', 'own')).toBeNull()
  })
})
