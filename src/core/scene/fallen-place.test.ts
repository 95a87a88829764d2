import { expect, it } from 'vitest'
import { fromAbove, fromFront } from '../testing/shapes'
import { normalize } from '../math/vec3'
import { fallenPlace } from './fallen-place'

const frame = { width: 200, height: 100 }
const bounds = { min: [-1, 0, -1], max: [1, 2, 1] } as const
const box = { min: [...bounds.min], max: [...bounds.max] } as never

it('lies as far away as the box is high under a light at 45°', () => {
  const place = fallenPlace(box, fromAbove(10), frame, normalize([-1, 1, 0]))
  // From above the foot is in the middle, the top over it, the shadow two units, a tenth of the width, to the right.
  expect(place?.foot).toEqual([0.5, 0.5])
  expect(place?.head[0]).toBeCloseTo(0.5, 9)
  expect(place?.falls[0]).toBeCloseTo(0.5 + 2 / 20, 9)
  // It would have no breadth: it is laid a fifth of that, 4 pixels, towards the viewer.
  expect(place?.falls[1]).toBeCloseTo(0.5 + 0.04, 9)
})

it('is longer the lower the light is, and comes towards the eye where the light is behind', () => {
  const low = fallenPlace(box, fromAbove(10), frame, normalize([0, 0.5, -1]))
  const high = fallenPlace(box, fromAbove(10), frame, normalize([0, 2, -1]))
  expect(low && high && low.falls[1] - 0.5).toBeCloseTo(4 * ((high?.falls[1] ?? 0) - 0.5), 9)
})

it('ends somewhere under a light that is level or below', () => {
  const place = fallenPlace(box, fromFront(10), frame, [1, 0, 0])
  expect(place?.falls.every(Number.isFinite)).toBe(true)
})
