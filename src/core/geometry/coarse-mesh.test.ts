import { describe, expect, it } from 'vitest'
import { ball, cube } from '../testing/shapes'
import { coarseMesh } from './coarse-mesh'
import { meshBounds, type PolygonMesh } from './polygon-mesh'
import { faceNormals } from './face-normals'

const triangles = (mesh: PolygonMesh) => mesh.faceStarts.length - 1

describe('a coarse mesh', () => {
  it('has no more triangles than asked for, and the form of the fine one', () => {
    const fine = ball(2, 200)
    const coarse = coarseMesh(fine, 8000)
    expect(triangles(coarse)).toBeLessThanOrEqual(8000)
    expect(triangles(coarse)).toBeGreaterThan(2000)
    // Every corner lies on the ball to within a cell, and is shaded as the ball is there.
    const { min, max } = meshBounds(coarse) ?? { min: [], max: [] }
    const cell = 4 / 20
    for (let axis = 0; axis < 3; axis++) {
      expect(min[axis]).toBeLessThan(-2 + cell)
      expect(max[axis]).toBeGreaterThan(2 - cell)
    }
    for (let c = 0; c < coarse.cornerVertices.length; c++) {
      const place = coarse.positions.subarray(3 * coarse.cornerVertices[c], 3 * coarse.cornerVertices[c] + 3)
      const normal = coarse.cornerNormals.subarray(3 * c, 3 * c + 3)
      const radius = Math.hypot(...place)
      expect(Math.abs(radius - 2)).toBeLessThan(cell)
      const along = (place[0] * normal[0] + place[1] * normal[1] + place[2] * normal[2]) / radius
      expect(along).toBeGreaterThan(0.97)
    }
  })

  it('keeps outside out: its faces look the way those of the fine one do', () => {
    const coarse = coarseMesh(ball(1, 100), 3000)
    const normals = faceNormals(coarse)
    let out = 0
    for (let f = 0; f < triangles(coarse); f++) {
      const at = 3 * coarse.cornerVertices[3 * f]
      const along = [0, 1, 2].reduce((sum, k) => sum + normals[3 * f + k] * coarse.positions[at + k], 0)
      if (along > 0) out++
    }
    expect(out / triangles(coarse)).toBeGreaterThan(0.98)
  })

  it('keeps hard edges hard, and parts, materials, places in pictures and colours with their triangles', () => {
    const fine = cube(1)
    const corners = fine.cornerVertices.length
    const mesh = {
      ...fine,
      faceParts: Uint32Array.of(0, 1, 2, 3, 4, 5),
      faceMaterials: Uint32Array.of(5, 4, 3, 2, 1, 0),
      cornerUvs: Float32Array.from({ length: 2 * corners }, (_, i) => i / 64),
      cornerColours: Uint8Array.from({ length: 3 * corners }, (_, i) => i),
    }
    const coarse = coarseMesh(mesh, 1000)
    expect(triangles(coarse)).toBe(12)
    expect([...new Set(coarse.faceParts)].sort()).toEqual([0, 1, 2, 3, 4, 5])
    coarse.faceParts.forEach((part, f) => expect(coarse.faceMaterials[f]).toBe(5 - part))
    for (let c = 0; c < coarse.cornerVertices.length; c++) {
      const normal = coarse.cornerNormals.subarray(3 * c, 3 * c + 3)
      expect([...normal].map(Math.abs).sort()).toEqual([0, 0, 1])
      // The picture's place tells which corner it was, and the colour tells the same.
      const before = Math.round(((coarse.cornerUvs?.[2 * c] ?? -1) * 64) / 2)
      expect(coarse.cornerColours?.[3 * c]).toBe(3 * before)
      const was = 3 * mesh.cornerVertices[before]
      const now = 3 * coarse.cornerVertices[c]
      expect(coarse.positions.subarray(now, now + 3)).toEqual(mesh.positions.subarray(was, was + 3))
    }
  })
})
