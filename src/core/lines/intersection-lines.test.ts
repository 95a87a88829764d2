import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import type { PolygonMesh } from '../geometry/polygon-mesh'
import type { Vec3 } from '../math/vec3'
import { buildSceneGeometry } from '../scene/scene-geometry'
import { ball, cubeFaces, meshOf, sceneModel } from '../testing/shapes'
import { intersectionLines } from './intersection-lines'
import { lineTopology } from './line-topology'
import { ID_NUMBERS, PLACE_NUMBERS, SegmentList } from './segment-list'

/** Segments where parts run through each other, with how they hang together. */
function rings(meshes: readonly PolygonMesh[]) {
  const scene = buildSceneGeometry(meshes.map((mesh, i) => sceneModel(mesh, `part ${i}`)))
  const list = new SegmentList()
  intersectionLines(lineTopology(scene), scene, null, 1000, list)
  const { ids, places, count } = list
  const degrees = new Map<number, number>()
  const leader = new Map<number, number>()
  const find = (n: number): number => (leader.get(n) === n ? n : find(leader.get(n) ?? n))
  let length = 0
  for (let s = 0; s < count; s++) {
    const [a, b] = [ids[ID_NUMBERS * s], ids[ID_NUMBERS * s + 1]]
    for (const n of [a, b]) {
      degrees.set(n, (degrees.get(n) ?? 0) + 1)
      if (!leader.has(n)) leader.set(n, n)
    }
    leader.set(find(a), find(b))
    const p = places.subarray(PLACE_NUMBERS * s, PLACE_NUMBERS * (s + 1))
    length += Math.hypot(p[0] - p[3], p[1] - p[4], p[2] - p[5])
  }
  return {
    count,
    length,
    /** Ends that hang loose: a whole ring has none. */
    loose: [...degrees.values()].filter((d) => d % 2 === 1).length,
    rings: new Set([...leader.keys()].map(find)).size,
  }
}

const moved = (mesh: PolygonMesh, x: number, y = 0, z = 0): PolygonMesh => ({
  ...mesh,
  positions: mesh.positions.map((v, i) => v + [x, y, z][i % 3]),
})
/** Mirrored at x = 0, to the bit, its faces turned over so that they look outwards again. */
function mirrored(mesh: PolygonMesh): PolygonMesh {
  const faces: Vec3[][] = []
  const { positions, faceStarts, cornerVertices } = mesh
  for (let f = 0; f + 1 < faceStarts.length; f++) {
    const face: Vec3[] = []
    for (let c = faceStarts[f + 1] - 1; c >= faceStarts[f]; c--) {
      const v = 3 * cornerVertices[c]
      face.push([-positions[v], positions[v + 1], positions[v + 2]])
    }
    faces.push(face)
  }
  return meshOf(faces)
}
const box = (min: Vec3, max: Vec3): PolygonMesh =>
  meshOf(
    cubeFaces(0.5).map((face) =>
      face.map((p): Vec3 => {
        const at = (axis: number) => (p[axis] > 0 ? max[axis] : min[axis])
        return [at(0), at(1), at(2)]
      }),
    ),
  )
/** A tube along an axis, open at both ends. */
function tube(axis: 0 | 1, radius: number, sides: number, half: number, pieces: number): PolygonMesh {
  const at = (i: number, along: number): Vec3 => {
    const angle = (2 * Math.PI * i) / sides
    const [a, b] = [radius * Math.cos(angle), radius * Math.sin(angle)]
    return axis === 0 ? [along, a, b] : [b, along, a]
  }
  const faces: Vec3[][] = []
  for (let k = 0; k < pieces; k++) {
    const [from, to] = [k, k + 1].map((n) => -half + (2 * half * n) / pieces)
    for (let i = 0; i < sides; i++)
      faces.push([at(i, from), at((i + 1) % sides, from), at((i + 1) % sides, to), at(i, to)])
  }
  return meshOf(faces)
}

describe('intersectionLines', () => {
  it.each([
    [40, 37],
    [12, 12],
    [64, 5],
  ])('are one whole ring for two balls of %i and %i rows', (rows, others) => {
    const found = rings([moved(ball(1, rows), -0.6), moved(ball(1, others), 0.6)])
    expect([found.loose, found.rings]).toEqual([0, 1])
    // Radius √(1 − 0.6²) = 0.8; flat facets lie within it.
    const facets = (Math.PI / Math.min(rows, others)) ** 2
    expect(found.length).toBeLessThan(2 * Math.PI * 0.8 * 1.001)
    expect(found.length).toBeGreaterThan(2 * Math.PI * 0.8 * (1 - 2 * facets))
  })
  it.each([4, 8, 9, 12, 24, 48])('are one whole ring for a ball of %i rows and its mirror image', (rows) => {
    const one = moved(ball(1, rows), -0.6)
    const found = rings([one, mirrored(one)])
    expect([found.loose, found.rings]).toEqual([0, 1])
    expect(found.length).toBeGreaterThan(2 * Math.PI * 0.8 * (1 - 1.2 * (Math.PI / rows) ** 2))
  })
  it('are one ring where the mirror lies in the vertices themselves', () => {
    // At a step of the ball's rows: a whole row of vertices is shared.
    const rows = 12
    const one = moved(ball(1, rows), 0)
    const xs = [...one.positions].filter((_, i) => i % 3 === 0)
    const at = xs.find((x) => x > 0.4 && x < 0.8) ?? 0.5
    const shifted = moved(one, -at)
    const found = rings([shifted, mirrored(shifted)])
    expect(found.loose).toBe(0)
    expect(found.length).toBeGreaterThan(0.9 * 2 * Math.PI * Math.sqrt(1 - at * at))
  })
  it('are two whole rings for crossing tubes, thin through thick', () => {
    for (const [sides, others] of [
      [24, 16],
      [32, 32],
      [17, 9],
    ]) {
      const found = rings([tube(0, 1, sides, 3, 7), tube(1, 0.5, others, 3, 5)])
      expect([found.loose, found.rings]).toEqual([0, 2])
      // A little longer than a circle: the curve bends with the thick tube.
      expect(found.length).toBeGreaterThan(2 * 2 * Math.PI * 0.5 * 0.96)
      expect(found.length).toBeLessThan(2 * 2 * Math.PI * 0.5 * 1.08)
    }
  })
  it('are whole for tubes of one size, which meet edge in edge', () => {
    const found = rings([tube(0, 1, 16, 3, 6), tube(1, 1, 16, 3, 6)])
    expect(found.loose).toBe(0)
    // Two ellipses with half axes 1 and √2.
    expect(found.length).toBeGreaterThan(0.9 * 2 * 7.64)
  })
  it('run round a form that stands on another, and round one let into it flush', () => {
    const floor = box([-4, -1, -4], [4, 0, 4])
    expect(rings([floor, box([-1, 0, -1], [1, 2, 1])])).toMatchObject({ loose: 0, rings: 1, length: 8 })
    const flush = rings([floor, box([-1, -1, -1], [1, 0, 1])])
    expect(flush.loose).toBe(0)
  })
  it('are none where one form lies in the other, or where both are the same', () => {
    expect(rings([ball(1, 12), ball(0.5, 9)]).count).toBe(0)
    expect(rings([ball(1, 12), ball(1, 12)]).count).toBe(0)
    expect(rings([box([0, 0, 0], [1, 1, 1]), box([0, 0, 0], [1, 1, 1])]).count).toBe(0)
  })
  it('end where an open form does', () => {
    const sheet = meshOf([
      [
        [-0.5, 0, -3],
        [-0.5, 0, 3],
        [3, 0, 3],
        [3, 0, -3],
      ],
    ])
    const found = rings([ball(1, 16), sheet])
    expect([found.loose, found.rings]).toEqual([2, 1])
  })
  it('are whole for any boxes on a coarse lattice, where nearly everything coincides', () => {
    const coordinate = fc.integer({ min: 0, max: 3 })
    const corner = fc.tuple(coordinate, coordinate, coordinate)
    const anyBox = fc.tuple(corner, corner).map(([a, b]) => {
      const [x, y, z] = a.map((v, i) => Math.min(v, b[i]))
      return box(
        [x, y, z],
        [Math.max(a[0], b[0], x + 1), Math.max(a[1], b[1], y + 1), Math.max(a[2], b[2], z + 1)],
      )
    })
    fc.assert(
      fc.property(fc.array(anyBox, { minLength: 2, maxLength: 4 }), (boxes) => {
        expect(rings(boxes).loose).toBe(0)
      }),
      { numRuns: 400, seed: 4 },
    )
  })
})
