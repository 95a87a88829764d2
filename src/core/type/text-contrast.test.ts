import { describe, expect, it } from 'vitest'
import { parseHex } from '../math/colour'
import { apcaContrast, readsOn, wcagContrast } from './text-contrast'

const rgb = (hex: string) => {
  const [r, g, b] = parseHex(hex)
  return [r, g, b] as const
}

describe('contrast', () => {
  it('is from 1 to 21 by WCAG, whichever is the text', () => {
    expect(wcagContrast(rgb('#000000'), rgb('#ffffff'))).toBeCloseTo(21, 9)
    expect(wcagContrast(rgb('#777777'), rgb('#ffffff'))).toBeCloseTo(4.478, 3)
    expect(wcagContrast(rgb('#ffffff'), rgb('#777777'))).toBeCloseTo(4.478, 3)
    expect(wcagContrast(rgb('#a84a29'), rgb('#a84a29'))).toBe(1)
  })
  it('is what APCA-W3 publishes for its check values', () => {
    for (const [text, ground, lc] of [
      ['#888888', '#ffffff', 63.056],
      ['#ffffff', '#888888', -68.541],
      ['#000000', '#aaaaaa', 58.146],
      ['#aaaaaa', '#000000', -56.241],
      ['#112233', '#ddeeff', 91.668],
      ['#ddeeff', '#112233', -93.067],
    ] as const)
      expect(apcaContrast(rgb(text), rgb(ground))).toBeCloseTo(lc, 1)
  })
})

describe('how type reads', () => {
  const pixels = (...colours: (readonly [number, number, number, number])[]) =>
    Uint8Array.from(colours.flat())
  it('is told of its pixels alone: the middle, and the tenth that reads worst', () => {
    const own = pixels(...Array.from({ length: 20 }, (_, i) => [0, 0, 0, i < 10 ? 255 : 0] as const))
    const under = pixels(
      ...Array.from({ length: 20 }, (_, i) =>
        i < 2 ? ([40, 40, 40, 255] as const) : ([255, 255, 255, 255] as const),
      ),
    )
    const found = readsOn(own, under)
    expect(found?.ratio).toBeCloseTo(21, 6)
    expect(found?.worstRatio).toBeLessThan(1.6)
  })
  it('is not told where nothing of it is seen', () => {
    expect(readsOn(pixels([0, 0, 0, 0]), pixels([255, 255, 255, 255]))).toBeNull()
  })
})
