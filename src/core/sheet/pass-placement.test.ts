import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import type { Tile } from '../passes/tile'
import { evenFill, newMask } from './new-layer'
import { layWindow, passPlacement, toPicturePoint } from './pass-placement'
import { isSameShape, resizeSheet } from './resize-sheet'
import { testLayer, testSheet } from './testing/sheets'

const side = fc.integer({ min: 16, max: 4000 })
const size = fc.record({ width: side, height: side })

describe('passPlacement', () => {
  it('covers a sheet of its own shape, whatever the size', () => {
    expect(
      passPlacement({ width: 1200, height: 750 }, { width: 797, height: 498 }, { fit: 'extend' }),
    ).toEqual({
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
    expect(passPlacement(square, wide, { fit: 'extend' })).toEqual({ x: 100, y: 0, width: 200, height: 200 })
    expect(passPlacement(square, wide, { fit: 'crop' })).toEqual({ x: 0, y: -100, width: 400, height: 400 })
  })
  it('never stretches, lies inside or all round, and in the middle', () => {
    fc.assert(
      fc.property(size, size, fc.constantFrom('extend' as const, 'crop' as const), (picture, sheet, fit) => {
        const placed = passPlacement(picture, sheet, { fit })
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
  it('lays windows where what is placed lies, and nothing beside it', () => {
    const placed = { x: 1, y: -1, width: 2, height: 4 }
    // What is placed: its own row and column, as tens and ones.
    const make = ({ x, y, width, height }: Tile) =>
      Float32Array.from(
        { length: width * height },
        (_, i) => 10 * (y + Math.floor(i / width)) + x + (i % width) + 1,
      )
    const whole = layWindow(placed, { x: 0, y: 0, width: 4, height: 2 }, 1, make)
    expect([...(whole ?? [])]).toEqual([0, 11, 12, 0, 0, 21, 22, 0])
    expect([...(layWindow(placed, { x: 1, y: 1, width: 2, height: 1 }, 1, make) ?? [])]).toEqual([21, 22])
    expect(layWindow(placed, { x: 3, y: 0, width: 1, height: 2 }, 1, make)).toBeNull()
  })
  it('finds the place of the picture under a place of the sheet', () => {
    const [picture, sheet] = [
      { width: 100, height: 100 },
      { width: 400, height: 200 },
    ]
    expect(toPicturePoint(0.5, 0.5, picture, sheet, { fit: 'extend' })).toEqual([0.5, 0.5])
    expect(toPicturePoint(0.25, 0, picture, sheet, { fit: 'extend' })).toEqual([0, 0])
    expect(toPicturePoint(0.1, 0.5, picture, sheet, { fit: 'extend' })[0]).toBeLessThan(0)
    expect(toPicturePoint(0, 0, picture, sheet, { fit: 'crop' })).toEqual([0, 0.25])
  })
})

describe('resizeSheet', () => {
  it('keeps lengths in proportion to the height, within what they may be', () => {
    const layer = (featherPx: number) =>
      testLayer(`${featherPx}`, {
        content: evenFill('#ffffff'),
        mask: { ...newMask(), featherPx },
        effects: [
          {
            id: 'e',
            kind: 'gaussianBlur',
            version: 1,
            enabled: true,
            opacity: 1,
            mask: null,
            params: { sigma: featherPx },
          },
        ],
      })
    const sheet = testSheet({ width: 1200, height: 750 }, [layer(4), layer(400)])
    expect(sheet.fit).toBe('extend')
    resizeSheet(sheet, { width: 3000, height: 1500 })
    expect([sheet.width, sheet.height]).toEqual([3000, 1500])
    expect(Object.values(sheet.nodes).map(({ mask }) => mask?.featherPx)).toEqual([8, 500])
    expect(Object.values(sheet.nodes).map(({ effects }) => effects[0].params.sigma)).toEqual([8, 500])
  })
  it('knows shapes apart as far as whole pixels can tell', () => {
    expect(isSameShape({ width: 1280, height: 800 }, { width: 797, height: 498 })).toBe(true)
    expect(isSameShape({ width: 1280, height: 800 }, { width: 1280, height: 801 })).toBe(false)
    expect(isSameShape({ width: 1280, height: 800 }, { width: 800, height: 800 })).toBe(false)
  })
})
