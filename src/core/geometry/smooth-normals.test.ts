import { describe, expect, it } from 'vitest'
import { seededRandom } from '../math/sampling'
import { ball, cube } from '../testing/shapes'
import { faceNormals } from './face-normals'
import type { PolygonMesh } from './polygon-mesh'
import { smoothCornerNormals } from './smooth-normals'
import { weldPositions } from './weld'

/** The definition, corner by corner over the whole fan, from its last corner to its first; no number where a fan's faces make nothing of each other. */
function byDefinition(mesh: PolygonMesh, welded: Uint32Array, creaseDeg: number): Float32Array {
  const { positions, faceStarts, cornerVertices } = mesh
  const perFace = faceNormals(mesh)
  const cosine = Math.cos((creaseDeg * Math.PI) / 180)
  const fans = new Map<number, { face: number; angle: number }[]>()
  const faceOf: number[] = []
  for (let f = 0; f + 1 < faceStarts.length; f++) {
    const [start, end] = [faceStarts[f], faceStarts[f + 1]]
    for (let c = start; c < end; c++) {
      faceOf[c] = f
      const at = (corner: number) => 3 * cornerVertices[corner]
      const [here, before, after] = [
        at(c),
        at(c === start ? end - 1 : c - 1),
        at(c === end - 1 ? start : c + 1),
      ]
      const u = [0, 1, 2].map((k) => positions[before + k] - positions[here + k])
      const v = [0, 1, 2].map((k) => positions[after + k] - positions[here + k])
      const cross = [u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]]
      const across = Math.sqrt(cross[0] * cross[0] + cross[1] * cross[1] + cross[2] * cross[2])
      const angle = Math.fround(Math.atan2(across, u[0] * v[0] + u[1] * v[1] + u[2] * v[2]))
      const vertex = welded[cornerVertices[c]]
      fans.set(vertex, [{ face: f, angle }, ...(fans.get(vertex) ?? [])])
    }
  }
  const out = new Float32Array(3 * cornerVertices.length)
  cornerVertices.forEach((vertex, c) => {
    const own = perFace.subarray(3 * faceOf[c], 3 * faceOf[c] + 3)
    const sum = [0, 0, 0]
    let weights = 0
    for (const { face, angle } of fans.get(welded[vertex]) ?? []) {
      const other = perFace.subarray(3 * face, 3 * face + 3)
      if (other[0] * own[0] + other[1] * own[1] + other[2] * own[2] < cosine) continue
      for (let k = 0; k < 3; k++) sum[k] += other[k] * angle
      weights += angle
    }
    const length = Math.sqrt(sum[0] * sum[0] + sum[1] * sum[1] + sum[2] * sum[2])
    for (let k = 0; k < 3; k++) out[3 * c + k] = length > 1e-2 * weights ? sum[k] / length : NaN
  })
  return out
}

describe('corner normals', () => {
  it.each([
    ['a ball, smooth everywhere', ball(1, 16), 35],
    ['a coarse ball, smooth along one way only', ball(1, 6), 35],
    ['a cube, bent at every vertex', cube(), 35],
    ['a cube within a right angle and more', cube(), 95],
  ])('of %s are those of their definition', (_, mesh, creaseDeg) => {
    const { welded, count } = weldPositions(mesh.positions)
    const vertexOf = mesh.cornerVertices.map((v) => welded[v])
    const made = smoothCornerNormals(mesh, vertexOf, count, creaseDeg)
    byDefinition(mesh, welded, creaseDeg).forEach((value, i) => expect(made[i]).toBeCloseTo(value, 6))
  })
  it.each([
    ['polygons of any number of sides', 0.7],
    ['triangles alone', 1],
  ])('are the same on %s and any shape, empty ones among them', (_, triangles) => {
    const random = seededRandom(11)
    const places = 40
    const positions = Float32Array.from({ length: 3 * places }, () => {
      const scale = [1e-20, 1e-3, 1, 1e4][Math.floor(random() * 4)]
      return random() < 0.1 ? 0 : (random() - 0.5) * scale
    })
    const starts = [0]
    const corners: number[] = []
    for (let f = 0; f < 400; f++) {
      const sides = random() < triangles ? 3 : 3 + Math.floor(random() * 5)
      const first = Math.floor(random() * places)
      // Corners may be the same place, or run along a line and back: faces without area, corners without an angle.
      for (let k = 0; k < sides; k++) corners.push((first + Math.floor(random() * 6) * k) % places)
      starts.push(corners.length)
    }
    const mesh = {
      ...cube(),
      positions,
      faceStarts: Uint32Array.from(starts),
      cornerVertices: Uint32Array.from(corners),
    }
    const { welded, count } = weldPositions(positions)
    const vertexOf = mesh.cornerVertices.map((v) => welded[v])
    const made = smoothCornerNormals(mesh, vertexOf, count, 180)
    const expected = byDefinition(mesh, welded, 180)
    let compared = 0
    for (let c = 0; c < corners.length; c++) {
      const own = expected.subarray(3 * c, 3 * c + 3)
      if (own.some(Number.isNaN)) continue
      compared++
      own.forEach((value, k) => expect(made[3 * c + k]).toBeCloseTo(value, 4))
    }
    expect(compared).toBeGreaterThan(800)
  })
})
