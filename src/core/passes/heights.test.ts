import { describe, expect, it } from 'vitest'
import { decodeChannel } from '../picture/channel'
import type { Camera } from '../scene/camera'
import { cube, renderPass, sceneModel, square } from '../testing/shapes'
import { heightIn } from './depth'

const SIZE = { width: 60, height: 40 }
const slanted: Camera = { eye: [3, 4, 5], target: [0.2, 0.4, -0.3], fovDeg: 35, orthoHeight: null }

/** Heights of pixels that are covered whole, in world units. */
function heightsSeen(camera: Camera, models: Parameters<typeof renderPass>[1]): number[] {
  const { result } = renderPass('depth', models, camera, SIZE)
  const height = heightIn(result.facts)
  if (!height) throw new Error('the pass tells no heights')
  const [z, a] = [0, 1].map((c) => {
    const out = new Float32Array(SIZE.width * SIZE.height)
    const format = c === 0 ? ('float32' as const) : ('half' as const)
    decodeChannel({ name: 'x', format, data: result.channels[c] }, 0, out.length, out)
    return out
  })
  const { low, high } = result.facts as { readonly low: number; readonly high: number }
  return [...z].flatMap((depth, i) =>
    a[i] < 1
      ? []
      : low + (high - low) * height((i % SIZE.width) + 0.5, Math.floor(i / SIZE.width) + 0.5, depth),
  )
}

describe('heights that the depth pass tells', () => {
  it.each([
    ['in perspective', slanted],
    ['in parallel', { ...slanted, orthoHeight: 4 }],
    ['through a lens that is shifted', { ...slanted, shift: [0.2, -0.1] as [number, number] }],
  ])('are those of a level plane everywhere, %s', (_, camera) => {
    const cubes = [sceneModel(square(9, 0.7)), sceneModel(cube(0.2), 'below')]
    const seen = heightsSeen(camera, cubes)
    expect(seen.length).toBeGreaterThan(500)
    // Depths are means over pixels.
    for (const height of seen) expect(Math.abs(height - 0.7)).toBeLessThan(0.01)
  })
  it('lie between the foot and the top of a cube', () => {
    const seen = heightsSeen(slanted, [sceneModel(cube(1))])
    expect(Math.min(...seen)).toBeGreaterThan(-1.1)
    expect(Math.max(...seen)).toBeLessThan(1.1)
    expect(Math.max(...seen)).toBeGreaterThan(0.95)
  })
  it('are not told by a pass that was rendered before they were', () =>
    expect(heightIn({ near: 1, far: 2 })).toBeNull())
})
