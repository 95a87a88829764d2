import { describe, expect, it } from 'vitest'
import { shippedFont } from '../testing/fonts'
import { layType } from './lay-type'
import { alongWay, frameMap, glyphMaps, quadMap, typeContours, type TypeFrame } from './type-outlines'
import { typeStyleSchema } from './type-style'

const frame: TypeFrame = { x: 20, y: 30, width: 400, height: 100, turnDeg: 0, corners: null, path: null }
const style = typeStyleSchema.parse({ size: 60 })
const close = ([x, y]: readonly [number, number], to: readonly [number, number]) => {
  expect(x).toBeCloseTo(to[0], 6)
  expect(y).toBeCloseTo(to[1], 6)
}

describe('a frame on its sheet', () => {
  it('stands where it stands, and turns about its middle', () => {
    close(frameMap(frame, style, 100)(0, 0), [20, 30])
    close(frameMap({ ...frame, turnDeg: 90 }, style, 100)(200, 50), [220, 80])
    close(frameMap({ ...frame, turnDeg: 90 }, style, 100)(400, 50), [220, 280])
  })
  it('over an arc keeps the length of its middle line', () => {
    const map = frameMap(frame, { ...style, warp: 'arc', bend: 60 }, 100)
    let length = 0
    for (let i = 0; i < 400; i++) {
      const [a, b] = [map(i, 50), map(i + 1, 50)]
      length += Math.hypot(b[0] - a[0], b[1] - a[1])
    }
    expect(length).toBeCloseTo(400, 1)
    expect(map(200, 50)[1]).toBeLessThan(map(0, 50)[1])
  })
  it('is stretched between corners as in perspective', () => {
    const corners = [
      [0, 0],
      [10, 2],
      [8, 9],
      [1, 7],
    ] as const
    const map = quadMap(corners)
    close(map(0, 0), corners[0])
    close(map(1, 0), corners[1])
    close(map(1, 1), corners[2])
    close(map(0, 1), corners[3])
    // Straight lines stay straight.
    const [a, b, c] = [map(0, 0), map(0.3, 0.3), map(1, 1)]
    expect((b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0])).toBeCloseTo(0, 9)
  })
})

describe('a way', () => {
  it('is as long as it is, and goes straight on beyond its ends', () => {
    const way = alongWay([
      [0, 0],
      [30, 40],
    ])
    expect(way.length).toBe(50)
    const [x, y, angle] = way.at(25)
    expect([x, y, angle]).toEqual([15, 20, expect.closeTo(Math.atan2(4, 3), 9)])
    expect(way.at(100).slice(0, 2)).toEqual([60, 80])
  })
  it('passes through all its places', () => {
    const places = [
      [0, 0],
      [10, 8],
      [25, -3],
      [40, 5],
    ] as const
    const way = alongWay(places)
    for (const [px, py] of places) {
      let near = Infinity
      for (let s = 0; s <= way.length; s += 0.05) {
        const [x, y] = way.at(s)
        near = Math.min(near, Math.hypot(x - px, y - py))
      }
      expect(near).toBeLessThan(0.05)
    }
  })
})

describe('outlines of a block', () => {
  const files = shippedFont('anton')
  const layout = layType({ text: 'OX', axes: {}, pairs: [] }, style, { width: 400, height: 100 }, files)
  it('are closed, belong to their letters, and grow with the view', () => {
    const small = typeContours(layout, frame, style, 1)
    const large = typeContours(layout, frame, style, 4)
    expect([...small.glyphs]).toEqual([0, 0, 1])
    const width = ({ points }: typeof small) => {
      const xs = points.filter((_, i) => i % 2 === 0)
      return Math.max(...xs) - Math.min(...xs)
    }
    expect(width(large) / width(small)).toBeCloseTo(4, 2)
    // Curves are cut finer the larger they are seen.
    expect(large.points.length).toBeGreaterThan(small.points.length)
  })
  it('stand upright on a way', () => {
    const path = [
      [0, 0],
      [0, 300],
    ] as const
    const map = glyphMaps(layout, { ...frame, path }, style)(layout.glyphs[0])
    const [o, up] = [map(0, 0), map(0, 1)]
    // Down the sheet: what was up points to the right.
    expect(up[0] - o[0]).toBeCloseTo(60, 6)
    expect(up[1] - o[1]).toBeCloseTo(0, 6)
  })
})
