import { describe, expect, it } from 'vitest'
import type { PassKindName } from '../passes/registry'
import { evenFill, passOf } from '../sheet/new-layer'
import { testLayer, testSheet } from '../sheet/testing/sheets'
import { frameSheet } from './frame-sheet'
import { READY_REVEALS, readyReveals } from './ready-reveals'
import { revealedShare } from './reveal'
import { frameCount, newTurn, revealSchema, STEADY } from './turn-schema'

const kinds: Record<string, PassKindName> = { clay: 'clay', wires: 'wireframe', contour: 'contour' }
const sheet = testSheet({ width: 90, height: 60 }, [
  testLayer('ground', { content: evenFill('#ffffff') }),
  testLayer('clay', { content: passOf('clay', {}) }),
  testLayer('hidden', { content: evenFill('#00ff00'), visible: false }),
  testLayer('contour', { content: passOf('contour', {}) }),
  testLayer('wires', { content: passOf('wires', {}) }),
])
let made = 0
const ready = (name: (typeof READY_REVEALS)[number], motion = STEADY) =>
  readyReveals(
    name,
    sheet,
    motion,
    (id) => kinds[id] ?? null,
    () => `r${++made}`,
  )

describe('reveals made in one press', () => {
  it('can be stored, and are gone when the turntable begins again', () => {
    for (const name of READY_REVEALS)
      for (const motion of [
        STEADY,
        { ...STEADY, turns: 1, framesPerTurn: 7 },
        { ...STEADY, turns: 5, framesPerTurn: 2 },
      ]) {
        const reveals = ready(name, motion)
        expect(reveals.length).toBeGreaterThan(0)
        expect(new Set(reveals.map(({ id }) => id)).size).toBe(reveals.length)
        for (const own of reveals) {
          expect(revealSchema.parse(own)).toEqual(own)
          expect(revealedShare(own, frameCount(motion))).toBe(0)
        }
      }
  })
  it('have the wires whole by the end of the first turn, and through the second', () => {
    const [own] = ready('wires')
    expect(own.layerId).toBe('wires')
    expect(own.kind).toBe('sweep')
    expect([80, 144, 200, 269].map((frame) => revealedShare(own, frame))).toEqual([0, 1, 1, 1])
    expect(revealedShare(own, 120)).toBeGreaterThan(0)
    expect(revealedShare(own, 120)).toBeLessThan(1)
  })
  it('peel the stack from the back, one layer after the other, none of those that are hidden', () => {
    const reveals = ready('peel')
    expect(reveals.map(({ layerId }) => layerId)).toEqual(['clay', 'contour', 'wires'])
    reveals.forEach((own, i) => {
      if (i > 0) expect(own.from).toBeGreaterThanOrEqual(reveals[i - 1].whole)
    })
    const turn = { ...newTurn('t', 't', 'sheet'), reveals }
    const seen = (frame: number) =>
      Object.values(frameSheet(sheet, turn, frame).nodes)
        .filter(({ visible }) => visible)
        .map(({ id }) => id)
    expect(seen(0)).toEqual(['ground'])
    expect(seen(reveals[0].whole)).toEqual(['ground', 'clay'])
    expect(seen(frameCount(STEADY) - 20)).toEqual(['ground', 'clay', 'contour', 'wires'])
  })
  it('let the contour draw itself', () => {
    const [own] = ready('drawn')
    expect([own.layerId, own.kind, own.from, own.whole]).toEqual(['contour', 'drawn', 0, 72])
  })
  it('are none where there is nothing for them', () => {
    const bare = testSheet({ width: 90, height: 60 }, [testLayer('ground', { content: evenFill('#ffffff') })])
    for (const name of READY_REVEALS)
      expect(
        readyReveals(
          name,
          bare,
          STEADY,
          () => null,
          () => 'r',
        ),
      ).toEqual([])
  })
})
