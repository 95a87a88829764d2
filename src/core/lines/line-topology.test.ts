import { describe, expect, it } from 'vitest'
import { IDENTITY, placementMatrix } from '../scene/placement'
import { buildSceneGeometry, type SceneModel } from '../scene/scene-geometry'
import type { Vec3 } from '../math/vec3'
import { ball, cube, cubeFaces, meshOf, sceneModel, square } from '../testing/shapes'
import { lineTopology, NONE, type LineTopology } from './line-topology'
import { surfaceCurvature } from './surface-curvature'

const topologyOf = (...meshes: Parameters<typeof sceneModel>[0][]): LineTopology =>
  lineTopology(buildSceneGeometry(meshes.map((mesh, i) => sceneModel(mesh, `p${i}`))))
const count = (t: LineTopology, test: (e: number) => boolean): number =>
  Array.from({ length: t.edgeCount }, (_, e) => e).filter(test).length

describe('lineTopology', () => {
  it('pairs the sides of a cube: twelve hard edges, six diagonals over which it is flat', () => {
    const t = topologyOf(cube())
    expect([t.positions.length / 3, t.triangleCount, t.edgeCount]).toEqual([8, 12, 18])
    expect(count(t, (e) => t.edgeSmooth[e] === 1)).toBe(6)
    expect(count(t, (e) => t.edgeTriangles[2 * e + 1] === NONE)).toBe(0)
    // A wedge for each corner of each face.
    expect(t.wedgeVertices.length).toBe(24)
  })
  it('tells smooth patches apart: six on a cube, one on a ball, one a copy', () => {
    const patchesOf = (model: SceneModel) => new Set(lineTopology(buildSceneGeometry([model])).patches).size
    expect(patchesOf(sceneModel(cube(1)))).toBe(6)
    expect(patchesOf(sceneModel(ball(1, 8)))).toBe(1)
    const aside = placementMatrix({ position: [3, 0, 0], rotationDeg: [0, 0, 0], scale: [1, 1, 1] })
    expect(patchesOf({ ...sceneModel(ball(1, 8)), transforms: [IDENTITY, aside] })).toBe(2)
  })
  it('gives a ball one wedge a vertex, and every edge two triangles', () => {
    const t = topologyOf(ball(1, 12))
    expect(t.wedgeVertices.length).toBe(t.positions.length / 3)
    expect(count(t, (e) => t.edgeSmooth[e] === 0)).toBe(0)
    // Euler: V − E + F = 2.
    expect(t.positions.length / 3 - t.edgeCount + t.triangleCount).toBe(2)
  })
  it('keeps sides of touching parts with their own part, and joins parts of one surface', () => {
    const beside = meshOf(cubeFaces(1).map((face) => face.map((p): Vec3 => [p[0] + 2, p[1], p[2]])))
    const t = topologyOf(cube(), beside)
    expect(t.edgeCount).toBe(36)
    expect(count(t, (e) => t.parts[t.edgeTriangles[2 * e]] !== t.parts[t.edgeTriangles[2 * e + 1]])).toBe(0)
    const half = meshOf([
      [
        [1, 0, 1],
        [3, 0, 1],
        [3, 0, -1],
        [1, 0, -1],
      ],
    ])
    const joined = topologyOf(square(1), half)
    expect(
      count(joined, (e) => {
        const [a, b] = [joined.edgeTriangles[2 * e], joined.edgeTriangles[2 * e + 1]]
        return b !== NONE && joined.parts[a] !== joined.parts[b]
      }),
    ).toBe(1)
  })
  it('tells edges over which the surface turns its other side up', () => {
    const turned = meshOf([
      [
        [0, 0, 0],
        [1, 0, 0],
        [1, 1, 0],
        [0, 1, 0],
      ],
      [
        [1, 0, 0],
        [1, 1, 0],
        [2, 1, 0],
        [2, 0, 0],
      ],
    ])
    const t = topologyOf(turned)
    expect(count(t, (e) => t.edgeTurned[e] === 1)).toBe(1)
    expect(count(t, (e) => t.edgeTurned[e] === 1 && t.edgeSmooth[e] === 1)).toBe(0)
  })
})

describe('surfaceCurvature', () => {
  /** Principal curvatures of every wedge, the larger first. */
  const principal = (t: LineTopology): [number, number][] => {
    const { forms } = surfaceCurvature(t)
    return Array.from({ length: forms.length / 3 }, (_, w) => {
      const [e, f, g] = forms.subarray(3 * w, 3 * w + 3)
      const mean = (e + g) / 2
      const spread = Math.sqrt(Math.max(0, ((e - g) / 2) ** 2 + f * f))
      return [mean + spread, mean - spread]
    })
  }
  it('is 1 / R everywhere on a ball', () => {
    for (const [a, b] of principal(topologyOf(ball(2, 40)))) {
      expect(a).toBeCloseTo(0.5, 2)
      expect(b).toBeCloseTo(0.5, 2)
    }
  })
  it('is 1 / R and 0 on a cylinder, 0 on a plane', () => {
    const side = (i: number, y: number): Vec3 => {
      const angle = ((i % 48) / 48) * 2 * Math.PI
      return [3 * Math.cos(angle), y, -3 * Math.sin(angle)]
    }
    const faces = Array.from({ length: 48 }, (_, i) => [
      side(i, 0),
      side(i + 1, 0),
      side(i + 1, 1),
      side(i, 1),
    ])
    const cylinder = meshOf(faces, (p) => [p[0] / 3, 0, p[2] / 3])
    for (const [a, b] of principal(topologyOf(cylinder))) {
      expect(a).toBeCloseTo(1 / 3, 2)
      expect(b).toBeCloseTo(0, 2)
    }
    for (const [a, b] of principal(topologyOf(square(1)))) expect([a, b]).toEqual([0, 0])
  })
})
