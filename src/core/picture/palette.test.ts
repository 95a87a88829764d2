import { describe, expect, it } from 'vitest'
import { blackBody } from '../math/black-body'
import { linearToSrgb, type Rgb } from '../math/colour'
import { oklabDistance, oklabToSrgb, srgbToOklab } from '../math/oklab'
import { seededRandom } from '../math/sampling'
import { bestMatch, paletteOf } from './palette'

const COLOURS: readonly (readonly [number, number, number])[] = [
  [200, 40, 30],
  [30, 60, 180],
  [240, 220, 120],
  [20, 22, 25],
]
/** A picture of a few colours, each a little uneven, in shares that fall. */
function picture(noise = 4): Uint8ClampedArray {
  const random = seededRandom(3)
  const pixels: number[] = []
  COLOURS.forEach((colour, i) => {
    for (let n = 0; n < 4000 / (i + 1); n++)
      pixels.push(...colour.map((v) => v + noise * (random() - 0.5)), 255)
  })
  return Uint8ClampedArray.from(pixels)
}
const away = (a: Rgb, b: Rgb) => oklabDistance(srgbToOklab(a), srgbToOklab(b))
const shares = (c: readonly number[]): Rgb => [c[0] / 255, c[1] / 255, c[2] / 255]

describe('paletteOf', () => {
  it('finds the colours of a picture, the most frequent first', () => {
    const palette = paletteOf(picture(), 4)
    expect(palette).toHaveLength(4)
    palette.forEach(({ rgb }, i) => expect(away(rgb, shares(COLOURS[i]))).toBeLessThan(0.02))
    expect(palette.reduce((sum, c) => sum + c.share, 0)).toBeCloseTo(1, 9)
    for (let i = 1; i < 4; i++) expect(palette[i].share).toBeLessThan(palette[i - 1].share)
  })
  it('gives the same for the same picture, and no more colours than there are', () => {
    expect(paletteOf(picture(), 6)).toEqual(paletteOf(picture(), 6))
    expect(paletteOf(picture(0), 12).length).toBeLessThanOrEqual(4)
    expect(paletteOf(new Uint8ClampedArray(400), 4)).toEqual([])
  })
  it('finds a small bright spot in a grey wall', () => {
    const wall = Array.from({ length: 10_000 }, (_, i) =>
      i < 30 ? [250, 120, 10, 255] : [128, 128, 130, 255],
    ).flat()
    const palette = paletteOf(Uint8ClampedArray.from(wall), 3)
    expect(Math.min(...palette.map((c) => away(c.rgb, shares([250, 120, 10]))))).toBeLessThan(0.02)
  })
})

describe('bestMatch', () => {
  it('gives each the nearest, none twice before all were used', () => {
    const palette = COLOURS.map(shares)
    const near = palette.map(([r, g, b]): Rgb => [r * 0.9, g * 0.9, b * 0.9])
    expect(bestMatch([near[2], near[0], near[3], near[1]], palette)).toEqual([2, 0, 3, 1])
    const many = bestMatch(
      Array.from({ length: 8 }, () => near[0]),
      palette,
    )
    for (let i = 0; i < 4; i++) expect(many.filter((m) => m === i)).toHaveLength(2)
    expect(bestMatch(near, [])).toEqual([-1, -1, -1, -1])
  })
})

describe('colour spaces', () => {
  it('go to OKLab and back', () => {
    for (const colour of [...COLOURS.map(shares), [1, 1, 1] as Rgb, [0, 0, 0] as Rgb])
      expect(away(oklabToSrgb(srgbToOklab(colour)), colour)).toBeLessThan(1e-6)
    expect(srgbToOklab([1, 1, 1])[0]).toBeCloseTo(1, 5)
  })
  it('has black bodies go from red over white to blue', () => {
    const [warm, day, cold] = [2000, 6500, 15000].map(blackBody)
    expect(warm[0]).toBe(1)
    expect(warm[2]).toBeLessThan(0.1)
    // Daylight is the white of sRGB, nearly: the locus passes close by D65.
    for (const v of day) expect(linearToSrgb(v)).toBeGreaterThan(0.95)
    expect(cold[2]).toBe(1)
    expect(cold[0]).toBeLessThan(0.7)
  })
})
