import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { linearToSrgb, linearToSrgbFast, parseHex, srgbToLinear, toHex } from './colour'

describe('sRGB transfer', () => {
  it('has the golden values of IEC 61966-2-1', () => {
    expect(srgbToLinear(0.5)).toBeCloseTo(0.21404114, 7)
    expect(linearToSrgb(0.18)).toBeCloseTo(0.46135613, 7)
    expect(linearToSrgb(1)).toBeCloseTo(1, 12)
  })
  it('goes there and back', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0, max: 1, noNaN: true }),
        (v) => Math.abs(linearToSrgb(srgbToLinear(v)) - v) < 1e-6,
      ),
    )
  })
  it('has a table close to the curve', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0, max: 1, noNaN: true }),
        (v) => Math.abs(linearToSrgbFast(v) - linearToSrgb(v)) < 4e-4,
      ),
    )
    expect(linearToSrgbFast(-1)).toBe(0)
    expect(linearToSrgbFast(NaN)).toBe(0)
    expect(linearToSrgbFast(9)).toBe(1)
  })
})

describe('parseHex', () => {
  it('reads all four lengths', () => {
    expect(parseHex('#fff')).toEqual([1, 1, 1, 1])
    expect(parseHex('#0008')).toEqual([0, 0, 0, 136 / 255])
    expect(parseHex('#336699')).toEqual([0.2, 0.4, 0.6, 1])
    expect(parseHex('33669980')[3]).toBeCloseTo(128 / 255, 12)
  })
  it('refuses the rest by name and value', () => {
    for (const bad of ['', '#12', 'red', '#12345', '#gggggg'])
      expect(() => parseHex(bad)).toThrow(JSON.stringify(bad))
  })
  it('is undone by toHex', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 0xffffff }), (n) => {
        const hex = '#' + n.toString(16).padStart(6, '0')
        return toHex(parseHex(hex)) === hex
      }),
    )
  })
})
