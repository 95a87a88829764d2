import { readFileSync } from 'node:fs'
import { describe, expect, it } from 'vitest'
import { unfoldWoff } from '../formats/woff'
import { catalogueFont } from '../type/font-catalogue'
import { openFont } from '../type/shaper'
import { besideSize, framesBeside } from './beside'
import { BurnIn } from './burn-in'
import { stillFrames, stillsGrid } from './stills-sheet'

const even = (width: number, height: number, rgba: readonly number[]) =>
  Uint8ClampedArray.from({ length: 4 * width * height }, (_, i) => rgba[i & 3])
const at = (pixels: ArrayLike<number>, width: number, x: number, y: number) =>
  [0, 1, 2, 3].map((c) => pixels[4 * (y * width + x) + c])

describe('frames of two turntables', () => {
  const size = { width: 6, height: 2 }
  const [red, blue] = [even(6, 2, [255, 0, 0, 255]), even(6, 2, [0, 0, 255, 128])]
  it('lie side by side, each whole', () => {
    const made = framesBeside(red, blue, size, 'side')
    const out = besideSize(size, 'side')
    expect(out).toEqual({ width: 12, height: 2 })
    for (let y = 0; y < 2; y++)
      for (let x = 0; x < 12; x++)
        expect(at(made, 12, x, y)).toEqual(x < 6 ? [255, 0, 0, 255] : [0, 0, 255, 128])
  })
  it('are each half of one, with a seam in the middle', () => {
    const made = framesBeside(red, blue, size, 'split')
    expect(Array.from({ length: 6 }, (_, x) => at(made, 6, x, 1))).toEqual([
      [255, 0, 0, 255],
      [255, 0, 0, 255],
      [255, 255, 255, 255],
      [255, 255, 255, 255],
      [0, 0, 255, 128],
      [0, 0, 255, 128],
    ])
  })
})

describe('a sheet of stills', () => {
  it('takes frames at even steps', () => {
    expect(stillFrames(120, 8)).toEqual([0, 15, 30, 45, 60, 75, 90, 105])
    expect(stillFrames(10, 10)).toEqual([0, 1, 2, 3, 4, 5, 6, 7, 8, 9])
  })
  it.each([
    [8, 4, 1],
    [7, 3, 1],
    [6, 3, 2],
    [2, 4, 2],
  ] as const)(
    'of %i in %i columns, %i lines, holds all of them, none over another',
    (count, columns, lines) => {
      const cell = { width: 160, height: 90 }
      const { width, height, places, tops } = stillsGrid(cell, count, columns, lines)
      expect(places).toHaveLength(count * lines)
      for (const [x, y] of places) {
        expect(tops).toContain(y)
        expect(x).toBeGreaterThan(0)
        expect(x + cell.width).toBeLessThan(width)
        expect(y + cell.height).toBeLessThan(height)
      }
      for (const [i, [x, y]] of places.entries())
        for (const [u, v] of places.slice(i + 1))
          expect(Math.abs(u - x) >= cell.width || Math.abs(v - y) >= cell.height).toBe(true)
    },
  )
  it('lays closer views below what they are of', () => {
    const { places } = stillsGrid({ width: 160, height: 90 }, 6, 3, 2)
    for (let i = 0; i < 6; i++) {
      expect(places[6 + i][0]).toBe(places[i][0])
      expect(places[6 + i][1]).toBeGreaterThan(places[i][1])
    }
  })
})

describe('words in the corner of frames', () => {
  const shipped = catalogueFont('barlow-condensed')?.files[0] ?? ''
  const files = [openFont(unfoldWoff(readFileSync(`public/fonts/${shipped}`)))]
  const size = { width: 400, height: 240 }
  const words = 'Two turns   frame 12 of 120'
  const burned = (text: string, under: readonly number[]) => {
    const pixels = even(size.width, size.height, under)
    new BurnIn(size, files).over(pixels, text)
    return pixels
  }
  it('stand on a plate in the lower left, in white, and change nothing else', () => {
    const pixels = burned(words, [200, 120, 60, 255])
    let [left, right, top, bottom, white] = [400, -1, 240, -1, 0]
    for (let y = 0; y < 240; y++)
      for (let x = 0; x < 400; x++) {
        const [r, g, b, a] = at(pixels, 400, x, y)
        expect(a).toBe(255)
        if (r === 200 && g === 120 && b === 60) continue
        ;[left, right, top, bottom] = [
          Math.min(left, x),
          Math.max(right, x),
          Math.min(top, y),
          Math.max(bottom, y),
        ]
        if (r > 200 && g > 190 && b > 190) white++
      }
    expect(white).toBeGreaterThan(4)
    expect([left, bottom]).toEqual([5, 240 - 5 - 1])
    expect(right).toBeGreaterThan(80)
    expect(right).toBeLessThan(220)
    expect(top).toBeGreaterThan(210)
  })
  it('are seen where the frame is clear', () => {
    const pixels = burned(words, [0, 0, 0, 0])
    expect(at(pixels, 400, 6, 232)).toEqual([0, 0, 0, 158])
    expect(at(pixels, 400, 399, 0)).toEqual([0, 0, 0, 0])
  })
  it('are the same laid over rows as over the whole', () => {
    const whole = burned(words, [90, 90, 90, 255])
    const rows = even(400, 240, [90, 90, 90, 255])
    const own = new BurnIn(size, files)
    for (let y = 0; y < 240; y += 48) own.over(rows.subarray(1600 * y, 1600 * (y + 48)), words, y)
    expect(rows).toEqual(whole)
  })
  it('are other letters for other words', () => {
    const [a, b] = [burned('frame 1', [9, 9, 9, 255]), burned('frame 2', [9, 9, 9, 255])]
    expect(a).not.toEqual(b)
  })
})
