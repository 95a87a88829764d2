import { describe, expect, it } from 'vitest'
import { setPivot } from './set-pivot'

const FRAME = { width: 200, height: 100 }
const camera = (orthoHeight: number | null) => ({
  eye: [0, 0, 10] as [number, number, number],
  target: [0, 0, 0] as [number, number, number],
  fovDeg: 90,
  orthoHeight,
})
const BOXES = Float32Array.of(
  -1,
  -1,
  -1,
  1,
  1,
  1,
  3,
  1,
  -1,
  5,
  3,
  1,
  Infinity,
  Infinity,
  Infinity,
  -Infinity,
  -Infinity,
  -Infinity,
  0,
  0,
  11,
  1,
  1,
  12,
)

describe('the pivot of a set', () => {
  it('is the middle of its box as the camera sees it', () => {
    expect(setPivot(BOXES, [0], camera(10), FRAME)).toEqual({ x: 100, y: 50 })
    // Ten units are a hundred pixels; up is up.
    expect(setPivot(BOXES, [1], camera(10), FRAME)).toEqual({ x: 140, y: 30 })
    expect(setPivot(BOXES, [0, 1], camera(10), FRAME)).toEqual({ x: 120, y: 40 })
    // Ninety degrees at ten units: twenty units high.
    expect(setPivot(BOXES, [1], camera(null), FRAME)).toEqual({ x: 120, y: 40 })
  })
  it('is none of what has no shape or lies behind the camera', () => {
    expect(setPivot(BOXES, [2], camera(10), FRAME)).toBeNull()
    expect(setPivot(BOXES, [], camera(10), FRAME)).toBeNull()
    expect(setPivot(BOXES, [3], camera(null), FRAME)).toBeNull()
  })
})
