import { describe, expect, it } from 'vitest'
import { effectKind } from '../effects/registry'
import { parseParams } from '../params'
import { evenFill, newEffect, passOf } from '../sheet/new-layer'
import type { Sheet } from '../sheet/sheet-schema'
import { testLayer, testSheet } from '../sheet/testing/sheets'
import { frameSheet } from './frame-sheet'
import { patternOf, withBoilingLines, withMovingGrain } from './moving-grain'
import { newTurn } from './turn-schema'

const film = testLayer('film', {
  content: evenFill('#808080'),
  effects: [newEffect('g', 'grain'), newEffect('t', 'tint'), newEffect('h', 'hatching')],
})
const plain = testLayer('plain', { content: evenFill('#808080') })
const sheet = testSheet({ width: 20, height: 20 }, [film, plain])
const seedAt = (frame: number, every: number) =>
  withMovingGrain(sheet, frame, every).nodes.film.effects[0].params.seed

it('changes every few frames, and stands where it is to stand', () => {
  expect([0, 1, 2, 3, 4].map((frame) => patternOf(frame, 2))).toEqual([0, 0, 1, 1, 2])
  expect(seedAt(2, 2)).toBe(seedAt(3, 2))
  expect(seedAt(2, 2)).not.toBe(seedAt(4, 2))
  expect(withMovingGrain(sheet, 77, 0)).toBe(sheet)
  expect(withMovingGrain(sheet, 1, 2)).toBe(sheet)
})
it('moves grain alone: what is drawn stays', () => {
  const now = withMovingGrain(sheet, 6, 2).nodes
  expect(now.plain).toBe(sheet.nodes.plain)
  expect(now.film.effects.slice(1)).toEqual(film.effects.slice(1))
})
it('has a pattern of its own in every frame of a long film, all that the effect takes', () => {
  const seeds = new Set<unknown>()
  for (let frame = 0; frame < 5000; frame++) {
    const { params } = withMovingGrain(sheet, frame, 1).nodes.film.effects[0]
    seeds.add(params.seed)
    if (frame % 500 === 0)
      expect(() => parseParams(effectKind('grain').schema, params, 'grain')).not.toThrow()
  }
  expect(seeds.size).toBe(5000)
})
it('is that of the first frame again where the turntable closes', () => {
  const turn = { ...newTurn('t', 'T', 's', { turns: 1, framesPerTurn: 12 }), grainEvery: 1 }
  const seed = (frame: number) => frameSheet(sheet, turn, frame).nodes.film.effects[0].params.seed
  expect(seed(0)).toBe(film.effects[0].params.seed)
  expect(seed(5)).not.toBe(seed(0))
  expect(seed(12)).toBe(seed(0))
})

describe('lines that are drawn anew', () => {
  const lines = (look: Record<string, number>) =>
    testSheet({ width: 40, height: 40 }, [testLayer('ink', { content: passOf('contour', look) })])
  const handOf = (sheet: Sheet) =>
    sheet.nodes.ink.content.kind === 'pass' ? sheet.nodes.ink.content.look.variation : null
  it('hold for so many frames, and are others then', () => {
    const sheet = lines({ wobble: 2, variation: 7 })
    const hands = Array.from({ length: 9 }, (_, frame) => handOf(withBoilingLines(sheet, frame, 3)))
    expect(hands.slice(0, 3)).toEqual([7, 7, 7])
    expect(new Set(hands).size).toBe(3)
    expect(hands[3]).toBe(hands[5])
  })
  it('are the very same where nothing of a hand is seen in them, or they are to hold', () => {
    const plain = lines({ wobble: 0, dry: 0 })
    expect(withBoilingLines(plain, 12, 3)).toBe(plain)
    const wobbly = lines({ wobble: 2 })
    expect(withBoilingLines(wobbly, 12, 0)).toBe(wobbly)
  })
})
