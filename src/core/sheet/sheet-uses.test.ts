import { expect, it } from 'vitest'
import {
  contentOf,
  evenFill,
  newEffect,
  newMask,
  newTerm,
  passOf,
  surfaceTerm,
  wholePicture,
} from './new-layer'
import { resizeSheet } from './resize-sheet'
import { planSheet } from './evaluate/plan-sheet'
import { sheetUses } from './sheet-uses'
import { effect } from './testing/random-sheet'
import { testLayer, testResources, testSheet } from './testing/sheets'

const SIZE = { width: 200, height: 100 }

it('finds what contents, terms, effects and effects of masks are made from', () => {
  const blur = { ...newEffect('b', 'depthBlur'), params: { map: 'own-depth' } }
  const graded = effect('gradingTable', { table: 'file.cube' })
  const layers = [
    testLayer('a', { content: passOf('clay', {}), effects: [newEffect('h', 'depthHaze'), blur] }),
    testLayer('b', {
      content: wholePicture('wall'),
      mask: {
        ...newMask(),
        terms: [
          surfaceTerm('roles', ['ground']),
          newTerm('facingRange'),
          newTerm('picture', { pictureId: 'grey' }),
        ],
        effects: [graded],
      },
    }),
    testLayer('c', { content: evenFill('#ffffff'), effects: [newEffect('e', 'engraving')] }),
  ]
  const { ids, kinds } = sheetUses(testSheet(SIZE, layers))
  // Tables of our own are no files.
  expect([...ids].sort()).toEqual(['clay', 'file.cube', 'grey', 'own-depth', 'wall'])
  expect([...kinds].sort()).toEqual(['depth', 'facing', 'id', 'normal'])
})
it('of another size keeps every length in its place, within what it may be', () => {
  const mask = {
    ...newMask(),
    featherPx: 3,
    terms: [newTerm('clouds', { size: 50, growPx: -4, featherPx: 2 })],
    effects: [effect('gaussianBlur', { sigma: 5 })],
  }
  const sheet = testSheet(SIZE, [
    testLayer('t', {
      content: contentOf('texture', { size: 300 }),
      mask,
      effects: [
        effect('growShrink', { radius: 40 }, { mask }),
        effect('halftone', { size: 8, angleDeg: 45 }),
      ],
    }),
  ])
  resizeSheet(sheet, { width: 400, height: 200 })
  const [own] = Object.values(sheet.nodes)
  expect(own.content).toMatchObject({ kind: 'texture', size: 600 })
  const resized = {
    featherPx: 6,
    terms: [{ kind: 'clouds', size: 100, growPx: -8, featherPx: 4 }],
    effects: [{ params: { sigma: 10 } }],
  }
  expect(own.mask).toMatchObject(resized)
  expect(own.effects[0].mask).toMatchObject(resized)
  expect(own.effects[0].params).toMatchObject({ radius: 60 })
  expect(own.effects[1].params).toMatchObject({ size: 16, angleDeg: 45 })
})
it('a draft has names of its own for what takes long, and for nothing else', () => {
  const keyOf = (kind: string, isDraft: boolean) =>
    planSheet(
      testSheet(SIZE, [testLayer('a', { content: evenFill('#808080'), effects: [newEffect('e', kind)] })]),
      { size: SIZE, isDraft },
      testResources(),
    ).root.key
  for (const kind of ['halftone', 'painterlySmoothing', 'depthBlur'])
    expect(keyOf(kind, true)).not.toBe(keyOf(kind, false))
  for (const kind of ['levels', 'gaussianBlur', 'grain']) expect(keyOf(kind, true)).toBe(keyOf(kind, false))
})
