import { describe, expect, it } from 'vitest'
import { contentOf, evenFill, newEffect, newMask, newTerm, wash } from '../sheet/new-layer'
import type { SheetNode } from '../sheet/sheet-schema'
import { testLayer, testSheet } from '../sheet/testing/sheets'
import { splitStack, typeOf } from './split-stack'

const size = { width: 100, height: 100 }
const letters = (id: string, rest: Partial<SheetNode> = {}) =>
  testLayer(id, { content: contentOf('type', { text: id, fontId: 'anton', box: [0, 0, 1, 1] }), ...rest })
const fill = (id: string, rest: Partial<SheetNode> = {}) =>
  testLayer(id, { content: evenFill('#ff0000'), ...rest })
const split = (...layers: SheetNode[]) =>
  splitStack(testSheet(size, layers), { pass: () => null }).map((part) =>
    part.kind === 'picture' ? part.ids.join('+') : part.nodeId,
  )

describe('a stack split for a file that knows letters', () => {
  it('keeps letters in front of the picture', () => {
    expect(split(fill('a'), letters('t'), letters('u'))).toEqual(['a', 't', 'u'])
  })
  it('puts pictures between letters that lie between them', () => {
    expect(split(fill('a'), letters('t'), fill('b'), fill('c'), letters('u'))).toEqual(['a', 't', 'b+c', 'u'])
  })
  it('makes pictures that have no letters behind them part of the back', () => {
    expect(split(fill('a'), fill('b'), letters('t'))).toEqual(['a+b', 't'])
  })
  it('makes letters pixels that something works on', () => {
    for (const rest of [
      { effects: [newEffect('e', 'inkBleed')] },
      { mode: 'multiply' as const },
      { mask: { ...newMask(), terms: [newTerm('standing')] } },
      { gate: { own: null, beneath: [0, 0, 1, 1] as [number, number, number, number] } },
    ])
      expect(split(fill('a'), letters('t', rest), letters('u'))).toEqual(['a+t', 'u'])
    expect(
      split(fill('a'), letters('t', { effects: [{ ...newEffect('e', 'inkBleed'), enabled: false }] })),
    ).toEqual(['a', 't'])
  })
  it('makes letters pixels that something in front of them sees', () => {
    expect(split(fill('a'), letters('t'), testLayer('w', { content: wash() }))).toEqual(['a+t+w'])
    expect(split(fill('a'), letters('t'), fill('m', { mode: 'multiply' }), letters('u'))).toEqual([
      'a+t+m',
      'u',
    ])
    expect(split(fill('a'), letters('t'), fill('c', { confine: true }))).toEqual(['a+t+c'])
    const beneath = { ...newMask(), terms: [newTerm('brightnessRange')] }
    expect(split(fill('a'), letters('t'), fill('b', { mask: beneath }))).toEqual(['a+t+b'])
  })
  it('leaves out what is not shown', () => {
    expect(split(fill('a'), letters('t', { visible: false }), letters('u', { opacity: 0 }))).toEqual(['a'])
    expect(
      typeOf(testSheet(size, [letters('t', { visible: false }), letters('u')])).map(({ id }) => id),
    ).toEqual(['u'])
  })
})
