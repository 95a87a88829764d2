import { describe, expect, it } from 'vitest'
import { fromFront } from '../testing/shapes'
import { partsWindow } from './parts-window'

const FRAME = { width: 64, height: 32 }
/** Sees eight units across and four down: eight pixels a unit, the origin in the middle. */
const CAMERA = fromFront(4)
const boxes = (...list: number[][]) => Float32Array.from(list.flat())
const window = (list: number[][], side = 4, camera = CAMERA) =>
  partsWindow(boxes(...list), [...list.keys()], camera, FRAME, side)

describe('the window of parts', () => {
  it('is what its boxes are seen in, with a margin, in whole tiles', () => {
    // From pixel 32 to 40 across, 8 to 16 down.
    expect(window([[0, 0, 0, 1, 1, 1]], 1)).toEqual({ x: 30, y: 6, width: 12, height: 12 })
    expect(window([[0, 0, 0, 1, 1, 1]], 8)).toEqual({ x: 24, y: 0, width: 24, height: 24 })
    const two = window([
      [0, 0, 0, 1, 1, 1],
      [-3, -1, 0, -2.5, 0, 0],
    ])
    expect(two).toEqual({ x: 4, y: 4, width: 40, height: 24 })
  })
  it('ends at the frame, and is none beside it', () => {
    expect(window([[-9, -9, 0, 9, 9, 0]])).toEqual({ x: 0, y: 0, ...FRAME })
    expect(window([[7, 0, 0, 8, 1, 0]])).toBeNull()
    expect(window([[Infinity, Infinity, Infinity, -Infinity, -Infinity, -Infinity]])).toBeNull()
    expect(window([])).toBeNull()
  })
  it('is the whole frame where a part reaches past the eye, and none where all is behind it', () => {
    const camera = { eye: [0, 0, 5], target: [0, 0, 0], fovDeg: 40, orthoHeight: null } as const
    expect(window([[-0.1, -0.1, 0, 0.1, 0.1, 9]], 4, camera)).toEqual({ x: 0, y: 0, ...FRAME })
    expect(window([[-0.1, -0.1, 6, 0.1, 0.1, 9]], 4, camera)).toBeNull()
  })
})
