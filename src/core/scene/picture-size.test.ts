import { describe, expect, it } from 'vitest'
import { MAX_PICTURE_SIDE } from './camera'
import { mostDpi, PICTURE_SIZES, sizeInPixels, sizeOf } from './picture-size'

describe('sizes on paper', () => {
  const papers = PICTURE_SIZES.filter((s) => s.unit !== 'px')
  it.each(papers.map((size) => [size.name, size] as const))(
    'keep their proportions at any dpi: %s',
    (_name, size) => {
      for (const dpi of [72, 300, 600, 1200, 2400]) {
        for (const across of [false, true]) {
          const { width, height } = sizeInPixels(size, dpi, across)
          const [w, h] = across ? [size.height, size.width] : [size.width, size.height]
          expect(Math.max(width, height)).toBeLessThanOrEqual(MAX_PICTURE_SIDE)
          expect(Math.abs(width / height / (w / h) - 1)).toBeLessThan(1 / Math.min(width, height))
        }
      }
    },
  )
  it.each(papers.map((size) => [size.name, size] as const))(
    'are as large as a picture can be at their highest dpi: %s',
    (_name, size) => {
      const most = mostDpi(size)
      const { width, height } = sizeInPixels(size, most, false)
      const perUnit = size.unit === 'in' ? 1 : 1 / 25.4
      expect(Math.max(width, height)).toBeLessThanOrEqual(MAX_PICTURE_SIDE)
      expect(Math.max(size.width, size.height) * perUnit * (most + 1)).toBeGreaterThan(MAX_PICTURE_SIDE)
      expect(sizeOf({ width, height }, most)).toMatchObject({ size, across: false })
    },
  )
  it('of the screen know no dpi', () => {
    const [screen] = PICTURE_SIZES.filter((s) => s.unit === 'px')
    expect(mostDpi(screen)).toBe(Infinity)
    expect(sizeInPixels(screen, 2400, false)).toEqual({ width: screen.width, height: screen.height })
  })
})
