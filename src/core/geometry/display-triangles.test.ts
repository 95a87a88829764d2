import { expect, it } from 'vitest'
import { meshOf, cubeFaces } from '../testing/shapes'
import { displayTriangles } from './display-triangles'

it('keeps the triangles of a part together, with their own corners, normals and materials', () => {
  const cube = meshOf(cubeFaces(1))
  // Six quads of a cube, turn by turn in three parts; the fourth part is empty.
  const mesh = {
    ...cube,
    faceParts: Uint32Array.of(2, 0, 1, 2, 0, 1),
    faceMaterials: Uint32Array.of(5, 6, 7, 8, 9, 10),
  }
  const { positions, normals, materials, partStarts } = displayTriangles(mesh, 4)
  expect([...partStarts]).toEqual([0, 4, 8, 12, 12])
  expect([...materials]).toEqual([6, 6, 9, 9, 7, 7, 10, 10, 5, 5, 8, 8])
  for (let t = 0; t < 12; t++) {
    const axis = [0, 1, 2].find((k) => Math.abs(normals[9 * t + k]) > 0.9) ?? -1
    // A cube's face lies where its normal points.
    for (let k = 0; k < 3; k++) expect(positions[9 * t + 3 * k + axis]).toBeCloseTo(normals[9 * t + axis], 6)
  }
})
