import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import type { Vec3 } from '../math/vec3'
import { ball, cube, meshOf } from '../testing/shapes'
import { EDGE_BORDER, EDGE_CREASE, meshEdges } from './edges'
import { MeshBuilder } from './mesh-builder'
import { faceNormals } from './face-normals'
import { faceCount, PLAIN_MATERIAL, polygonsBySides, validateMesh } from './polygon-mesh'
import { triangulate } from './triangulate'
import { weldPositions } from './weld'

const triangleArea = (mesh: ReturnType<typeof cube>): number => {
  const { corners } = triangulate(mesh)
  let sum = 0
  for (let t = 0; t < corners.length; t += 3) {
    const [a, b, c] = [0, 1, 2].map((k) => mesh.positions.subarray(3 * mesh.cornerVertices[corners[t + k]]))
    const u = [b[0] - a[0], b[1] - a[1], b[2] - a[2]]
    const v = [c[0] - a[0], c[1] - a[1], c[2] - a[2]]
    sum += Math.hypot(u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]) / 2
  }
  return sum
}

describe('triangulate', () => {
  it('keeps the area of star-shaped polygons, concave ones too, and their facing', () => {
    fc.assert(
      fc.property(
        fc.array(fc.double({ min: 0.2, max: 1, noNaN: true }), { minLength: 4, maxLength: 14 }),
        (radii) => {
          const points = radii.map((r, i): Vec3 => {
            const a = (i / radii.length) * 2 * Math.PI
            return [r * Math.cos(a), 0, -r * Math.sin(a)]
          })
          const shoelace = points.reduce((sum, p, i) => {
            const q = points[(i + 1) % points.length]
            return sum + (p[0] * -q[2] - q[0] * -p[2]) / 2
          }, 0)
          const mesh = meshOf([points])
          expect(triangulate(mesh).faces.length).toBe(points.length - 2)
          expect(triangleArea(mesh)).toBeCloseTo(shoelace, 5)
          expect(faceNormals(mesh)[1]).toBeCloseTo(1, 6)
        },
      ),
      { numRuns: 200, seed: 7 },
    )
  })
  it('cuts a concave quad inside', () => {
    const dart = meshOf([
      [
        [0, 0, 0],
        [1, 0, 1],
        [0, 0, -1],
        [-1, 0, 1],
      ].reverse() as unknown as Vec3[],
    ])
    expect(triangleArea(dart)).toBeCloseTo(1, 6)
  })
  it('gives nothing for polygons without area', () => {
    expect(
      triangulate(
        meshOf([
          [
            [0, 0, 0],
            [1, 0, 0],
            [2, 0, 0],
          ],
        ]),
      ).faces.length,
    ).toBe(0)
  })
})

describe('meshEdges', () => {
  it('finds the twelve creases of a cube, each with two faces at a right angle', () => {
    const edges = meshEdges(cube())
    expect(edges.count).toBe(12)
    for (let e = 0; e < 12; e++) {
      expect(edges.flags[e]).toBe(EDGE_CREASE)
      expect(edges.angleRad[e]).toBeCloseTo(Math.PI / 2, 6)
    }
  })
  it('obeys Euler on a closed ball and has no border', () => {
    const mesh = ball(1, 12)
    const edges = meshEdges(mesh)
    expect(weldPositions(mesh.positions).count - edges.count + faceCount(mesh)).toBe(2)
    expect(Array.from(edges.flags).some((f) => f & EDGE_BORDER)).toBe(false)
  })
  it('marks the border of a single polygon', () => {
    const edges = meshEdges(
      meshOf([
        [
          [0, 0, 0],
          [1, 0, 0],
          [1, 1, 0],
          [0, 1, 0],
        ],
      ]),
    )
    expect(Array.from(edges.flags)).toEqual([EDGE_BORDER, EDGE_BORDER, EDGE_BORDER, EDGE_BORDER])
  })
})

describe('weldPositions', () => {
  it('welds equal positions only, −0 with 0', () => {
    const { welded, count } = weldPositions(Float32Array.of(0, 1, 2, -0, 1, 2, 0, 1, 2.0001))
    expect(count).toBe(2)
    expect(Array.from(welded)).toEqual([0, 0, 1])
  })
})

describe('MeshBuilder', () => {
  const builder = () => {
    const b = new MeshBuilder()
    b.parts.push({ name: 'plate', parent: -1 })
    b.materials.push({ ...PLAIN_MATERIAL, name: 'm', baseColour: [1, 1, 1] })
    for (const p of [
      [0, 0, 0],
      [1, 0, 0],
      [1, 1, 0],
      [0, 1, 0],
    ])
      b.positions.push3(p[0], p[1], p[2])
    return b
  }
  it('drops bad polygons with one counted warning per kind', () => {
    const b = builder()
    b.addFace([0, 1, 2, 3], null, null, 0, 0)
    expect(b.addFace([0, 1, 9], null, null, 0, 0)).toBe(false)
    expect(b.addFace([0, 1, -1], null, null, 0, 0)).toBe(false)
    expect(b.addFace([0, 0, 1], null, null, 0, 0)).toBe(false)
    const model = b.finish('x')
    validateMesh(model.mesh)
    expect(polygonsBySides(model.mesh)).toEqual({ 3: 0, 4: 1, more: 0 })
    expect(model.warnings.map((w) => [w.code, w.part])).toEqual([
      ['index-out-of-range', 'plate'],
      ['degenerate-polygon', 'plate'],
      ['normals-made', null],
    ])
    expect(model.warnings[0].message).toContain('2 polygons')
  })
  it('drops what uses a vertex that is nowhere, and says how many', () => {
    const b = builder()
    b.positions.push3(NaN, Infinity, 1)
    b.positions.push3(1, 1e39, 1)
    b.addFace([0, 1, 2], null, null, 0, 0)
    b.addFace([0, 1, 4], null, null, 0, 0)
    b.addFace([0, 1, 5], null, null, 0, 0)
    const model = b.finish('x')
    validateMesh(model.mesh)
    expect(faceCount(model.mesh)).toBe(1)
    const [warning] = model.warnings.filter((w) => w.code === 'not-finite')
    expect(warning.message).toContain('2 polygons')
    expect(warning.part).toBe('plate')
  })
})
