import { expect, it } from 'vitest'
import { NO_SURFACE } from './id'
import { PixelSurfaces } from './pixel-surfaces'

it('ranks the surfaces of a pixel by what they cover, the lower number first where two cover as much', () => {
  const surfaces = new PixelSurfaces(2)
  for (const [surface, share] of [
    [9, 0.1],
    [4, 0.2],
    [9, 0.3],
    [7, 0.2],
  ])
    surfaces.add(1, surface, share)
  const [a, b, c, wa, wb, wc] = surfaces.ranked(3)
  expect([a[1], b[1], c[1]]).toEqual([9, 4, 7])
  expect([wa[1], wb[1], wc[1]].map((w) => Math.round(w * 10))).toEqual([4, 2, 2])
  expect([a[0], wa[0]]).toEqual([NO_SURFACE, 0])
})

it('loses nothing: what has no place of its own counts with the largest, or with the last that had room', () => {
  const surfaces = new PixelSurfaces(1)
  for (let surface = 0; surface < 40; surface++) surfaces.add(0, surface, surface === 3 ? 0.22 : 0.02)
  const ranked = surfaces.ranked(4)
  expect(ranked[0][0]).toBe(15)
  const total = ranked.slice(4).reduce((sum, plane) => sum + plane[0], 0)
  expect(total).toBeCloseTo(1, 6)
})
