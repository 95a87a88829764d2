import { describe, expect, it } from 'vitest'
import { ball, cubeFaces, meshOf } from '../testing/shapes'
import { displayPieces } from './display-pieces'
import type { PolygonMesh } from './polygon-mesh'

const cube = meshOf(cubeFaces(1))

it('keeps the triangles of a part together, by material, with their own corners and normals', () => {
  // Six quads of a cube, turn by turn in three parts; the fourth part is empty.
  const mesh = {
    ...cube,
    faceParts: Uint32Array.of(2, 0, 1, 2, 0, 1),
    faceMaterials: Uint32Array.of(5, 9, 7, 8, 6, 10),
  }
  const pieces = displayPieces(mesh, 4)
  expect(pieces).toHaveLength(1)
  const [{ runs, positions, normals, indices, centre, radius }] = pieces
  expect(runs).toEqual([
    { part: 0, material: 6, first: 0, count: 2 },
    { part: 0, material: 9, first: 2, count: 2 },
    { part: 1, material: 7, first: 4, count: 2 },
    { part: 1, material: 10, first: 6, count: 2 },
    { part: 2, material: 5, first: 8, count: 2 },
    { part: 2, material: 8, first: 10, count: 2 },
  ])
  expect(indices).toHaveLength(36)
  // A cube's face lies where its normal points; four corners of a face are four vertices.
  expect(positions).toHaveLength(3 * 24)
  for (const v of indices) {
    const axis = [0, 1, 2].find((k) => Math.abs(normals[4 * v + k]) > 30000) ?? -1
    expect(positions[3 * v + axis]).toBeCloseTo(normals[4 * v + axis] / 32767, 4)
  }
  expect(centre).toEqual([0, 0, 0])
  expect(radius).toBeCloseTo(Math.sqrt(3), 6)
})

it('makes one vertex of corners that look the same, and as many as there are looks', () => {
  // A smooth ball has one normal at each vertex.
  const smooth = displayPieces(ball(1, 12), 1)
  expect(smooth[0].positions).toHaveLength(3 * (2 + 11 * 24))
  const corners = cube.cornerVertices.length
  const uvs = (at: (corner: number) => number) =>
    Float32Array.from({ length: 2 * corners }, (_, i) => at(i >> 1))
  const round = { ...cube, cornerNormals: new Float32Array(3 * corners).fill(Math.sqrt(1 / 3)) }
  const vertices = (mesh: PolygonMesh) => displayPieces(mesh, 1)[0].positions.length / 3
  expect(vertices(round)).toBe(8)
  expect(vertices({ ...round, cornerUvs: uvs(() => 0.5) })).toBe(8)
  expect(vertices({ ...round, cornerUvs: uvs((corner) => corner) })).toBe(24)
  const colours = Uint8Array.from({ length: 3 * corners }, (_, i) => (i < 12 ? 255 : 0))
  expect(vertices({ ...round, cornerColours: colours })).toBe(12)
  const [painted] = displayPieces({ ...round, cornerColours: colours }, 1)
  expect([...new Set(painted.colours)].sort((a, b) => a - b)).toEqual([0, 65535])
})

describe('a large mesh', () => {
  const mesh = ball(1, 200)
  const pieces = displayPieces(mesh, 1)
  it('comes in pieces that 16 bits can number, and loses no triangle', () => {
    const triangles = pieces.reduce((sum, piece) => sum + piece.indices.length / 3, 0)
    expect(triangles).toBe(400 * 198 * 2 + 2 * 400)
    expect(pieces.length).toBeGreaterThan(3)
    for (const { positions, indices, runs, centre, radius } of pieces) {
      expect(indices.length / 3).toBeLessThanOrEqual(32768)
      expect(Math.max(...indices.subarray(0, 3000))).toBeLessThan(positions.length / 3)
      expect(runs.reduce((sum, run) => sum + run.count, 0)).toBe(indices.length / 3)
      for (let v = 0; v < positions.length; v += 99) {
        const at = positions.subarray(3 * Math.floor(v / 3), 3 * Math.floor(v / 3) + 3)
        expect(Math.hypot(...at.map((value, axis) => value - centre[axis]))).toBeLessThanOrEqual(
          radius + 1e-6,
        )
      }
    }
  })
  it('has every triangle where the mesh has it', () => {
    let area = 0
    for (const { positions, indices } of pieces)
      for (let i = 0; i < indices.length; i += 3) {
        const [a, b, c] = [0, 1, 2].map((k) => positions.subarray(3 * indices[i + k], 3 * indices[i + k] + 3))
        const u = b.map((value, axis) => value - a[axis])
        const v = c.map((value, axis) => value - a[axis])
        area +=
          Math.hypot(u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]) / 2
      }
    expect(area).toBeCloseTo(4 * Math.PI, 2)
  })
})
