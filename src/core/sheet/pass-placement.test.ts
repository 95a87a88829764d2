import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { passPlacement, placePicture, placePlane, toPicturePoint } from './pass-placement'
import { isSameShape, resizeSheet } from './resize-sheet'
import { sheetSchema } from './sheet-schema'

const side = fc.integer({ min: 16, max: 4000 })
const size = fc.record({ width: side, height: side })

describe('passPlacement', () => {
  it('covers a sheet of its own shape, whatever the size', () => {
    expect(passPlacement({ width: 1200, height: 750 }, { width: 797, height: 498 }, 'extend')).toEqual({
      x: 0,
      y: 0,
      width: 797,
      height: 498,
    })
  })
  it('shows a square whole on a wide sheet, or fills it and is cut off', () => {
    const [square, wide] = [
      { width: 800, height: 800 },
      { width: 400, height: 200 },
    ]
    expect(passPlacement(square, wide, 'extend')).toEqual({ x: 100, y: 0, width: 200, height: 200 })
    expect(passPlacement(square, wide, 'crop')).toEqual({ x: 0, y: -100, width: 400, height: 400 })
  })
  it('never stretches, lies inside or all round, and in the middle', () => {
    fc.assert(
      fc.property(size, size, fc.constantFrom('extend' as const, 'crop' as const), (picture, sheet, fit) => {
        const placed = passPlacement(picture, sheet, fit)
        const [across, down] = [placed.width / picture.width, placed.height / picture.height]
        // Within the pixel that rounding takes.
        expect(Math.abs(across - down)).toBeLessThanOrEqual(1 / picture.width + 1 / picture.height)
        const inside = placed.width <= sheet.width && placed.height <= sheet.height
        const round = placed.width >= sheet.width && placed.height >= sheet.height
        expect(fit === 'extend' ? inside : round).toBe(true)
        expect(Math.abs(2 * placed.x + placed.width - sheet.width)).toBeLessThanOrEqual(1)
        expect(Math.abs(2 * placed.y + placed.height - sheet.height)).toBeLessThanOrEqual(1)
      }),
      { numRuns: 500, seed: 2 },
    )
  })
  it('lays pictures and planes at the same place, and nothing beside them', () => {
    const [picture, sheet] = [
      { width: 2, height: 2 },
      { width: 4, height: 2 },
    ]
    const made = placePicture(picture, sheet, 'extend', ({ width, height }) => ({
      width,
      height,
      pixels: new Float32Array(4 * width * height).fill(1),
    }))
    const alphas = Array.from({ length: 8 }, (_, i) => made.pixels[4 * i + 3])
    const plane = placePlane(Float32Array.of(1, 1, 1, 1), picture, sheet, 'extend')
    expect(alphas).toEqual([0, 1, 1, 0, 0, 1, 1, 0])
    expect([...plane]).toEqual(alphas)
    // Cut off above and below: the middle rows of a ramp from 0 to 3.
    const ramp = placePlane(
      Float32Array.of(0, 0, 0, 0, 1, 1, 1, 1, 2, 2, 2, 2, 3, 3, 3, 3),
      { width: 4, height: 4 },
      sheet,
      'crop',
    )
    expect([...ramp].map((v) => Math.round(v))).toEqual([1, 1, 1, 1, 2, 2, 2, 2])
  })
  it('finds the place of the picture under a place of the sheet', () => {
    const [picture, sheet] = [
      { width: 100, height: 100 },
      { width: 400, height: 200 },
    ]
    expect(toPicturePoint(0.5, 0.5, picture, sheet, 'extend')).toEqual([0.5, 0.5])
    expect(toPicturePoint(0.25, 0, picture, sheet, 'extend')).toEqual([0, 0])
    expect(toPicturePoint(0.1, 0.5, picture, sheet, 'extend')[0]).toBeLessThan(0)
    expect(toPicturePoint(0, 0, picture, sheet, 'crop')).toEqual([0, 0.25])
  })
})

describe('resizeSheet', () => {
  it('keeps lengths in proportion to the height, within what they may be', () => {
    const layer = (featherPx: number) => ({
      id: `${featherPx}`,
      name: '',
      visible: true,
      mode: 'normal',
      opacity: 1,
      confine: false,
      source: { type: 'fill', colour: '#ffffff', to: null, angleDeg: 90 },
      mask: { terms: [], picture: null, invert: false, featherPx },
      effects: [],
    })
    const sheet = sheetSchema.parse({
      id: 's',
      name: 's',
      width: 1200,
      height: 750,
      blendSpace: 'display',
      background: null,
      layers: [layer(4), layer(400)],
    })
    expect(sheet.fit).toBe('extend')
    resizeSheet(sheet, { width: 3000, height: 1500 })
    expect([sheet.width, sheet.height]).toEqual([3000, 1500])
    expect(sheet.layers.map((l) => l.mask?.featherPx)).toEqual([8, 500])
  })
  it('knows shapes apart as far as whole pixels can tell', () => {
    expect(isSameShape({ width: 1280, height: 800 }, { width: 797, height: 498 })).toBe(true)
    expect(isSameShape({ width: 1280, height: 800 }, { width: 1280, height: 801 })).toBe(false)
    expect(isSameShape({ width: 1280, height: 800 }, { width: 800, height: 800 })).toBe(false)
  })
})
