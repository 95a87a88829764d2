import { expect, it } from 'vitest'
import { seededRandom } from '../math/sampling'
import { ball, cube } from '../testing/shapes'
import { outlinePoints } from './outline-points'

it('keeps every vertex of a small part, each once', () => {
  const { positions, partStarts } = outlinePoints(cube(1), 2)
  expect([...partStarts]).toEqual([0, 8, 8])
  expect(new Set(Array.from({ length: 8 }, (_, i) => positions.slice(3 * i, 3 * i + 3).join())).size).toBe(8)
})

it.each([64, 300])(
  'reaches as far as the whole mesh of %i rows in any direction, to one percent, and exactly along the axes',
  (rows) => {
    const mesh = ball(2, rows)
    const { positions } = outlinePoints(mesh, 1)
    expect(positions.length / 3).toBeLessThanOrEqual(512)
    expect(mesh.positions.length / 3).toBeGreaterThan(2000)
    const reach = (points: Float32Array, d: readonly number[]) => {
      let best = -Infinity
      for (let i = 0; i < points.length; i += 3)
        best = Math.max(best, points[i] * d[0] + points[i + 1] * d[1] + points[i + 2] * d[2])
      return best
    }
    const random = seededRandom(6)
    for (let i = 0; i < 300; i++) {
      const raw = [random() - 0.5, random() - 0.5, random() - 0.5]
      const d = raw.map((v) => v / Math.hypot(...raw))
      const share = reach(positions, d) / reach(mesh.positions, d)
      expect(share).toBeGreaterThan(0.99)
      expect(share).toBeLessThanOrEqual(1)
    }
    for (const d of [
      [1, 0, 0],
      [0, -1, 0],
      [0, 0, 1],
    ])
      expect(reach(positions, d)).toBe(reach(mesh.positions, d))
  },
)
