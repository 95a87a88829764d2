import fc from 'fast-check'
import { beforeEach, describe, expect, it } from 'vitest'
import { evenFill, groupOf } from './new-layer'
import type { Sheet, SheetNode } from './sheet-schema'
import {
  childrenOf,
  copyNodes,
  groupsOf,
  insertCopies,
  insertNode,
  layersOf,
  moveNode,
  placeOf,
  removeNode,
  validateTree,
  walkSheet,
  withinLayer,
} from './sheet-tree'
import { testLayer, testSheet } from './testing/sheets'

const SIZE = { width: 64, height: 64 }
const fill = (id: string): SheetNode => testLayer(id, { content: evenFill('#ffffff') })
const group = (id: string, children: string[]): SheetNode => testLayer(id, { content: groupOf(children) })
/** a, outer (b, inner (c), d), e */
let sheet: Sheet
beforeEach(() => {
  sheet = testSheet(SIZE, [
    fill('a'),
    group('outer', ['b', 'inner', 'd']),
    fill('e'),
    fill('b'),
    group('inner', ['c']),
    fill('c'),
    fill('d'),
  ])
})
const order = () => layersOf(sheet).map(({ id }) => id)

describe('a tree of layers', () => {
  it('is walked back first, each group before what lies in it', () => {
    expect(order()).toEqual(['a', 'outer', 'b', 'inner', 'c', 'd', 'e'])
    expect(walkSheet(sheet).map(({ depth }) => depth)).toEqual([0, 0, 1, 1, 2, 1, 0])
    expect(withinLayer(sheet, 'outer')).toEqual(['outer', 'b', 'inner', 'c', 'd'])
    expect(groupsOf(sheet, 'c')).toEqual(['inner', 'outer'])
  })
  it('tells where a layer lies', () => {
    expect(placeOf(sheet, 'e')).toEqual({ parent: null, index: 2 })
    expect(placeOf(sheet, 'd')).toEqual({ parent: 'outer', index: 2 })
    expect(placeOf(sheet, 'nobody')).toBeNull()
    expect(() => childrenOf(sheet, 'a')).toThrow(/must be a group/)
  })
  it('moves a layer with all that lies in it, counted without it, and never into itself', () => {
    expect(moveNode(sheet, 'inner', { parent: null, index: 1 })).toBe(true)
    expect(order()).toEqual(['a', 'inner', 'c', 'outer', 'b', 'd', 'e'])
    expect(moveNode(sheet, 'a', { parent: null, index: 1 })).toBe(true)
    expect(order()).toEqual(['inner', 'c', 'a', 'outer', 'b', 'd', 'e'])
    expect(moveNode(sheet, 'outer', { parent: 'outer', index: 0 })).toBe(false)
    expect(moveNode(sheet, 'a', { parent: null, index: 1 })).toBe(false)
    expect(validateTree(sheet)).toEqual([])
  })
  it('loses with a group what lies in it', () => {
    removeNode(sheet, 'outer')
    expect(order()).toEqual(['a', 'e'])
    expect(Object.keys(sheet.nodes).sort()).toEqual(['a', 'e'])
  })
  it('copies a group with names of its own', () => {
    let n = 0
    const copies = copyNodes(sheet, 'outer', () => `n${n++}`)
    insertCopies(sheet, copies, { parent: null, index: 3 })
    expect(validateTree(sheet)).toEqual([])
    expect(order()).toHaveLength(12)
    expect(withinLayer(sheet, copies[0].id)).toEqual(['n0', 'n1', 'n2', 'n3', 'n4'])
  })
  it('takes no layer twice', () => {
    expect(() => insertNode(sheet, fill('a'), { parent: null, index: 0 })).toThrow(/twice/)
  })
  it('stays sound whatever is moved where', () => {
    const ids = ['a', 'outer', 'b', 'inner', 'c', 'd', 'e']
    const move = fc.record({
      id: fc.constantFrom(...ids),
      parent: fc.constantFrom(null, 'outer', 'inner'),
      index: fc.integer({ min: -2, max: 9 }),
    })
    fc.assert(
      fc.property(fc.array(move, { maxLength: 30 }), (moves) => {
        const own = structuredClone(sheet)
        for (const { id, parent, index } of moves) moveNode(own, id, { parent, index })
        expect(validateTree(own)).toEqual([])
        expect(
          layersOf(own)
            .map(({ id }) => id)
            .sort(),
        ).toEqual([...ids].sort())
      }),
      { seed: 5 },
    )
  })
})

describe('a tree that is none', () => {
  it.each<[string, (broken: Sheet) => void, RegExp]>([
    ['names what is not there', (s) => void s.roots.push('ghost'), /"ghost" is named/],
    ['has a layer in two places', (s) => void s.roots.push('b'), /lies in two places/],
    ['has a layer that lies nowhere', (s) => void s.roots.shift(), /layer a lies nowhere/],
    ['has a group in itself', (s) => void childrenOf(s, 'inner').push('outer'), /lies in itself/],
    [
      'knows a layer by another name',
      (s) => {
        s.nodes.a = { ...s.nodes.a, id: 'z' }
      },
      /under another name/,
    ],
  ])('%s', (_, breakIt, words) => {
    breakIt(sheet)
    expect(validateTree(sheet).join('; ')).toMatch(words)
  })
  it('is not deceived by names of its own making', () => {
    sheet.roots.push('constructor')
    expect(validateTree(sheet)).toHaveLength(1)
  })
})
