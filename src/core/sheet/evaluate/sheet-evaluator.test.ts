import { describe, expect, it } from 'vitest'
import { evenFill, gradientFill, groupOf, pressingOf, wash, wholePicture as pictureOf } from '../new-layer'
import type { Sheet, SheetNode } from '../sheet-schema'
import { PlainSheet } from '../testing/plain-sheet'
import { effect, pictureMask, randomSheet, resources, SIZE } from '../testing/random-sheet'
import { composed, testLayer, testSheet } from '../testing/sheets'
import { KeptTiles } from './kept-tiles'
import { wholePicture } from './picture-rows'
import { planSheet } from './plan-sheet'
import { SheetEvaluator } from './sheet-evaluator'

/** The greatest difference from the definition, premultiplied. */
function offBy(sheet: Sheet): number {
  const found = composed(sheet, resources)
  const expected = new PlainSheet(sheet, SIZE, resources).picture()
  let most = 0
  expected.forEach((pixel, p) =>
    pixel.forEach((v, c) => {
      const off = Math.abs(found[4 * p + c] - v)
      most = off > most || Number.isNaN(off) ? off : most
    }),
  )
  return most
}

/** Contents and masks are kept to 16 and 8 bits: so much may any of them be off. */
const KEPT = 2e-4
const MASKED = 3e-3

describe('a sheet', () => {
  const base = testLayer('base', { content: gradientFill('linear', ['#204060', '#e0c080']) })
  const over = testLayer('over', { content: pictureOf('b'), mode: 'multiply', opacity: 0.7 })

  it('is its layers one over the other', () => {
    expect(offBy(testSheet(SIZE, [base, over], { background: '#80808080' }))).toBeLessThan(KEPT)
  })
  it('is blended in linear light where it says so', () => {
    expect(offBy(testSheet(SIZE, [base, over], { blendSpace: 'linear' }))).toBeLessThan(2e-3)
  })
  it('weighs by masks, feathered and inverted', () => {
    const masked = testLayer('m', { content: pictureOf('a'), mask: pictureMask('soft') })
    expect(offBy(testSheet(SIZE, [base, masked]))).toBeLessThan(MASKED)
    const soft = { ...masked, mask: pictureMask('soft', { featherPx: 3, invert: true }) }
    expect(offBy(testSheet(SIZE, [base, soft]))).toBeLessThan(6e-3)
  })
  it('confines to what lies beneath, past what is confined itself and past washes', () => {
    const shape = testLayer('shape', { content: pictureOf('b'), opacity: 0.8, mask: pictureMask('soft') })
    const first = testLayer('first', { content: evenFill('#ff0000'), confine: true })
    const between = testLayer('wash', { content: wash(), effects: [effect('levels', { gamma: 2 })] })
    const second = testLayer('second', { content: pictureOf('a'), confine: true, mode: 'screen' })
    expect(offBy(testSheet(SIZE, [base, shape, first, between, second]))).toBeLessThan(MASKED)
    const hidden = { ...shape, visible: false }
    const without = testSheet(SIZE, [base])
    expect(composed(testSheet(SIZE, [base, hidden, first]), resources)).toEqual(composed(without, resources))
    expect(composed(testSheet(SIZE, [first]), resources).every((v) => v === 0)).toBe(true)
  })
  it('opens and closes gates by its own tone and by that beneath', () => {
    const gated = (gate: SheetNode['gate']) =>
      testLayer('g', { content: pictureOf('a'), mode: 'overlay', gate })
    for (const gate of [
      { own: [0.2, 0.4, 0.6, 0.8] as const, beneath: null },
      { own: null, beneath: [0, 0.1, 0.4, 0.9] as const },
      { own: [0, 0, 0.5, 1] as const, beneath: [0.3, 0.6, 1, 1] as const },
    ])
      for (const blendSpace of ['display', 'linear'] as const)
        expect(
          offBy(testSheet(SIZE, [base, gated(gate as unknown as SheetNode['gate'])], { blendSpace })),
        ).toBeLessThan(4e-3)
  })
  it('takes what it does not know, and what has bad parameters, out and shows the rest', () => {
    const odd = testLayer('odd', { content: pictureOf('a') })
    const unknown = { ...odd, content: { kind: 'hologram', depth: 3 } }
    const wrong = { ...base, effects: [effect('levels', { gamma: -4 }), effect('sparkle', {})] }
    const sheet = testSheet(SIZE, [wrong, over, unknown as unknown as SheetNode])
    expect(sheet.nodes.odd.content).toMatchObject({ kind: 'unreadable', was: { kind: 'hologram', depth: 3 } })
    expect(composed(sheet, resources)).toEqual(composed(testSheet(SIZE, [base, over]), resources))
  })
})

describe('a group', () => {
  const base = testLayer('base', {
    content: gradientFill('radial', ['#fff0d0', '#203040'], [0.5, 0.5], [1, 1]),
  })
  const inner = [
    testLayer('i1', { content: pictureOf('b'), mode: 'multiply' }),
    testLayer('i2', { content: evenFill('#4080c060'), mode: 'color-dodge' }),
  ]
  const group = (rest: Partial<SheetNode> = {}, isolated = true) =>
    testLayer('group', { content: groupOf(['i1', 'i2'], isolated), ...rest })

  it('is composed alone and then blended', () => {
    const own = group({ mode: 'screen', opacity: 0.6, mask: pictureMask('soft') })
    expect(offBy(testSheet(SIZE, [base, ...inner, own]))).toBeLessThan(MASKED)
  })
  it('passes through: its layers meet what lies beneath, and it takes back to that', () => {
    expect(composed(testSheet(SIZE, [base, ...inner, group({}, false)]), resources)).toEqual(
      composed(testSheet(SIZE, [base, ...inner]), resources),
    )
    const own = group({ opacity: 0.5, mask: pictureMask('soft') }, false)
    expect(offBy(testSheet(SIZE, [base, ...inner, own]))).toBeLessThan(MASKED)
    const gated = group({ gate: { own: [0, 0.5, 1, 1], beneath: [0, 0, 0.3, 0.8] } }, false)
    expect(offBy(testSheet(SIZE, [base, ...inner, gated]))).toBeLessThan(5e-3)
  })
  it('with effects of its own is composed alone', () => {
    const own = group({ effects: [effect('tint', { dark: '#301020', light: '#ffe0c0' })] }, false)
    expect(offBy(testSheet(SIZE, [base, ...inner, own]))).toBeLessThan(MASKED)
  })
  it('lies in groups', () => {
    const outer = testLayer('outer', { content: groupOf(['group', 'top'], false), opacity: 0.8 })
    const top = testLayer('top', { content: wash(), effects: [effect('levels', { black: 0.2 })] })
    expect(offBy(testSheet(SIZE, [base, ...inner, group({ mode: 'luminosity' }), top, outer]))).toBeLessThan(
      MASKED,
    )
  })
})

describe('effects', () => {
  const picture = testLayer('p', { content: pictureOf('b') })
  it('work one after the other, as far as their opacity and mask say', () => {
    const effects = [
      effect('levels', { black: 0.1, gamma: 0.7 }),
      effect('levels', { low: 1, high: 0 }),
      effect('tint', { amount: 0.5 }, { mask: pictureMask('soft') }),
      effect('levels', { white: 0.6 }, { opacity: 0.4 }),
    ]
    expect(offBy(testSheet(SIZE, [{ ...picture, effects }]))).toBeLessThan(MASKED)
  })
  it.each([1, 3.9, 9, 30])('blur by σ %d, alpha with the colours, the border repeated', (sigma) => {
    const blurred = { ...picture, effects: [effect('gaussianBlur', { sigma })] }
    expect(offBy(testSheet(SIZE, [blurred]))).toBeLessThan(4e-3)
  })
  it('of a wash work on what lies beneath it in its group and leave its alpha', () => {
    const base = testLayer('base', { content: pictureOf('b') })
    const own = testLayer('w', {
      content: wash(),
      mode: 'soft-light',
      opacity: 0.9,
      mask: pictureMask('soft'),
      effects: [effect('levels', { gamma: 2 })],
    })
    for (const blendSpace of ['display', 'linear'] as const)
      expect(offBy(testSheet(SIZE, [base, own], { blendSpace }))).toBeLessThan(5e-3)
    const blurring = { ...own, effects: [effect('gaussianBlur', { sigma: 12 })] }
    expect(offBy(testSheet(SIZE, [base, blurring]))).toBeLessThan(6e-3)
  })
})

/** Whether two pictures are the same to the bit. */
const isSame = (a: Float32Array, b: Float32Array): boolean => a.every((v, i) => Object.is(v, b[i]))

describe('a live pressing', () => {
  const base = testLayer('base', { content: pictureOf('b') })
  const over = testLayer('over', { content: pictureOf('a'), mode: 'screen', opacity: 0.6 })
  it('of what lies beneath is that picture again', () => {
    const live = testLayer('live', { content: pressingOf(null) })
    const alone = composed(testSheet(SIZE, [base, over]), resources)
    // Over what it is made of, with its own alpha: opaque pixels stay.
    const found = composed(testSheet(SIZE, [base, over, live]), resources)
    for (let p = 0; p < alone.length; p += 4)
      if (alone[p + 3] === 1) expect(Math.abs(found[p] - alone[p])).toBeLessThan(KEPT)
    const multiplied = { ...live, mode: 'multiply' as const }
    expect(isSame(composed(testSheet(SIZE, [base, over, multiplied]), resources), alone)).toBe(false)
  })
  it('of a layer shows what that shows, and follows it', () => {
    const live = testLayer('live', { content: pressingOf('over') })
    const hidden = { ...over, visible: false }
    const plain = { ...over, mode: 'normal' as const, opacity: 1 }
    const same = (a: Sheet, b: Sheet) => isSame(composed(a, resources), composed(b, resources))
    expect(same(testSheet(SIZE, [base, hidden, live]), testSheet(SIZE, [base, plain]))).toBe(true)
    const effects = [effect('levels', { gamma: 2 })]
    expect(
      same(
        testSheet(SIZE, [base, { ...hidden, effects }, live]),
        testSheet(SIZE, [base, { ...plain, effects }]),
      ),
    ).toBe(true)
  })
  it('of what is gone, or of itself, shows nothing', () => {
    const without = composed(testSheet(SIZE, [base]), resources)
    const shows = (...layers: SheetNode[]) => composed(testSheet(SIZE, [base, ...layers]), resources)
    const live = (id: string, of: string) => testLayer(id, { content: pressingOf(of) })
    expect(isSame(shows(live('live', 'ghost')), without)).toBe(true)
    const group = testLayer('group', { content: groupOf(['inner']) })
    expect(isSame(shows(live('inner', 'group'), group), without)).toBe(true)
    expect(isSame(shows(live('self', 'self')), without)).toBe(true)
  })
})

describe('a picture that is larger than what may be kept', () => {
  it('is made row by row with the same bits', () => {
    for (let seed = 40; seed < 43; seed++) {
      const sheet = randomSheet(seed)
      const bytes = (keptBytes?: number) => {
        const evaluator = new SheetEvaluator(new KeptTiles(), resources)
        evaluator.begin(planSheet(sheet, { size: SIZE }, resources))
        const made = wholePicture(evaluator, SIZE, 'bytes', undefined, keptBytes)
        return { made, used: evaluator.tiles.usedBytes }
      }
      const [all, little] = [bytes(), bytes(0)]
      expect(Buffer.from(little.made).equals(Buffer.from(all.made))).toBe(true)
      expect(little.used).toBeLessThan(all.used)
    }
  })
})

describe('tiles of random trees', () => {
  it('are the same bits in any order, kept or not, beside what changed', () => {
    for (let seed = 1; seed <= 6; seed++) {
      const sheet = randomSheet(seed)
      const alone = composed(sheet, resources)
      expect(alone.every(Number.isFinite)).toBe(true)
      // Backwards, one tile at a time, nothing kept from one to the next.
      const size = { ...SIZE }
      const single = (tx: number, ty: number): Float32Array => {
        const evaluator = new SheetEvaluator(new KeptTiles(), resources)
        evaluator.begin(planSheet(sheet, { size }, resources))
        return evaluator.tile(tx, ty, (at) => evaluator.tiles.floats(at, 4).slice())
      }
      for (const [tx, ty] of [
        [1, 1],
        [0, 1],
        [1, 0],
        [0, 0],
      ]) {
        const first = single(tx, ty)
        const at = 4 * (ty * 128 * SIZE.width + tx * 128)
        // Blocks begin with the reds of four pixels.
        expect(first[0]).toBe(alone[at])
      }
      // One layer after the other changes; what is kept serves where it may.
      const evaluator = new SheetEvaluator(new KeptTiles(), resources)
      composed(sheet, resources, {}, evaluator)
      for (const id of Object.keys(sheet.nodes)) {
        for (const opacity of [0.3, 0.6]) {
          const edited: Sheet = {
            ...sheet,
            nodes: { ...sheet.nodes, [id]: { ...sheet.nodes[id], opacity } },
          }
          expect(isSame(composed(edited, resources, {}, evaluator), composed(edited, resources))).toBe(true)
        }
      }
    }
  })
  it('are what the definition says', () => {
    // Steps of modes and gates make much of a last bit: the mean tells, and few pixels are far off.
    for (let seed = 20; seed < 32; seed++) {
      const sheet = randomSheet(seed)
      const found = composed(sheet, resources)
      const expected = new PlainSheet(sheet, SIZE, resources).picture().flat()
      const off = expected.map((v, i) => Math.abs(v - found[i]))
      expect(off.reduce((a, b) => a + b, 0) / off.length).toBeLessThan(1.5e-3)
      expect(off.filter((v) => v > 0.05).length).toBeLessThan(0.01 * off.length)
    }
  })
})
