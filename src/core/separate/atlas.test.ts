import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { bleedEdges, packAtlas, type AtlasItem } from './atlas'

const item = (name: string, width: number, height: number, colour = [200, 40, 10, 255]): AtlasItem => ({
  name,
  width,
  height,
  pixels: Uint8Array.from({ length: 4 * width * height }, (_, i) => colour[i % 4]),
})

describe('an atlas', () => {
  it('holds every picture whole, none over another, padding between and around', () => {
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.integer({ min: 1, max: 60 }), fc.integer({ min: 1, max: 60 })), {
          minLength: 1,
          maxLength: 40,
        }),
        fc.integer({ min: 0, max: 6 }),
        fc.integer({ min: 0, max: 3 }),
        (sizes, padding, bleed) => {
          const items = sizes.map(([width, height], i) => item(`p${i}`, width, height, [i + 1, 7, 9, 255]))
          const { pages, places } = packAtlas(items, { side: 128, padding, bleed })
          const gap = Math.max(padding, 2 * bleed)
          for (const [i, { page, x, y }] of places.entries()) {
            const { width, height } = items[i]
            const own = pages[page]
            expect(own.width).toBeLessThanOrEqual(128)
            expect(x).toBeGreaterThanOrEqual(Math.max(padding, bleed))
            expect(y + height + Math.max(padding, bleed)).toBeLessThanOrEqual(own.height)
            for (const [px, py] of [
              [x, y],
              [x + width - 1, y + height - 1],
            ])
              expect([
                ...own.pixels.subarray(4 * (py * own.width + px), 4 * (py * own.width + px) + 4),
              ]).toEqual([i + 1, 7, 9, 255])
            for (const [k, other] of places.entries()) {
              if (k === i || other.page !== page) continue
              const apartX = other.x >= x + width + gap || x >= other.x + items[k].width + gap
              const apartY = other.y >= y + height + gap || y >= other.y + items[k].height + gap
              expect(apartX || apartY).toBe(true)
            }
          }
          // What is seen is what the pictures hold, and no more.
          const seen = pages.reduce(
            (sum, { pixels }) => sum + pixels.filter((value, i) => i % 4 === 3 && value > 0).length,
            0,
          )
          expect(seen).toBe(sizes.reduce((sum, [width, height]) => sum + width * height, 0))
        },
      ),
      { numRuns: 60 },
    )
  })
  it('packs the same the same way', () => {
    const items = Array.from({ length: 30 }, (_, i) => item(`p${i}`, 5 + ((i * 7) % 23), 4 + ((i * 11) % 19)))
    const setting = { side: 96, padding: 2, bleed: 1 }
    expect(packAtlas(items, setting)).toEqual(packAtlas(items, setting))
    expect(packAtlas(items, setting).pages.length).toBeGreaterThan(1)
  })
  it('says which picture no page can hold', () => {
    expect(() => packAtlas([item('Mast', 20, 200)], { side: 128, padding: 2, bleed: 0 })).toThrow(
      /pictures up to 124 pixels a side, but Mast has 20 × 200/,
    )
    expect(packAtlas([item('Mast', 124, 124)], { side: 128, padding: 2, bleed: 0 }).pages).toHaveLength(1)
  })
})

describe('edges', () => {
  it('go on in their colour where it is clear, as far as they may', () => {
    const [width, height] = [9, 5]
    const pixels = new Uint8Array(4 * width * height)
    pixels.set([100, 50, 20, 255], 4 * (2 * width + 3))
    pixels.set([200, 50, 40, 128], 4 * (2 * width + 4))
    const before = pixels.slice()
    bleedEdges(pixels, width, height, { x: 3, y: 2, width: 2, height: 1 }, 2)
    const at = (x: number, y: number) => [...pixels.subarray(4 * (y * width + x), 4 * (y * width + x) + 4)]
    expect(at(2, 2)).toEqual([100, 50, 20, 0])
    expect(at(1, 2)).toEqual([100, 50, 20, 0])
    expect(at(3, 1)).toEqual([150, 50, 30, 0])
    expect(at(6, 2)).toEqual([200, 50, 40, 0])
    // Beyond its rings nothing, and what is seen as it was.
    expect(at(0, 2)).toEqual([0, 0, 0, 0])
    expect(at(7, 2)).toEqual([0, 0, 0, 0])
    for (const x of [3, 4])
      expect(at(x, 2)).toEqual([...before.subarray(4 * (2 * width + x), 4 * (2 * width + x) + 4)])
  })
})
