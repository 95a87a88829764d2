import fc from 'fast-check'
import { expect, it } from 'vitest'
import { GrowingFloats } from './growing-array'
import { VertexIndex } from './vertex-index'

it('numbers places as a map by their exact coordinates would, through every growth', () => {
  const coordinate = fc.constantFrom(0, -0, 1, -1, 0.5, 1e-30, 3e20, 0.1)
  fc.assert(
    fc.property(fc.array(fc.tuple(coordinate, coordinate, coordinate), { maxLength: 400 }), (points) => {
      const positions = new GrowingFloats()
      const index = new VertexIndex(positions)
      const known = new Map<string, number>()
      for (const point of points) {
        const key = point.map((v) => Math.fround(v) + 0).join()
        if (!known.has(key)) known.set(key, known.size)
        expect(index.add(...point)).toBe(known.get(key))
      }
      expect(positions.length).toBe(3 * known.size)
    }),
  )
  const positions = new GrowingFloats()
  const index = new VertexIndex(positions)
  for (let round = 0; round < 2; round++)
    for (let i = 0; i < 20_000; i++) expect(index.add(i % 200, Math.floor(i / 200), i % 7)).toBe(i)
})
