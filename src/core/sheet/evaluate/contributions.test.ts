import { expect, it } from 'vitest'
import { evenFill, groupOf, newMask, newTerm } from '../new-layer'
import { testLayer, testResources, testSheet } from '../testing/sheets'
import { contributionsAt } from './contributions'
import { KeptTiles } from './kept-tiles'
import { planSheet } from './plan-sheet'
import { SheetEvaluator } from './sheet-evaluator'

const SIZE = { width: 300, height: 40 }
const resources = testResources()
const at = (
  layers: Parameters<typeof testSheet>[1],
  x: number,
  y: number,
  background: string | null = null,
) => {
  const sheet = testSheet(SIZE, layers, { background })
  const evaluator = new SheetEvaluator(new KeptTiles(), resources)
  const plan = planSheet(sheet, { size: SIZE }, resources)
  evaluator.begin(plan)
  const { colour, layers: own } = contributionsAt(evaluator, plan, x, y)
  const short = (shade: readonly number[]) => shade.map((v) => Number(v.toFixed(2)))
  return { colour: short(colour), layers: own.map((o) => [o.nodeId, short(o.before), short(o.after)]) }
}

it('tells what each layer made of a pixel, in its place', () => {
  const layers = [
    testLayer('red', { content: evenFill('#ff0000') }),
    testLayer('shade', { content: evenFill('#808080'), mode: 'multiply', opacity: 0.5 }),
  ]
  expect(at(layers, 270, 30, '#ffffff')).toEqual({
    colour: [0.75, 0, 0, 1],
    layers: [
      ['red', [1, 1, 1, 1], [1, 0, 0, 1]],
      ['shade', [1, 0, 0, 1], [0.75, 0, 0, 1]],
    ],
  })
})
it('counts what brings nothing there as nothing, and a group that is composed alone as one', () => {
  const half = newTerm('gradient', { from: [0.49, 0.5], to: [0.51, 0.5] })
  const layers = [
    testLayer('left', { content: evenFill('#0000ff'), mask: { ...newMask(), terms: [half] } }),
    testLayer('inner', { content: evenFill('#00ff00'), opacity: 0.5 }),
    testLayer('group', { content: groupOf(['inner']) }),
  ]
  expect(at(layers, 280, 5)).toEqual({
    colour: [0, 1, 0, 0.5],
    layers: [
      ['left', [0, 0, 0, 0], [0, 0, 0, 0]],
      ['group', [0, 0, 0, 0], [0, 1, 0, 0.5]],
    ],
  })
})
