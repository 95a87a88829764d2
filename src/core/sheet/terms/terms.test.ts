import { describe, expect, it } from 'vitest'
import { seededRandom } from '../../math/sampling'
import type { Tile } from '../../passes/tile'
import { ball, fromFront, renderPass, sceneModel } from '../../testing/shapes'
import { newMask, surfaceTerm } from '../new-layer'
import { runWindow, termRuns } from '../evaluate/mask-window'
import type { Mask } from '../sheet-schema'
import { testLayer, testResources, testSheet, composed } from '../testing/sheets'
import { evenFill } from '../new-layer'
import { terms, termUses, type MaskTerm } from './registry'

/** What holds for every term of a mask, whichever is added. */

const SIZE = { width: 150, height: 60 }
const random = seededRandom(4)
const grey = {
  width: 40,
  height: 16,
  pixels: Float32Array.from({ length: 4 * 640 }, (_, i) => (i % 4 === 3 ? 1 : random())),
}
const idPass = renderPass('id', [sceneModel(ball(1.2, 12), 'ball')], fromFront(3), SIZE).result
const resources = testResources({ grey }, { shotPass: () => idPass })
const [{ part, material }] = idPass.surfaces
const base = { version: 1, join: 'add', enabled: true, invert: false, featherPx: 0, strength: 1 } as const

/** One of each kind that there is. */
const EXAMPLES: readonly MaskTerm[] = [
  surfaceTerm('parts', [part]),
  surfaceTerm('materials', [material]),
  { ...base, kind: 'picture', pictureId: 'grey' },
]
it('every term is among those that are held to this', () => {
  expect(terms.kinds.map(({ kind }) => kind)).toEqual(EXAMPLES.map(({ kind }) => kind))
})

const plane = (term: MaskTerm, window: Tile = { x: 0, y: 0, ...SIZE }, view = SIZE): Float32Array => {
  const [run] = termRuns([term])
  const made = runWindow(run, { window, view, sheet: { ...SIZE, fit: 'extend' }, resources }, 'shot')
  if (!made) throw new Error(`${term.kind} has nothing to say`)
  return made
}
const mean = (values: Float32Array): number => values.reduce((sum, v) => sum + v, 0) / values.length
/** How much of the sheet a white layer shows through a mask. */
function shown(mask: Partial<Mask>, size = SIZE): number {
  const layer = testLayer('white', { content: evenFill('#ffffff'), mask: { ...newMask(), ...mask } })
  const sheet = testSheet(SIZE, [layer], { shotId: 'shot' })
  return mean(composed(sheet, resources, { size }).filter((_, i) => i % 4 === 3))
}

describe.each(EXAMPLES.map((term) => [term.kind, term] as const))('a term of %s', (_, term) => {
  it('is the same after it was stored, and knows the pictures it is made from', () => {
    expect(terms.read(JSON.parse(JSON.stringify(term)))).toEqual(term)
    for (const id of termUses(term)) expect(resources.picture(id)).not.toBeNull()
  })
  it('says something between nothing and all, the same however it is cut into windows', () => {
    const whole = plane(term)
    expect(whole.every((v) => v >= 0 && v <= 1)).toBe(true)
    expect(mean(whole)).toBeGreaterThan(0.05)
    expect(mean(whole)).toBeLessThan(0.95)
    const window = { x: 31, y: 7, width: 70, height: 40 }
    plane(term, window).forEach((v, i) => {
      const [x, y] = [window.x + (i % window.width), window.y + Math.floor(i / window.width)]
      expect(v).toBe(whole[y * SIZE.width + x])
    })
  })
  it('hides as much small as large', () => {
    const small = plane(term, { x: 0, y: 0, width: 75, height: 30 }, { width: 75, height: 30 })
    expect(Math.abs(mean(small) - mean(plane(term)))).toBeLessThan(0.01)
  })
  it('inverted shows what it hid; of no strength, or switched off, it changes nothing', () => {
    const own = shown({ terms: [term] })
    expect(own + shown({ terms: [{ ...term, invert: true } as MaskTerm] })).toBeCloseTo(1, 2)
    expect(own + shown({ terms: [term], invert: true })).toBeCloseTo(1, 2)
    expect(shown({ terms: [term, { ...term, join: 'subtract', strength: 0 } as MaskTerm] })).toBeCloseTo(
      own,
      3,
    )
    expect(shown({ terms: [term, { ...term, join: 'subtract', enabled: false } as MaskTerm] })).toBeCloseTo(
      own,
      6,
    )
    expect(shown({ terms: [term, { ...term, join: 'subtract' } as MaskTerm] })).toBeLessThan(own)
  })
  it('feathered keeps about what it shows', () => {
    expect(
      Math.abs(shown({ terms: [{ ...term, featherPx: 3 } as MaskTerm] }) - shown({ terms: [term] })),
    ).toBeLessThan(0.03)
  })
})
