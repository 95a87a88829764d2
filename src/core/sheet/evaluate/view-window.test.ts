import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { TILE } from '../../picture/tile-form'
import { holds, tileOrder, windowAround } from './view-window'

const view = fc.record({
  size: fc.record({ width: fc.integer({ min: 1, max: 17000 }), height: fc.integer({ min: 1, max: 17000 }) }),
  at: fc.tuple(fc.double({ min: 0, max: 1, noNaN: true }), fc.double({ min: 0, max: 1, noNaN: true })),
  stage: fc.record({ width: fc.integer({ min: 1, max: 2600 }), height: fc.integer({ min: 1, max: 1500 }) }),
})

describe('the window around what is seen', () => {
  it('lies in the picture, holds what is seen, and begins and ends with tiles', () => {
    fc.assert(
      fc.property(view, ({ size, at, stage }) => {
        const [x, y] = [at[0] * size.width, at[1] * size.height]
        const seen = {
          x,
          y,
          width: Math.min(stage.width, size.width - x),
          height: Math.min(stage.height, size.height - y),
        }
        const window = windowAround(size, seen)
        expect(holds(window, size, seen)).toBe(true)
        expect([window.x % TILE, window.y % TILE]).toEqual([0, 0])
        expect(window.width).toBeGreaterThan(0)
        expect(window.height).toBeGreaterThan(0)
        for (const [from, length, most] of [
          [window.x, window.width, size.width],
          [window.y, window.height, size.height],
        ]) {
          expect(from + length).toBeLessThanOrEqual(most)
          expect(length % TILE === 0 || from + length === most).toBe(true)
        }
        // A large picture is never held as a whole.
        expect(window.width * window.height).toBeLessThan(
          Math.max(4.6e6, 4 * (stage.width + TILE) * (stage.height + TILE)),
        )
      }),
      { seed: 3 },
    )
  })
  it('is all of a small picture wherever one looks, and one that is out of sight is no harm', () => {
    expect(windowAround({ width: 1200, height: 750 }, { x: 300, y: 20, width: 9, height: 9 })).toEqual({
      x: 0,
      y: 0,
      width: 1200,
      height: 750,
    })
    const gone = windowAround({ width: 9000, height: 9000 }, { x: 9000, y: 9000, width: 0, height: 0 })
    expect(gone.width * gone.height).toBeGreaterThan(0)
  })
  it('holds what is seen until it is moved out of it', () => {
    const size = { width: 8000, height: 8000 }
    const seen = { x: 3000, y: 3000, width: 900, height: 500 }
    const window = windowAround(size, seen)
    expect(holds(window, size, { ...seen, x: 3200, y: 2800 })).toBe(true)
    expect(holds(window, size, { ...seen, x: 4200 })).toBe(false)
    // What lies beside the picture is not missed.
    expect(
      holds({ x: 0, y: 0, width: 100, height: 100 }, { width: 100, height: 100 }, { ...seen, x: -50, y: 0 }),
    ).toBe(true)
  })
})

describe('the order of tiles', () => {
  it('names each once, what is seen first and from its middle outwards', () => {
    const window = { x: 2 * TILE, y: TILE, width: 5 * TILE, height: 4 * TILE + 30 }
    const seen = { x: 3 * TILE + 5, y: 2 * TILE + 5, width: 2 * TILE, height: TILE }
    const { columns, rows, seen: count } = tileOrder(window, seen)
    const names = [...columns].map((tx, i) => `${tx} ${rows[i]}`)
    expect(new Set(names).size).toBe(25)
    expect(count).toBe(6)
    expect(names.slice(0, count).sort()).toEqual(['3 2', '3 3', '4 2', '4 3', '5 2', '5 3'])
    const far = [...columns].map((tx, i) =>
      Math.hypot((tx + 0.5) * TILE - seen.x - TILE, (rows[i] + 0.5) * TILE - seen.y - TILE / 2),
    )
    for (const part of [far.slice(0, count), far.slice(count)])
      expect(part).toEqual([...part].sort((a, b) => a - b))
  })
})
