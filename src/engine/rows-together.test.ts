import { describe, expect, it } from 'vitest'
import { pictureMemory } from '@/core/picture/picture-kernel'
import { KeptTiles } from '@/core/sheet/evaluate/kept-tiles'
import { rowsAlone, type PixelForm, type RowsOf } from '@/core/sheet/evaluate/picture-rows'
import { planSheet } from '@/core/sheet/evaluate/plan-sheet'
import { SheetEvaluator } from '@/core/sheet/evaluate/sheet-evaluator'
import type { Sheet } from '@/core/sheet/sheet-schema'
import { randomSheet, resources } from '@/core/sheet/testing/random-sheet'
import { rowsTogether } from './rows-together'
import { SheetHands, type SpawnHand } from './sheet-hands'
import { sharedPicture } from './sheet-store'
import { inThreadHands } from './testing/in-thread-hands'

const SIZE = { width: 5 * 128 + 30, height: 2 * 128 + 9 }

async function opened(sheet: Sheet, spawn: SpawnHand) {
  const tiles = new KeptTiles(pictureMemory(96 * 2 ** 20, true))
  const evaluator = new SheetEvaluator(tiles, resources)
  const hands = new SheetHands(tiles.memory, 1, spawn)
  hands.tell('sheet', { type: 'sheet', beside: null, sheet })
  for (const pictureId of ['a', 'b', 'soft']) {
    const found = resources.picture(pictureId)
    if (!found) continue
    hands.tell(pictureId, {
      type: 'picture',
      pictureId,
      picture: { picture: sharedPicture(found), revision: 1 },
    })
  }
  await hands.allReady
  evaluator.begin(planSheet(sheet, { size: SIZE }, resources), 'rows')
  return { hands, evaluator }
}
function joined(rowsOf: RowsOf, form: PixelForm): { bytes: Buffer; shares: number[] } {
  const shares: number[] = []
  const parts = [...rowsOf(form, (share) => shares.push(share))].map(({ pixels }) => Buffer.from(pixels))
  return { bytes: Buffer.concat(parts), shares }
}
const alone = (sheet: Sheet, form: PixelForm) => {
  const evaluator = new SheetEvaluator(new KeptTiles(), resources)
  evaluator.begin(planSheet(sheet, { size: SIZE }, resources))
  return joined(rowsAlone(evaluator, SIZE.width), form).bytes
}

describe('rows that are painted together', () => {
  it('are the same bits as alone, in every form, in parts of any length', async () => {
    for (const [seed, form, layers] of [
      [1, 'bytes', 8],
      [2, 'words', 1e6],
      [3, 'floats', 1e6],
    ] as const) {
      const sheet = { ...randomSheet(seed), ...SIZE }
      const { hands, evaluator } = await opened(sheet, inThreadHands())
      const together = joined(rowsTogether(hands, evaluator, { size: SIZE }, 'rows', layers), form)
      expect(together.bytes.equals(alone(sheet, form))).toBe(true)
    }
  })
  it('are painted by whoever is there when a hand fails in the middle', async () => {
    const sheet = { ...randomSheet(4), ...SIZE }
    let rows = 0
    const { hands, evaluator } = await opened(
      sheet,
      inThreadHands((message) => {
        // As if its memory were gone: every tile it begins fails.
        if (message.type === 'row' && ++rows === 2)
          Object.assign(message, { pixels: new Uint8Array(new SharedArrayBuffer(4)) })
      }),
    )
    const { bytes, shares } = joined(rowsTogether(hands, evaluator, { size: SIZE }, 'rows', 8), 'bytes')
    expect(bytes.equals(alone(sheet, 'bytes'))).toBe(true)
    expect(rows).toBe(3)
    expect(shares.every((share) => share >= 0 && share <= 1)).toBe(true)
  })
  it('need nobody else, and let go of the hands when whoever asked stops', async () => {
    const sheet = { ...randomSheet(5), ...SIZE }
    const { hands, evaluator } = await opened(sheet, inThreadHands())
    const rows = rowsTogether(hands, evaluator, { size: SIZE }, 'rows', 8)('bytes', () => undefined)
    rows.next()
    rows.return()
    expect(rows.next().done).toBe(true)
    hands.close()
    expect(hands.count).toBe(0)
    const { bytes, shares } = joined(rowsTogether(hands, evaluator, { size: SIZE }, 'rows', 8), 'bytes')
    expect(bytes.equals(alone(sheet, 'bytes'))).toBe(true)
    expect(shares).toHaveLength(6 * 3)
  })
})
