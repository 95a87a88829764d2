import { describe, expect, it } from 'vitest'
import type { Vec3 } from '../math/vec3'
import { buildSceneGeometry } from '../scene/scene-geometry'
import { ball, cube, meshOf, sceneModel } from '../testing/shapes'
import type { PolygonMesh } from '../geometry/polygon-mesh'
import { closeCreaseGaps, faceCosines } from './crease-gaps'
import { lineTopology } from './line-topology'

const RAD = Math.PI / 180

/** Edges that are creases of an angle, before and after gaps are closed. */
function found(mesh: PolygonMesh, degrees: number) {
  const topology = lineTopology(buildSceneGeometry([sceneModel(mesh)]))
  const cosines = faceCosines(topology)
  const before = Uint8Array.from(cosines, (c) => (c < Math.cos(degrees * RAD) ? 1 : 0))
  const after = before.slice()
  closeCreaseGaps(topology, cosines, after, degrees * RAD)
  return {
    before: before.reduce((a, b) => a + b, 0),
    after: after.reduce((a, b) => a + b, 0),
    /** Whether all closed edges lie on the ridge y = 0. */
    onRidge: [...after.keys()].every(
      (e) =>
        after[e] === before[e] ||
        [0, 1].every((end) => topology.positions[3 * topology.edgeVertices[2 * e + end] + 1] === 0),
    ),
  }
}

/** A roof along x whose slopes make an angle that goes as told. */
function ridge(pieces: number, degreesAt: (x01: number) => number): PolygonMesh {
  const faces: Vec3[][] = []
  const down = (k: number): number => Math.tan((degreesAt(k / pieces) / 2) * RAD)
  for (let k = 0; k < pieces; k++) {
    const [x, y] = [k / 4, (k + 1) / 4]
    faces.push([
      [x, 0, 0],
      [y, 0, 0],
      [y, 1, -down(k + 1)],
      [x, 1, -down(k)],
    ])
    faces.push([
      [y, 0, 0],
      [x, 0, 0],
      [x, -1, -down(k)],
      [y, -1, -down(k + 1)],
    ])
  }
  return meshOf(faces)
}

describe('closeCreaseGaps', () => {
  it('makes one crease of a ridge whose angle wavers about the one asked for', () => {
    const wavering = ridge(40, (x) => 35 + 6 * Math.sin(x * 40))
    const { before, after, onRidge } = found(wavering, 35)
    expect(before).toBeGreaterThan(10)
    expect(before).toBeLessThan(30)
    // All but what fades out at the ends.
    expect(after).toBeGreaterThanOrEqual(36)
    expect(onRidge).toBe(true)
  })
  it('lets a crease that fades out fade out', () => {
    const fading = ridge(40, (x) => 60 - 55 * x)
    const { before, after } = found(fading, 35)
    expect(before).toBeGreaterThan(10)
    expect(after).toBe(before)
  })
  it('closes nothing over a stretch that is nearly flat, or longer than the crease beside it', () => {
    const flat = ridge(40, (x) => (Math.abs(x - 0.5) < 0.1 ? 8 : 50))
    expect(found(flat, 35)).toMatchObject({ after: found(flat, 35).before })
    const far = ridge(40, (x) => (x < 0.08 || x > 0.92 ? 50 : 25))
    expect(found(far, 35)).toMatchObject({ after: found(far, 35).before })
  })
  it('leaves the facets of round forms and whole creases as they are', () => {
    expect(found(ball(1, 12), 35)).toMatchObject({ before: 0, after: 0 })
    expect(found(cube(), 35)).toMatchObject({ before: 12, after: 12 })
  })
})
