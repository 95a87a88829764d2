import { describe, expect, it } from 'vitest'
import type { Tile } from '../passes/tile'
import {
  cutPicture,
  resizeBands,
  resizePicture,
  resizePlane,
  resizePlaneWindow,
  resizeWindow,
} from './resample'

const ramp = (width: number, height: number) =>
  Float32Array.from({ length: width * height }, (_, i) => (i % width) / width)
const mean = (values: Float32Array) => values.reduce((a, b) => a + b, 0) / values.length

describe('a plane', () => {
  it('is itself where its size stays', () => {
    const plane = ramp(5, 3)
    expect(resizePlane(plane, 5, 3, 5, 3)).toBe(plane)
  })
  it('keeps an even value and its mean, larger and smaller', () => {
    for (const [w, h] of [
      [3, 9],
      [17, 4],
      [40, 40],
    ]) {
      for (const v of resizePlane(new Float32Array(100).fill(0.7), 10, 10, w, h))
        expect(v).toBeCloseTo(0.7, 6)
      expect(mean(resizePlane(ramp(12, 12), 12, 12, w, h))).toBeCloseTo(mean(ramp(12, 12)), 1)
    }
  })
  it('halves by a triangle two pixels wide: ¾ of the pair it covers, ¼ of those beside', () => {
    const out = resizePlane(Float32Array.of(0, 0, 0, 1, 0, 0, 0, 0), 8, 1, 4, 1)
    // Taps at ±½ and ±1½ of a target's middle weigh ¾ and ¼, halved.
    expect([...out].map((v) => Number(v.toFixed(6)))).toEqual([0, 0.375, 0.125, 0])
  })
  it('draws a straight line between places where it grows', () => {
    const out = resizePlane(Float32Array.of(0, 1), 2, 1, 8, 1)
    expect([...out].map((v) => Number(v.toFixed(4)))).toEqual([0, 0, 0.125, 0.375, 0.625, 0.875, 1, 1])
  })
  it('treats both axes alike', () => {
    const plane = Float32Array.from({ length: 36 }, (_, i) => ((i * 31) % 17) / 17)
    const turned = Float32Array.from(plane, (_, i) => plane[(i % 6) * 6 + Math.floor(i / 6)])
    const a = resizePlane(plane, 6, 6, 4, 9)
    const b = resizePlane(turned, 6, 6, 9, 4)
    a.forEach((v, i) => expect(b[(i % 4) * 9 + Math.floor(i / 4)]).toBeCloseTo(v, 5))
  })
})

describe('a picture', () => {
  it('weighs colours by alpha: what is clear never bleeds in', () => {
    // Red that is there beside green that is not.
    const pixels = Float32Array.of(1, 0, 0, 1, 0, 1, 0, 0)
    const small = resizePicture({ width: 2, height: 1, pixels }, 1, 1)
    expect([...small.pixels]).toEqual([1, 0, 0, 0.5])
  })
  it('gives no colour at all where all is clear', () => {
    const { pixels } = resizePicture({ width: 2, height: 2, pixels: new Float32Array(16).fill(0) }, 1, 1)
    expect([...pixels]).toEqual([0, 0, 0, 0])
  })
})

it('makes the same picture from bands as from the whole, and asks for each row once', () => {
  const random = (i: number) => ((i * 7919) % 1013) / 1013
  const [width, height] = [23, 71]
  const pixels = Float32Array.from({ length: 4 * width * height }, (_, i) => random(i))
  for (const [w, h] of [
    [5, 9],
    [23, 40],
    [60, 100],
  ]) {
    const rows: number[] = []
    const made = resizeBands(
      ({ y, height: count }) => {
        for (let k = 0; k < count; k++) rows.push(y + k)
        return pixels.slice(4 * width * y, 4 * width * (y + count))
      },
      width,
      height,
      w,
      h,
    )
    expect(made).toEqual(resizePicture({ width, height, pixels }, w, h))
    expect(rows).toEqual(Array.from({ length: height }, (_, y) => y))
  }
})

describe('a window of a resized picture', () => {
  const [width, height] = [61, 47]
  const pixels = Float32Array.from({ length: 4 * width * height }, (_, i) => ((i * 7919) % 1013) / 1013)
  const picture = { width, height, pixels }
  const rectOf = (rect: Tile) => cutPicture(picture, rect)

  it.each([
    [20, 15],
    [61, 30],
    [150, 100],
  ])('is that part of the whole to the bit, at %i × %i', (w, h) => {
    const whole = resizePicture(picture, w, h)
    const window = { x: 3, y: 5, width: 11, height: 8 }
    const across = { pixels: width, origin: 0, length: w }
    const down = { pixels: height, origin: 0, length: h }
    expect(resizeWindow(rectOf, across, down, window)).toEqual(Float32Array.from(cutPicture(whole, window)))
  })
  it('reads no more of the source than it shows', () => {
    const asked: Tile[] = []
    const window = { x: 5, y: 5, width: 2, height: 2 }
    const laid = (length: number) => ({ pixels: length, origin: 0, length: length / 3 })
    resizeWindow((rect) => (asked.push(rect), rectOf(rect)), laid(width), laid(height), window)
    for (const { x, y, width: w, height: h } of asked) {
      expect(x).toBeGreaterThanOrEqual(5 * 3 - 3)
      expect(x + w).toBeLessThanOrEqual(7 * 3 + 4)
      expect(y + h).toBeLessThanOrEqual(7 * 3 + 4)
    }
  })
  it('lies where it is laid: one pixel aside is one pixel aside', () => {
    const window = { x: 4, y: 0, width: 10, height: 10 }
    const at = (origin: number, x: number) =>
      resizeWindow(
        rectOf,
        { pixels: width, origin, length: 20 },
        { pixels: height, origin: 0, length: 15 },
        { ...window, x },
      )
    expect(at(1, 5)).toEqual(at(0, 4))
  })
})

it('reads nothing of a place that has no weight, were it no number', () => {
  const pixels = new Float32Array(4 * 8 * 8).fill(0.5)
  // A place that no filter of the left half reaches.
  pixels.fill(Infinity, 4 * 6, 4 * 6 + 4)
  const out = resizePicture({ width: 8, height: 8, pixels }, 5, 5).pixels
  for (let y = 0; y < 5; y++) for (let c = 0; c < 8; c++) expect(out[4 * 5 * y + c]).toBeCloseTo(0.5, 5)
  expect(out.some((v) => !Number.isFinite(v))).toBe(true)
})

describe('room for what is worked on', () => {
  it('is of each work’s own, also where one is done within another', () => {
    const picture = {
      width: 40,
      height: 30,
      pixels: new Float32Array(4 * 40 * 30).map((_, i) => (i % 7) / 7),
    }
    const half = resizePicture(picture, 20, 15)
    const wanted = resizePicture(half, 9, 7)
    const asked = resizeBands(
      // Made anew for every band, while the outer one is at work.
      (rect) => cutPicture(resizePicture(picture, 20, 15), rect),
      20,
      15,
      9,
      7,
    )
    expect(asked).toEqual(wanted)
  })
  it('is bounded: a tall picture is made in parts that fit together to the bit', () => {
    const [width, height] = [700, 3000]
    const plane = Float32Array.from({ length: width * height }, (_, i) => ((i * 37) % 101) / 101)
    const whole = resizePlane(plane, width, height, 699, 2999)
    const across = { pixels: width, origin: 0, length: 699 }
    const down = { pixels: height, origin: 0, length: 2999 }
    const rectOf = (rect: Tile) =>
      Float32Array.from(
        { length: rect.width * rect.height },
        (_, i) => plane[(rect.y + Math.floor(i / rect.width)) * width + rect.x + (i % rect.width)],
      )
    for (const y of [0, 1400, 2960]) {
      const window = { x: 0, y, width: 699, height: 39 }
      expect(resizePlaneWindow(rectOf, across, down, window)).toEqual(whole.slice(699 * y, 699 * (y + 39)))
    }
  })
})
