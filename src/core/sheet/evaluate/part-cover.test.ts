import { describe, expect, it } from 'vitest'
import { seededRandom } from '../../math/sampling'
import { ID_PAIRS } from '../../passes/id'
import { partDepths } from '../../passes/part-depths'
import type { PassResult } from '../../passes/pass-result'
import { AT_ORIGIN, placementMatrix } from '../../scene/placement'
import { ball, fromFront, renderPass, sceneModel } from '../../testing/shapes'
import type { RenderSize } from '../sheet-resources'
import { evenFill, newMask, newTerm } from '../new-layer'
import { composed, testLayer, testResources, testSheet } from '../testing/sheets'
import { KeptTiles } from './kept-tiles'
import { nearerWindow } from './mask-window'
import { coveredFrom, NO_RANK, partCover } from './part-cover'
import { planSheet } from './plan-sheet'
import { SheetEvaluator } from './sheet-evaluator'

const SIZE = { width: 96, height: 60 }
/** Balls behind and beside each other, each a part. */
const models = Array.from({ length: 7 }, (_, i) => ({
  ...sceneModel(ball(0.35 + 0.08 * (i % 3), 12), `ball ${i}`),
  transforms: [
    placementMatrix({
      ...AT_ORIGIN,
      position: [-1.2 + 0.4 * i, 0.3 * ((i % 3) - 1), 0.6 * ((i * 3) % 7) - 1.8],
    }),
  ],
}))
const [idPass, depthPass] = (['id', 'depth'] as const).map(
  (kind): PassResult => renderPass(kind, models, fromFront(6), SIZE).result,
)
const parts = partDepths(idPass, depthPass)
const resources = testResources(
  {},
  { shotPass: (_, kind) => (kind === 'id' ? idPass : kind === 'depth' ? depthPass : null) },
)
const depths = [-20, ...parts.map(({ depth }) => depth + 1e-6), 20]

describe('what all parts cover', () => {
  it('is told of several parts of which some share pixels', () => {
    expect(parts.length).toBe(7)
    expect(idPass.channels[ID_PAIRS + 1].some((weight) => weight > 0)).toBe(true)
  })
  for (const size of [
    SIZE,
    { width: 211, height: 133 },
    { width: 40, height: 25 },
    { width: 150, height: 60 },
  ])
    it(`is, from any depth on, what is filtered of the nearer ones alone: ${size.width} × ${size.height}`, () => {
      const sheet = testSheet(size, [], { shotId: 'shot' })
      const window = { x: 3, y: 2, width: size.width - 5, height: size.height - 4 }
      const target = { window, view: size, sheet, resources }
      const ranks = new Map(parts.map(({ part }, rank) => [part, rank]))
      const rankOf = Uint16Array.from(idPass.surfaces, ({ part }) => ranks.get(part) ?? NO_RANK)
      const cover = partCover(idPass, rankOf, parts.length, target)
      for (const depth of depths) {
        const wanted = nearerWindow(depth, target, 'shot')
        const from = parts.filter((own) => own.depth >= depth).length
        if (!wanted) throw new Error('there are no passes')
        const apart = wanted.map((v, i) => Math.abs(coveredFrom(cover, i, from) - v))
        expect(Math.max(...apart)).toBeLessThan(1e-5)
      }
    })
})

describe('a tile of what stands at a depth', () => {
  const page = { width: 700, height: 420 }
  const at = (depth: number) =>
    testSheet(
      page,
      [
        testLayer('ink', {
          content: evenFill('#000000'),
          mask: { ...newMask(), terms: [newTerm('standing', { depth, featherPx: 1.5 })] },
        }),
      ],
      { shotId: 'shot' },
    )
  const namesOf = (evaluator: SheetEvaluator, depth: number): string[] => {
    evaluator.begin(planSheet(at(depth), { size: page }, resources))
    const { across, down } = evaluator.grid
    return Array.from({ length: across * down }, (_, i) => {
      const { a, b } = evaluator.tileKey(i % across, Math.floor(i / across))
      return `${a} ${b}`
    })
  }
  it('has the same name only where it has the same pixels, and keeps it where no part is passed', () => {
    const evaluator = new SheetEvaluator(new KeptTiles(), resources)
    const random = seededRandom(5)
    const pictures = new Map<string, string>()
    let kept = 0
    let before: string[] = []
    for (const depth of [...depths].sort(() => random() - 0.5)) {
      const names = namesOf(evaluator, depth)
      const fresh = composed(at(depth), resources)
      const { across } = evaluator.grid
      names.forEach((name, i) => {
        const [x0, y0] = [(i % across) * 128, Math.floor(i / across) * 128]
        const rows = Array.from({ length: Math.min(128, page.height - y0) }, (_, y) => {
          const from = 4 * ((y0 + y) * page.width + x0)
          return [...fresh.subarray(from, from + 4 * Math.min(128, page.width - x0))].join()
        })
        const key = `${i} ${name}`
        const pixels = rows.join()
        expect(pictures.get(key) ?? pixels).toBe(pixels)
        pictures.set(key, pixels)
        if (before[i] === name) kept++
      })
      before = names
    }
    expect(kept).toBeGreaterThan(depths.length * 6)
    const many = ({ width, height }: RenderSize) => Math.ceil(width / 128) * Math.ceil(height / 128)
    expect(pictures.size).toBeGreaterThan(many(page))
  })
})
