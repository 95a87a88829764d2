import { describe, expect, it } from 'vitest'
import { inBlocks, TILE } from '../picture/tile-form'
import { fromFront } from '../testing/shapes'
import type { Camera } from '../scene/camera'
import { carryOver, isSameView, type CarryView } from './carry-over'
import { placeName } from './paint-grid'

const SIZE = { width: 256, height: 256 }
const PLACED = { x: 0, y: 0, ...SIZE }
const WORDS = 4 * TILE * TILE

/** Paint worked out for each pixel: red by its column, alpha. */
function paintOf(alphaAt: (x: number, y: number) => number) {
  const tiles: Record<string, string> = {}
  const held = new Map<string, Uint16Array>()
  for (let ty = 0; ty < 2; ty++)
    for (let tx = 0; tx < 2; tx++) {
      const words = new Uint16Array(WORDS)
      for (let i = 0; i < TILE * TILE; i++) {
        const [x, y] = [tx * TILE + (i % TILE), ty * TILE + Math.floor(i / TILE)]
        words[inBlocks(i, 0)] = 200 * x
        words[inBlocks(i, 1)] = 200 * y
        words[inBlocks(i, 3)] = 65535 * alphaAt(x, y)
      }
      const name = `tile ${tx} ${ty}`
      tiles[placeName(tx, ty)] = name
      held.set(name, words)
    }
  return { grid: { ...SIZE, tiles }, tile: (name: string) => held.get(name) ?? null }
}
const pixel = (tiles: ReadonlyMap<string, Uint16Array>, x: number, y: number) => {
  const words = tiles.get(placeName(Math.floor(x / TILE), Math.floor(y / TILE)))
  const at = inBlocks((y % TILE) * TILE + (x % TILE), 0)
  return words ? [0, 4, 8, 12].map((c) => words[at + c]) : [0, 0, 0, 0]
}
/** A view of which every pixel's depth is worked out. */
const view = (camera: Camera, depthAt: (x: number, y: number) => number): CarryView => ({
  camera,
  frame: SIZE,
  placed: PLACED,
  depths: Float32Array.from({ length: 256 * 256 }, (_, i) => depthAt(i % 256, Math.floor(i / 256))),
})
const square = (x: number, y: number) => (x >= 80 && x < 160 && y >= 90 && y < 150 ? 1 : 0)

describe('paint on a wall that faces the viewer', () => {
  // Ten units of the world in 256 pixels.
  const straight = fromFront(10)
  const moved = (dx: number, dy: number): Camera => ({ ...straight, eye: [dx, dy, 10], target: [dx, dy, 0] })
  const { grid, tile } = paintOf(square)
  const wall = () => 10

  it('moves against a camera that moves along it, by as much', () => {
    const pixels = 256 / 10
    const { carried, left, leftShare } = carryOver(
      grid,
      tile,
      view(straight, wall),
      view(moved(20 / pixels, -12 / pixels), wall),
    )
    expect(leftShare).toBe(0)
    expect(left.size).toBe(0)
    for (const [x, y] of [
      [61, 79],
      [100, 110],
      [127, 130],
      [138, 136],
    ]) {
      const found = pixel(carried, x, y)
      expect(found[3]).toBe(65535)
      // It came from 20 pixels to the right, 12 below.
      expect(Math.abs(found[0] - 200 * (x + 20))).toBeLessThan(3)
      expect(Math.abs(found[1] - 200 * (y + 12))).toBeLessThan(3)
    }
    expect(pixel(carried, 58, 100)[3]).toBe(0)
    expect(pixel(carried, 142, 100)[3]).toBe(0)
  })
  it('grows as the eye comes nearer', () => {
    const lens = { target: [0, 0, 0], fovDeg: 53.13010235415598, orthoHeight: null } as const
    const far = view({ ...lens, eye: [0, 0, 10] }, () => 10)
    const near = view({ ...lens, eye: [0, 0, 5] }, () => 5)
    const { carried, leftShare } = carryOver(grid, tile, far, near)
    // Twice as large about the middle: what was at 128 + d is at 128 + 2d.
    const found = pixel(carried, 128 + 2 * 20, 128 + 2 * 10)
    expect(found[3]).toBe(65535)
    expect(Math.abs(found[0] - 200 * (128 + 20 - 0.25))).toBeLessThan(60)
    // The square's corner is 48 to the left: at 32 now.
    expect(pixel(carried, 34, 128)[3]).toBe(65535)
    expect(pixel(carried, 29, 128)[3]).toBe(0)
    expect(leftShare).toBe(0)
  })
  it('comes back as it was', () => {
    const there = carryOver(grid, tile, view(straight, wall), view(moved(1.5, 0.25), wall))
    const names = Object.fromEntries([...there.carried.keys()].map((place) => [place, place]))
    const back = carryOver(
      { ...SIZE, tiles: names },
      (name) => there.carried.get(name) ?? null,
      view(moved(1.5, 0.25), wall),
      view(straight, wall),
    )
    for (let y = 95; y < 145; y += 7)
      for (let x = 85; x < 155; x += 7) {
        const found = pixel(back.carried, x, y)
        expect(found[3]).toBe(65535)
        expect(Math.abs(found[0] - 200 * x)).toBeLessThan(4)
      }
  })
  it('is told where something stands before it now, or it is out of sight', () => {
    const post = (x: number) => (x >= 100 && x < 120 ? 5 : 10)
    const hidden = carryOver(
      grid,
      tile,
      view(straight, wall),
      view(straight, (x) => post(x)),
    )
    expect(hidden.leftShare).toBeCloseTo(20 / 80, 1)
    expect(pixel(hidden.left, 110, 100)[3]).toBe(65535)
    expect(pixel(hidden.left, 90, 100)[3]).toBe(0)
    expect(pixel(hidden.carried, 110, 100)[3]).toBe(0)
    expect(pixel(hidden.carried, 90, 100)[3]).toBe(65535)
    const gone = carryOver(grid, tile, view(straight, wall), view(moved(40, 0), wall))
    expect(gone.leftShare).toBe(1)
    expect(gone.carried.size).toBe(0)
  })
  it('stays where nothing is, and is left where something is now', () => {
    const sky = view(straight, () => 0)
    const still = carryOver(
      grid,
      tile,
      sky,
      view(moved(3, 0), () => Infinity),
    )
    expect(still.leftShare).toBe(0)
    expect(pixel(still.carried, 100, 100)).toEqual([20000, 20000, 0, 65535])
    expect(carryOver(grid, tile, sky, view(straight, wall)).leftShare).toBe(1)
  })
  it('ends when it is told to', () => {
    const stop = () => {
      throw new Error('enough')
    }
    expect(() => carryOver(grid, tile, view(straight, wall), view(straight, wall), stop)).toThrow('enough')
  })
})

it('tells whether a shot has moved', () => {
  const camera = fromFront(4)
  expect(isSameView({ camera }, { camera: { ...camera } })).toBe(true)
  expect(isSameView({ camera }, { camera: { ...camera, eye: [0, 0, 11] } })).toBe(false)
  expect(isSameView({ camera }, { camera: { ...camera, orthoHeight: 5 } })).toBe(false)
})
