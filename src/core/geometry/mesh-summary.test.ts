import { expect, it } from 'vitest'
import { cube, cubeFaces, meshOf } from '../testing/shapes'
import { summarizeMesh } from './mesh-summary'

const mesh = {
  ...meshOf(cubeFaces(1)),
  faceParts: Uint32Array.of(0, 0, 2, 2, 2, 2),
  faceMaterials: Uint32Array.of(3, 1, 0, 0, 0, 0),
}

it('counts polygons and materials for each part, those without faces too', () => {
  const { parts, polygonsBySides } = summarizeMesh(mesh, 3)
  expect(parts).toEqual([
    { polygons: 2, sides: { 3: 0, 4: 2, more: 0 }, materials: [1, 3] },
    { polygons: 0, sides: { 3: 0, 4: 0, more: 0 }, materials: [] },
    { polygons: 4, sides: { 3: 0, 4: 4, more: 0 }, materials: [0] },
  ])
  expect(polygonsBySides).toEqual({ 3: 0, 4: 6, more: 0 })
})

it('hashes alike what is alike, and otherwise what moved by one bit', () => {
  const moved = mesh.positions.slice()
  new Uint32Array(moved.buffer)[4] ^= 1
  const hashOf = (m: typeof mesh) => summarizeMesh(m, 3).geometryHash
  expect(hashOf(mesh)).toBe(summarizeMesh({ ...cube(1) }, 3).geometryHash)
  expect(hashOf({ ...mesh, positions: moved })).not.toBe(hashOf(mesh))
})
