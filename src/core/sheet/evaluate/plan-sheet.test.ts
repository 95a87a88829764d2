import { describe, expect, it } from 'vitest'
import { evenFill, groupOf, newMask, surfaceTerm, wash, wholePicture } from '../new-layer'
import type { SheetResources } from '../sheet-resources'
import type { Sheet, SheetEffect, SheetNode } from '../sheet-schema'
import { testLayer, testResources, testSheet } from '../testing/sheets'
import { effectProblem } from './effect-works'
import { isPassThrough, planSheet } from './plan-sheet'
import type { SheetView } from './sheet-plan'

const SIZE = { width: 64, height: 48 }
const effect: SheetEffect = {
  id: 'e',
  kind: 'levels',
  version: 1,
  enabled: true,
  opacity: 1,
  mask: null,
  params: { gamma: 1.2 },
}
const base = testLayer('base', { content: evenFill('#808080') })
const roofMask = { ...newMask(), terms: [surfaceTerm('parts', ['roof'])] }
const picture = testLayer('picture', {
  content: wholePicture('p'),
  mask: roofMask,
  effects: [effect],
})
const inner = testLayer('inner', { content: evenFill('#ff0000') })
const group = testLayer('group', { content: groupOf(['inner'], false) })
const own = testLayer('wash', { content: wash(), effects: [effect] })
const sheet = testSheet(SIZE, [base, picture, inner, group, own])
const resources = (rest: Partial<SheetResources> = {}) => testResources({}, rest)
const planOf = (s: Sheet, view: Partial<SheetView> = {}, r = resources()) =>
  planSheet(s, { size: SIZE, ...view }, r)
const keyOf = (s: Sheet, view: Partial<SheetView> = {}, r = resources()) => planOf(s, view, r).root.key
const edited = (id: string, patch: Partial<SheetNode>): Sheet => ({
  ...sheet,
  nodes: { ...sheet.nodes, [id]: { ...sheet.nodes[id], ...patch } },
})

describe('the key of a plan', () => {
  it.each<[string, () => string]>([
    ['an opacity', () => keyOf(edited('base', { opacity: 0.5 }))],
    ['a mode', () => keyOf(edited('picture', { mode: 'screen' }))],
    ['what is shown', () => keyOf(edited('picture', { visible: false }))],
    ['a content', () => keyOf(edited('base', { content: evenFill('#808081') }))],
    ['confinement', () => keyOf(edited('picture', { confine: true }))],
    ['a gate', () => keyOf(edited('picture', { gate: { own: [0, 0.1, 1, 1], beneath: null } }))],
    [
      'a mask’s terms',
      () => keyOf(edited('picture', { mask: { ...newMask(), terms: [surfaceTerm('parts', ['wall'])] } })),
    ],
    ['a mask’s edge', () => keyOf(edited('picture', { mask: { ...roofMask, featherPx: 2 } }))],
    [
      'an effect’s parameter',
      () => keyOf(edited('wash', { effects: [{ ...effect, params: { gamma: 1.3 } }] })),
    ],
    ['an effect’s opacity', () => keyOf(edited('wash', { effects: [{ ...effect, opacity: 0.5 }] }))],
    ['a group’s opacity', () => keyOf(edited('group', { opacity: 0.9 }))],
    ['a group’s isolation', () => keyOf(edited('group', { content: groupOf(['inner'], true) }))],
    ['a layer in a group', () => keyOf(edited('inner', { mode: 'multiply' }))],
    ['the order', () => keyOf({ ...sheet, roots: [...sheet.roots].reverse() })],
    ['the space', () => keyOf({ ...sheet, blendSpace: 'linear' })],
    ['the ground', () => keyOf({ ...sheet, background: '#123456' })],
    ['the fit', () => keyOf({ ...sheet, fit: 'crop' })],
    ['the size of the sheet', () => keyOf({ ...sheet, width: 128 })],
    ['the size of the view', () => keyOf(sheet, { size: { width: 32, height: 24 } })],
    ['the peel', () => keyOf(sheet, { upTo: 2 })],
    ['what is left out', () => keyOf(sheet, { without: new Set(['base']) })],
    ['a picture', () => keyOf(sheet, {}, resources({ revision: (id) => `${id} again` }))],
    ['the ID pass', () => keyOf(sheet, {}, resources({ shotRevision: () => 'again' }))],
  ])('changes with %s', (_, key) => {
    expect(key()).not.toBe(keyOf(sheet))
  })
  it.each<[string, Sheet]>([
    ['names', edited('base', { name: 'Ground' })],
    ['notes', edited('base', { note: 'Flat, to stand on' })],
    ['how a group is folded', edited('group', { content: { ...groupOf(['inner'], false), folded: true } })],
    ['effects that are switched off', edited('base', { effects: [{ ...effect, enabled: false }] })],
    ['effects that nobody knows', edited('base', { effects: [{ ...effect, kind: 'sparkle' }] })],
    [
      'terms that are switched off',
      edited('picture', {
        mask: {
          ...newMask(),
          terms: [surfaceTerm('parts', ['roof']), { ...surfaceTerm('parts', ['x']), enabled: false }],
        },
      }),
    ],
    ['gates that limit nothing', edited('base', { gate: { own: null, beneath: null } })],
    ['a copy that is equal', structuredClone(sheet)],
  ])('does not change with %s', (_, same) => {
    expect(keyOf(same)).toBe(keyOf(sheet))
  })
  it('of what lies beneath a change stands', () => {
    const before = planOf(sheet).root
    const after = planOf(edited('picture', { opacity: 0.4 })).root
    const at = before.steps.findIndex((step) => step.nodeId === 'picture')
    expect(after.prefixes.slice(0, at + 1)).toEqual(before.prefixes.slice(0, at + 1))
    expect(after.prefixes[at + 1]).not.toBe(before.prefixes[at + 1])
  })
  it('does not depend on the ID pass where nothing is made from it', () => {
    const plain = testSheet(SIZE, [base])
    expect(keyOf(plain, {}, resources({ shotRevision: () => 'again' }))).toBe(keyOf(plain))
  })
})

describe('steps', () => {
  const kinds = (s: Sheet) => planOf(s).root.steps.map(({ kind, nodeId }) => `${kind} ${nodeId}`)
  it('of a group that passes through stand among the others, and are mixed only where it is not whole', () => {
    expect(kinds(sheet)).toEqual(['layer base', 'layer picture', 'layer inner', 'wash wash'])
    expect(kinds(edited('group', { opacity: 0.5 }))).toEqual([
      'layer base',
      'layer picture',
      'begin group',
      'layer inner',
      'end group',
      'wash wash',
    ])
  })
  it('of a group with a mode or effects of its own are one layer, whatever it says of passing through', () => {
    expect(isPassThrough(group)).toBe(true)
    for (const patch of [{ mode: 'multiply' as const }, { effects: [effect] }, { confine: true }])
      expect(isPassThrough({ ...group, ...patch })).toBe(false)
    expect(isPassThrough({ ...group, effects: [{ ...effect, enabled: false }] })).toBe(true)
    expect(kinds(edited('group', { mode: 'multiply' }))).toContain('layer group')
  })
})

describe('an effect that cannot work', () => {
  it('says why', () => {
    expect(effectProblem(effect)).toBeNull()
    expect(effectProblem({ ...effect, kind: 'sparkle' })).toMatch(/does not know the effect "sparkle"/)
    expect(effectProblem({ ...effect, params: { gamma: -2 } })).toMatch(/levels\.gamma/)
    expect(effectProblem({ ...effect, version: 9 })).toMatch(/newer version/)
  })
})
