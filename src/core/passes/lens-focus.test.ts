import { describe, expect, it } from 'vitest'
import { plainLens, type Camera } from '../scene/camera'
import { meshOf, renderPass, sceneModel } from '../testing/shapes'

/** A camera at +Z that looks to the origin's side, and a sheet to the left of the axis at some distance before it. */
const CAMERA: Camera = { ...plainLens(), eye: [0, 0, 0], target: [0, 0, -5], fovDeg: 40 }
const sheet = (distance: number) =>
  sceneModel(
    meshOf([
      [
        [-100, -100, -distance],
        [0, -100, -distance],
        [0, 100, -distance],
        [-100, 100, -distance],
      ],
    ]),
    'sheet',
  )
const SIDE = 64
/** Coverage along the middle row: 1 left of the sheet's edge, 0 right of it, and between where it is out of focus. */
function edge(distance: number, blur: number): Float32Array {
  const { channel } = renderPass(
    'occlusion',
    [sheet(distance)],
    CAMERA,
    { width: SIDE, height: SIDE },
    {
      effort: { samples: 64, rays: 0 },
      focus: { distance: 5, blur },
    },
  )
  const alpha = channel('A')
  // The mean over rows: each has other places on the lens.
  return Float32Array.from({ length: SIDE }, (_, x) => {
    let sum = 0
    for (let y = 0; y < SIDE; y++) sum += alpha[y * SIDE + x]
    return sum / SIDE
  })
}

describe('depth of field', () => {
  it('leaves sharp what is in focus, at any width of the lens', () => {
    const values = edge(5, 0.5)
    for (let x = 0; x < SIDE; x++) expect(values[x]).toBe(x < SIDE / 2 ? 1 : 0)
  })
  it.each([
    [10, 0.4],
    [50, 0.2],
    [2.5, 0.2],
  ])('spreads an edge at %d over blur · |d − s| / d of the height', (distance, blur) => {
    const values = edge(distance, blur)
    const spot = (blur * Math.abs(distance - 5)) / distance
    const at = (share: number) => values[Math.round(SIDE / 2 + share * SIDE - 0.5)]
    expect((values[SIDE / 2 - 1] + values[SIDE / 2]) / 2).toBeCloseTo(0.5, 1)
    expect(at(-spot / 2 - 2 / SIDE)).toBe(1)
    expect(at(spot / 2 + 2 / SIDE)).toBe(0)
    // Half a radius in, the disc is covered but for a circular segment of that height.
    const h = 0.5
    const covered = 1 - (Math.acos(h) - h * Math.sqrt(1 - h * h)) / Math.PI
    expect(at(-spot / 4)).toBeCloseTo(covered, 1)
  })
})
