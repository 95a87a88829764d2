import { describe, expect, it } from 'vitest'
import { seededRandom } from '../../math/sampling'
import { placeName } from '../../paint/paint-grid'
import { TILE, TILE_PIXELS } from '../../picture/tile-form'
import type { ContentOf } from '../contents/registry'
import { evenFill, newMask, newTerm, wash, wholePicture as pictureOf } from '../new-layer'
import type { Sheet } from '../sheet-schema'
import { PlainSheet } from '../testing/plain-sheet'
import { effect, noise } from '../testing/random-sheet'
import { testLayer, testResources, testSheet } from '../testing/sheets'
import { KeptTiles } from './kept-tiles'
import { wholePicture } from './picture-rows'
import { planSheet } from './plan-sheet'
import { SheetEvaluator } from './sheet-evaluator'
import { tileOrder } from './view-window'
import { emptyWindow, paintInWindow, takeFresh } from './window-pixels'

const GRID = { width: 6 * TILE - 20, height: 4 * TILE + 30 }

/** Tiles of noise by names that tell their seed: "l7" of a layer, "m7" of a mask. */
const known = new Map<string, Uint16Array>()
function tile(name: string): Uint16Array {
  let words = known.get(name)
  if (!words) {
    const random = seededRandom(Number(name.slice(1)))
    const [tone, length] = [random(), name.startsWith('l') ? 4 * TILE_PIXELS : TILE_PIXELS]
    words = Uint16Array.from({ length }, () => 65535 * Math.min(1, tone + 0.3 * random()))
    known.set(name, words)
  }
  return words
}
const resources = testResources(
  { a: noise(1) },
  { paintTile: (name) => (name === 'gone' ? null : tile(name)) },
)
const paintedOf = (tiles: Record<string, string>): ContentOf<'painted'> => ({
  kind: 'painted',
  version: 1,
  ...GRID,
  tiles,
})

/** A sheet with everything that looks at something painted: blurred, in a wash, as a mask that is soft, as another's alpha. */
function sheetOf(layer: Record<string, string>, mask: Record<string, string>): Sheet {
  const painted = { kind: 'painted', version: 1, ...GRID, tiles: mask, outside: true } as const
  const base = testLayer('base', { content: pictureOf('a') })
  return testSheet(
    GRID,
    [
      base,
      testLayer('paint', { content: paintedOf(layer), opacity: 0.8 }),
      testLayer('soft', {
        content: paintedOf(layer),
        mode: 'multiply',
        effects: [effect('gaussianBlur', { sigma: 9 })],
      }),
      testLayer('masked', {
        content: evenFill('#c04020'),
        mask: {
          ...newMask(),
          featherPx: 4,
          terms: [{ ...newTerm('parts', {}), ...painted, growPx: 3 } as never],
        },
      }),
      testLayer('seen', {
        content: evenFill('#2040c0'),
        opacity: 0.5,
        mask: { ...newMask(), terms: [newTerm('layerAlpha', { layer: 'paint' })] },
      }),
      testLayer('washed', {
        content: wash(),
        effects: [effect('unsharpMask', {}), effect('levels', { gamma: 1.2 })],
      }),
    ],
    { background: '#e0d8c8' },
  )
}

describe('what is painted by hand', () => {
  it('is made anew wherever it is seen, and nowhere else', () => {
    const random = seededRandom(4)
    const any = (n: number) => Math.floor(n * random())
    for (const scale of [1, 0.37, 2]) {
      const size = { width: Math.round(GRID.width * scale), height: Math.round(GRID.height * scale) }
      const kept = new SheetEvaluator(new KeptTiles(), resources)
      const pixels = emptyWindow({ x: 0, y: 0, ...size }, false)
      const { columns, rows } = tileOrder(pixels.window, pixels.window)
      let [layer, mask]: Record<string, string>[] = [{ '1,1': 'l1', '2,3': 'l2' }, { '0,0': 'm3' }]
      let painted = 0
      for (let step = 0; step < (scale === 2 ? 3 : 7); step++) {
        const sheet = sheetOf(layer, mask)
        kept.begin(planSheet(sheet, { size }, resources), 'view')
        columns.forEach((tx, i) => paintInWindow(kept, pixels, tx, rows[i]))
        takeFresh(pixels).forEach(({ width, height }) => (painted += width * height))
        const fresh = new SheetEvaluator(new KeptTiles(), resources)
        fresh.begin(planSheet(sheet, { size }, resources), 'view')
        expect(Buffer.from(wholePicture(fresh, size, 'bytes')).equals(pixels.rgba), `step ${step}`).toBe(true)
        const place = placeName(any(6), any(5))
        if (step % 2 === 0) layer = { ...layer, [place]: `l${10 + step}` }
        else mask = { ...mask, [place]: `m${10 + step}` }
      }
      // At its own size a tile that changed is far from being all.
      if (scale === 1) expect(painted / (size.width * size.height)).toBeLessThan(1 + 6 * 0.45)
    }
  })

  it('is what its definition says, at any size', () => {
    const sheet = testSheet(
      GRID,
      [testLayer('paint', { content: paintedOf({ '1,1': 'l1', '5,4': 'l2', '0,2': 'gone' }) })],
      {
        background: '#808080',
      },
    )
    const plain = (size: typeof GRID) => new PlainSheet(sheet, size, resources).picture().flat()
    for (const scale of [1, 0.5, 0.23]) {
      const size = { width: Math.round(GRID.width * scale), height: Math.round(GRID.height * scale) }
      const evaluator = new SheetEvaluator(new KeptTiles(), resources)
      evaluator.begin(planSheet(sheet, { size }, resources))
      const found = wholePicture(evaluator, size, 'bytes')
      const off = plain(size).map((v, i) => Math.abs(255 * v - found[i]))
      // Noise, by another filter: the same where it is not made smaller.
      expect(off.reduce((a, b) => a + b, 0) / off.length).toBeLessThan(scale === 1 ? 0.3 : 2)
    }
  })
})
