import { describe, expect, it } from 'vitest'
import { farthestOff } from '@/core/testing/farthest-off'
import { ball, fromFront, renderPass, sceneModel } from '../../testing/shapes'
import { surfaceCoverage } from '../../passes/pass-result'
import { contentOf, evenFill, gradientFill, newMask, newTerm, passOf } from '../new-layer'
import type { Sheet } from '../sheet-schema'
import { composed, testLayer, testResources, testSheet } from '../testing/sheets'
import { randomSheet, resources as own } from '../testing/random-sheet'
import { KeptTiles } from './kept-tiles'
import { planSheet } from './plan-sheet'
import { SheetEvaluator } from './sheet-evaluator'

/** A page that shows a sheet. */
function pageOf(
  inner: Sheet,
  size: { width: number; height: number },
  frame: Readonly<Record<string, unknown>> = {},
  rest: Partial<Sheet> = {},
): Sheet {
  const content = contentOf('sheet', { sheetId: inner.id, box: [0, 0, 1, 1], ...frame })
  return testSheet(size, [testLayer('frame', { content })], { shown: { [inner.id]: inner }, ...rest })
}
const resources = testResources()
const gradient = testSheet(
  { width: 300, height: 200 },
  [testLayer('a', { content: gradientFill('linear', ['#ff2000', '#0040ff'], [0, 0], [1, 1]) })],
  { id: 'inner' },
)

describe('a sheet that another shows', () => {
  it('as large as it is, is its own picture', () => {
    const page = composed(pageOf(gradient, { width: 300, height: 200 }), resources)
    const own = composed(gradient, resources)
    expect(farthestOff(page, own)).toBeLessThan(3e-5)
  })
  it('is painted as large as it lies there, not enlarged', () => {
    const page = composed(pageOf(gradient, { width: 600, height: 400 }), resources)
    const own = composed(gradient, resources, { size: { width: 600, height: 400 } })
    expect(farthestOff(page, own)).toBeLessThan(3e-5)
  })
  it('covers its frame in its own shape, the middle of it in the middle', () => {
    const page = pageOf(gradient, { width: 200, height: 200 })
    const pixels = composed(page, resources)
    const inner = composed(gradient, resources, { size: { width: 300, height: 200 } })
    for (const [x, y] of [
      [0, 0],
      [199, 199],
      [77, 140],
    ])
      for (let c = 0; c < 4; c++)
        expect(pixels[4 * (y * 200 + x) + c]).toBeCloseTo(inner[4 * (y * 300 + x + 50) + c], 4)
  })
  it('is nothing beside its frame', () => {
    const pixels = composed(
      pageOf(gradient, { width: 300, height: 300 }, { box: [0.2, 0.3, 0.5, 0.4] }),
      resources,
    )
    const alpha = (x: number, y: number) => pixels[4 * (y * 300 + x) + 3]
    expect([alpha(30, 150), alpha(150, 60), alpha(150, 250)]).toEqual([0, 0, 0])
    expect(alpha(150, 150)).toBeCloseTo(1, 3)
  })
  it('ends with rounded corners, or an edge that is eaten into, where that was asked for', () => {
    const rounded = composed(
      pageOf(gradient, { width: 300, height: 200 }, { edge: 'rounded', edgeSize: 60 }),
      resources,
    )
    const torn = composed(
      pageOf(gradient, { width: 300, height: 200 }, { edge: 'torn', edgeSize: 30, seed: 4 }),
      resources,
    )
    const alphas = (pixels: Float32Array) =>
      Array.from({ length: 300 }, (_, x) => pixels[4 * (100 * 300 + x) + 3])
    expect(rounded[3]).toBe(0)
    expect(rounded[4 * (100 * 300) + 3]).toBeCloseTo(1, 3)
    const rows = Array.from({ length: 200 }, (_, y) =>
      Array.from({ length: 300 }, (_, x) => torn[4 * (y * 300 + x) + 3]),
    )
    const begins = rows.map((row) => row.findIndex((a) => a > 0.5))
    expect(new Set(begins.slice(40, 160)).size).toBeGreaterThan(4)
    expect(Math.max(...begins.slice(40, 160))).toBeLessThan(40)
    expect(alphas(torn)[150]).toBeCloseTo(1, 3)
  })
  it('has a rule within it', () => {
    const page = pageOf(
      gradient,
      { width: 300, height: 200 },
      { rule: 4, ruleInset: 20, ruleColour: '#00ff00' },
    )
    const pixels = composed(page, resources)
    const at = (x: number, y: number) => [...pixels.subarray(4 * (y * 300 + x), 4 * (y * 300 + x) + 3)]
    expect(at(22, 100)).toEqual([expect.closeTo(0, 3), expect.closeTo(1, 3), expect.closeTo(0, 3)])
    expect(at(30, 100)[1]).toBeLessThan(0.5)
  })
  it('shows at once what was changed in it', () => {
    const evaluator = new SheetEvaluator(new KeptTiles(), resources)
    const before = composed(pageOf(gradient, { width: 150, height: 100 }), resources, {}, evaluator)
    const other = { ...gradient, nodes: { a: { ...gradient.nodes.a, content: evenFill('#00ff00') } } }
    const after = composed(pageOf(other, { width: 150, height: 100 }), resources, {}, evaluator)
    expect([...after.subarray(0, 4)]).toEqual([0, 1, 0, 1])
    expect(before[1]).not.toBe(after[1])
    // And goes back to what is kept.
    expect(composed(pageOf(gradient, { width: 150, height: 100 }), resources, {}, evaluator)).toEqual(before)
  })
  it('of any kind is the same tile by tile, whatever is painted before', () => {
    for (let seed = 1; seed < 6; seed++) {
      const inner = { ...randomSheet(seed), id: 'inner' }
      const page = pageOf(inner, { width: 180, height: 150 }, { box: [0.1, 0.05, 0.83, 0.9], zoom: 1.3 })
      const whole = composed(page, own)
      const evaluator = new SheetEvaluator(new KeptTiles(), own)
      evaluator.begin(planSheet(page, { size: { width: 180, height: 150 } }, own))
      // From the last to the first.
      const again = new Float32Array(whole.length)
      for (const ty of [1, 0])
        for (const tx of [1, 0]) {
          const { width, height } = evaluator.sizeOf(tx, ty)
          evaluator.tile(tx, ty, (at) => {
            const blocks = evaluator.tiles.floats(at, 4 * 128 * 128)
            for (let y = 0; y < height; y++)
              for (let x = 0; x < width; x++)
                for (let c = 0; c < 4; c++) {
                  const p = y * 128 + x
                  again[4 * ((ty * 128 + y) * 180 + tx * 128 + x) + c] =
                    blocks[16 * (p >> 2) + 4 * c + (p & 3)]
                }
          })
        }
      expect(again).toEqual(whole)
    }
  })
  it('is nothing where it is gone', () => {
    const page = { ...pageOf(gradient, { width: 60, height: 40 }), shown: {} }
    expect(composed(page, resources).every((v) => v === 0)).toBe(true)
  })
})

describe('masks of a page', () => {
  const SIZE = { width: 60, height: 40 }
  const [idPass, depthPass] = (['id', 'depth'] as const).map(
    (kind) => renderPass(kind, [sceneModel(ball(0.9, 20), 'ball')], fromFront(4), SIZE).result,
  )
  const own = testResources(
    {},
    {
      pass: (id) => (id === 'id' ? idPass : null),
      shotPass: (_, kind) => (kind === 'id' ? idPass : kind === 'depth' ? depthPass : null),
    },
  )
  const inner = testSheet(SIZE, [testLayer('id', { content: passOf('id', {}) })], {
    id: 'inner',
    shotId: 'shot',
  })
  const lies = { box: [0.25, 0, 0.5, 1] as [number, number, number, number], ...SIZE, fit: 'extend' as const }
  const ink = (terms: Sheet['nodes'][string]['mask']) =>
    testLayer('ink', { content: evenFill('#000000'), mask: terms })
  const pageWith = (mask: Sheet['nodes'][string]['mask']) =>
    testSheet({ width: 120, height: 40 }, [ink(mask)], { shown: { inner }, lies, shotId: 'shot' })
  const alphas = (sheet: Sheet) => {
    const pixels = composed(sheet, own)
    return Float32Array.from({ length: 120 * 40 }, (_, i) => pixels[4 * i + 3])
  }
  const coverage = surfaceCoverage(idPass, new Uint8Array(idPass.surfaces.length).fill(1))
  it('lie where the sheet lies that it shows', () => {
    const found = alphas(pageWith({ ...newMask(), terms: [newTerm('roles', { keys: ['subject'] })] }))
    for (let y = 0; y < 40; y++)
      for (let x = 0; x < 120; x++) {
        const inside = x >= 30 && x < 90 ? coverage[y * 60 + x - 30] : 0
        expect(Math.abs(found[y * 120 + x] - inside)).toBeLessThan(0.004)
      }
  })
  it('cover what stands at a depth by exactly the parts that are nearer', () => {
    const behind = alphas(pageWith({ ...newMask(), terms: [newTerm('standing', { depth: 5 })] }))
    for (let i = 0; i < behind.length; i++) {
      const [x, y] = [i % 120, Math.floor(i / 120)]
      const covered = x >= 30 && x < 90 ? coverage[y * 60 + x - 30] : 0
      expect(Math.abs(behind[i] - (1 - covered))).toBeLessThan(0.004)
    }
    const before = alphas(pageWith({ ...newMask(), terms: [newTerm('standing', { depth: -5 })] }))
    expect(before.every((v) => v === 1)).toBe(true)
  })
  it('have the same names between two parts, and others beyond one, where that lies', () => {
    const page = { width: 520, height: 40 }
    const evaluator = new SheetEvaluator(new KeptTiles(), own)
    const namesAt = (depth: number) => {
      const mask = { ...newMask(), terms: [newTerm('standing', { depth })] }
      const sheet = testSheet(page, [ink(mask)], {
        shown: { inner },
        lies: { ...lies, box: [0.05, 0, 60 / 520, 1] },
        shotId: 'shot',
      })
      evaluator.begin(planSheet(sheet, { size: page }, own))
      return Array.from({ length: 5 }, (_, tx) => evaluator.tileKey(tx, 0))
    }
    const far = namesAt(4)
    expect(namesAt(6)).toEqual(far)
    const near = namesAt(-4)
    expect(near[0]).not.toEqual(far[0])
    expect(near.slice(1)).toEqual(far.slice(1))
  })
})

describe('a page whose coarser picture is asked for', () => {
  const size = { width: 256, height: 256 }
  const coarseOf = (evaluator: SheetEvaluator, sheet: Sheet): Float32Array =>
    composed(sheet, resources, { size, coarse: 2 }, evaluator)
  /** The page with something opaque before most of its first quarter, or without. */
  const pageWith = (isHidden: boolean): Sheet => {
    const page = pageOf({ ...gradient, width: 256, height: 256 }, size)
    const mask = {
      ...newMask(),
      terms: [
        newTerm('polygon', {
          points: [
            [0, 0],
            [0.5, 0],
            [0.5, 0.5],
            [0, 0.5],
          ],
          curved: false,
        }),
      ],
    }
    const band = testLayer('band', { content: evenFill('#00ff00'), mask, visible: isHidden })
    return { ...page, roots: [...page.roots, 'band'], nodes: { ...page.nodes, band } }
  }
  it('shows what nothing hides any more, of which there is no fine picture', () => {
    const evaluator = new SheetEvaluator(new KeptTiles(), resources)
    composed(pageWith(true), resources, { size }, evaluator)
    const found = coarseOf(evaluator, pageWith(false))
    const alone = coarseOf(new SheetEvaluator(new KeptTiles(), resources), pageWith(false))
    expect(farthestOff(found, alone)).toBeLessThan(0.006)
  })
})
