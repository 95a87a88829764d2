import { describe, expect, it } from 'vitest'
import { ball, cube } from '../testing/shapes'
import { faceNormals, smoothCornerNormals } from './face-normals'
import type { PolygonMesh } from './polygon-mesh'
import { weldPositions } from './weld'

/** The definition, corner by corner over the whole fan, from its last corner to its first. */
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
    for (const { face, angle } of fans.get(welded[vertex]) ?? []) {
      const other = perFace.subarray(3 * face, 3 * face + 3)
      if (other[0] * own[0] + other[1] * own[1] + other[2] * own[2] < cosine) continue
      for (let k = 0; k < 3; k++) sum[k] += other[k] * angle
    }
    const length = Math.sqrt(sum[0] * sum[0] + sum[1] * sum[1] + sum[2] * sum[2])
    for (let k = 0; k < 3; k++) out[3 * c + k] = sum[k] / length
  })
  return out
}

describe('corner normals', () => {
  it.each([
    ['a ball, smooth everywhere', ball(1, 16), 35],
    ['a coarse ball, smooth along one way only', ball(1, 6), 35],
    ['a cube, bent at every vertex', cube(), 35],
    ['a cube within a right angle and more', cube(), 95],
  ])('of %s are those of their definition, to the bit', (_, mesh, creaseDeg) => {
    const { welded, count } = weldPositions(mesh.positions)
    const vertexOf = mesh.cornerVertices.map((v) => welded[v])
    const made = smoothCornerNormals(mesh, vertexOf, count, creaseDeg)
    expect(made).toEqual(byDefinition(mesh, welded, creaseDeg))
  })
})
