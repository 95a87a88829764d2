import { describe, expect, it } from 'vitest'
import type { Vec3 } from '../../math/vec3'
import { seededRandom } from '../../math/sampling'
import { paramDefaults, type ParamValues } from '../../params'
import { ball, cube, meshOf } from '../../testing/shapes'
import { findingsOf } from '../findings'
import { inspectMesh } from '../mesh-report'
import type { PolygonMesh } from '../polygon-mesh'
import { faceCount, meshBounds, polygonsBySides, vertexCount } from '../polygon-mesh'
import { propKind, PROP_KINDS } from '../props/registry'
import { turnFaces } from '../rebuild-mesh'
import { triangulate } from '../triangulate'
import { REPAIR_KINDS, repairKind, repairMesh, type Repair, type RepairKindName } from './registry'

const repair = (kind: RepairKindName, params: ParamValues = {}, parts: number[] | null = null): Repair => ({
  kind,
  params: { ...paramDefaults(repairKind(kind).schema), ...params },
  parts,
})
const mend = (mesh: PolygonMesh, ...list: Repair[]) => repairMesh(mesh, list)
const findings = (mesh: PolygonMesh) => findingsOf(inspectMesh(mesh), faceCount(mesh)).map((f) => f.code)

/** All corners of all faces as points, in order. */
const cornersOf = (mesh: PolygonMesh): Vec3[] =>
  Array.from(mesh.cornerVertices, (v): Vec3 => [
    mesh.positions[3 * v],
    mesh.positions[3 * v + 1],
    mesh.positions[3 * v + 2],
  ])
/** Six times the volume a closed mesh encloses; negative where it is inside out. */
const volume = (mesh: PolygonMesh): number => {
  const at = cornersOf(mesh)
  let sum = 0
  const { corners } = triangulate(mesh)
  for (let t = 0; t < corners.length; t += 3) {
    const [a, b, c] = [at[corners[t]], at[corners[t + 1]], at[corners[t + 2]]]
    sum +=
      a[0] * (b[1] * c[2] - b[2] * c[1]) +
      a[1] * (b[2] * c[0] - b[0] * c[2]) +
      a[2] * (b[0] * c[1] - b[1] * c[0])
  }
  return sum
}
/** A mesh whose faces share no vertex. */
const apart = (mesh: PolygonMesh): PolygonMesh => {
  const positions = new Float32Array(3 * mesh.cornerVertices.length)
  cornersOf(mesh).forEach((p, c) => positions.set(p, 3 * c))
  return { ...mesh, positions, cornerVertices: mesh.cornerVertices.map((_, c) => c) }
}
const someTurned = (mesh: PolygonMesh) =>
  turnFaces(
    mesh,
    Uint8Array.from({ length: faceCount(mesh) }, (_, f) => (f % 3 === 0 ? 1 : 0)),
  )

describe('report', () => {
  it('finds nothing amiss in a closed, sound form', () => {
    const report = inspectMesh(ball(1, 12))
    expect(report).toMatchObject({
      looseVertices: 0,
      duplicateVertices: 0,
      borderEdges: 0,
      nonManifoldEdges: 0,
      turnedEdges: 0,
      facesToTurn: 0,
      facesWithoutArea: 0,
      duplicateFaces: 0,
      normalsAgainst: 0,
      shells: 1,
      openShells: 0,
      oneSidedShells: 0,
    })
    expect(findings(cube())).toEqual([])
  })
  it('counts borders, pieces, loose and double vertices', () => {
    const sheet = meshOf([
      [
        [0, 0, 0],
        [1, 0, 0],
        [1, 0, 1],
        [0, 0, 1],
      ],
      [
        [5, 0, 0],
        [6, 0, 0],
        [6, 0, 1],
      ],
    ])
    expect(inspectMesh(sheet)).toMatchObject({ borderEdges: 7, shells: 2, openShells: 2 })
    const loose = { ...sheet, positions: Float32Array.of(...sheet.positions, 9, 9, 9, 0, 0, 0) }
    expect(inspectMesh(loose)).toMatchObject({ looseVertices: 2, duplicateVertices: 1 })
  })
  it('tells a band with a twist from one without', () => {
    const band = (twist: boolean) => {
      const n = 12
      const at = (i: number, side: number): Vec3 => {
        const a = (2 * Math.PI * i) / n
        const tilt = twist ? a / 2 : 0
        const r = 2 + side * 0.4 * Math.cos(tilt)
        return [
          Number((r * Math.cos(a)).toFixed(6)) + 0,
          Number((side * 0.4 * Math.sin(tilt)).toFixed(6)) + 0,
          Number((r * Math.sin(a)).toFixed(6)) + 0,
        ]
      }
      const faces = Array.from({ length: n }, (_, i) => {
        const last = twist && i === n - 1
        const next = (i + 1) % n
        return [at(i, -1), at(next, last ? 1 : -1), at(next, last ? -1 : 1), at(i, 1)]
      })
      return inspectMesh(meshOf(faces))
    }
    expect(band(true).oneSidedShells).toBe(1)
    expect(band(false).oneSidedShells).toBe(0)
  })
  it('knows what lies on its side by its foot', () => {
    const peaked = (up: 'y' | 'z') => {
      const faces: Vec3[][] = [
        [
          [-1, 0, -1],
          [1, 0, -1],
          [1, 0, 1],
          [-1, 0, 1],
        ],
        [
          [-1, 0, 1],
          [1, 0, 1],
          [0, 2, 0],
        ],
        [
          [1, 0, 1],
          [1, 0, -1],
          [0, 2, 0],
        ],
        [
          [1, 0, -1],
          [-1, 0, -1],
          [0, 2, 0],
        ],
        [
          [-1, 0, -1],
          [-1, 0, 1],
          [0, 2, 0],
        ],
      ]
      return meshOf(up === 'y' ? faces : faces.map((f) => f.map(([x, y, z]): Vec3 => [x, -z, y])))
    }
    expect(inspectMesh(peaked('y')).up).toBe('y')
    expect(inspectMesh(peaked('z')).up).toBe('z')
    expect(findings(peaked('z'))).toContain('lies-on-side')
    const { mesh } = mend(peaked('z'), repair('up-axis', { axis: 'z' }))
    expect(inspectMesh(mesh).up).toBe('y')
    expect(meshBounds(mesh)).toEqual({ min: [-1, 0, -1], max: [1, 2, 1] })
  })
  it('guesses the unit by the size', () => {
    const sized = (side: number) => {
      const mesh = cube()
      return { ...mesh, positions: mesh.positions.map((v) => v * side) }
    }
    expect(findings(sized(2))).not.toContain('size')
    for (const [side, factor] of [
      [1800, 0.001],
      [40, 0.01],
    ]) {
      const [finding] = findingsOf(inspectMesh(sized(side)), 6).filter((f) => f.code === 'size')
      expect(finding.repair?.params.factor).toBe(factor)
    }
  })
})

describe('repairs', () => {
  it('all have a label, a sentence and parameters with defaults', () => {
    for (const kind of REPAIR_KINDS) {
      const { label, summary, schema } = repairKind(kind)
      expect(label).toMatch(/^[A-Z]/)
      expect(summary).toMatch(/\.$/)
      expect(paramDefaults(schema)).toBeTypeOf('object')
    }
  })
  it('make faces agree and closed forms face outwards, whatever was turned', () => {
    for (const whole of [cube(), ball(1, 9)]) {
      const wanted = volume(whole)
      expect(wanted).toBeGreaterThan(0)
      for (const broken of [someTurned(whole), turnFaces(whole, new Uint8Array(faceCount(whole)).fill(1))]) {
        expect(findings(broken)).toContain('turned-faces')
        const { mesh } = mend(broken, repair('orient'))
        expect(volume(mesh)).toBeCloseTo(wanted, 5)
        expect(findings(mesh)).not.toContain('turned-faces')
      }
    }
  })
  it('turn faces over, and twice is as before', () => {
    const once = mend(cube(), repair('flip')).mesh
    expect(volume(once)).toBeCloseTo(-volume(cube()), 6)
    expect(volume(mend(once, repair('flip')).mesh)).toBeCloseTo(volume(cube()), 6)
  })
  it('weld what lies together, and no more than that', () => {
    const broken = apart(cube())
    expect(vertexCount(broken)).toBe(24)
    const { mesh, notes } = mend(broken, repair('weld'))
    expect(vertexCount(mesh)).toBe(8)
    expect(notes).toEqual(['welded 16 vertices'])
    expect(inspectMesh(mesh).borderEdges).toBe(0)
    const random = seededRandom(5)
    // Nothing nearer than the distance is left apart, nothing farther is joined.
    const rough = { ...broken, positions: broken.positions.map((v) => v + 1e-4 * (random() - 0.5)) }
    expect(vertexCount(mend(rough, repair('weld', { distance: 0.0001 })).mesh)).toBe(24)
    expect(vertexCount(mend(rough, repair('weld', { distance: 0.05 })).mesh)).toBe(8)
  })
  it('drop empty and double faces, and loose vertices', () => {
    const mesh = meshOf([
      [
        [0, 0, 0],
        [1, 0, 0],
        [1, 0, 1],
        [0, 0, 1],
      ],
      [
        [1, 0, 0],
        [1, 0, 1],
        [0, 0, 1],
        [0, 0, 0],
      ],
      [
        [0, 0, 1],
        [1, 0, 1],
        [1, 0, 0],
        [0, 0, 0],
      ],
      [
        [0, 0, 0],
        [1, 0, 0],
        [2, 0, 0],
      ],
    ])
    expect(findings(mesh)).toContain('empty-faces')
    const { mesh: clean, notes } = mend(mesh, repair('clean'), repair('loose'))
    expect(notes).toEqual(['dropped 3 faces', 'dropped 1 loose vertex'])
    expect([faceCount(clean), vertexCount(clean)]).toEqual([1, 4])
    // Of nothing but empty faces none is dropped: there would be no model.
    const flat = meshOf([
      [
        [0, 0, 0],
        [1, 0, 0],
        [2, 0, 0],
      ],
    ])
    expect(faceCount(mend(flat, repair('clean')).mesh)).toBe(1)
  })
  it('make normals smooth up to the angle, and hard beyond it', () => {
    const hard = mend(cube(), repair('normals', { angleDeg: 35 })).mesh
    for (let c = 0; c < hard.cornerNormals.length; c += 3)
      expect(Math.max(...hard.cornerNormals.subarray(c, c + 3).map(Math.abs))).toBeCloseTo(1, 6)
    const soft = mend(cube(), repair('normals', { angleDeg: 120 })).mesh
    for (let c = 0; c < soft.cornerNormals.length; c++)
      expect(Math.abs(soft.cornerNormals[c])).toBeCloseTo(1 / Math.sqrt(3), 5)
  })
  it('join triangles to the quads they were cut from', () => {
    const whole = ball(1, 12)
    const { corners, faces } = triangulate(whole)
    const cut: PolygonMesh = {
      ...whole,
      faceStarts: Uint32Array.from({ length: corners.length / 3 + 1 }, (_, i) => 3 * i),
      cornerVertices: Uint32Array.from(corners, (c) => whole.cornerVertices[c]),
      cornerNormals: Float32Array.from(
        Array.from(corners).flatMap((c) => [...whole.cornerNormals.subarray(3 * c, 3 * c + 3)]),
      ),
      faceParts: Uint32Array.from(faces, (f) => whole.faceParts[f]),
      faceMaterials: Uint32Array.from(faces, (f) => whole.faceMaterials[f]),
    }
    expect(findings(cut)).toContain('only-triangles')
    const { mesh } = mend(cut, repair('quads', { angleDeg: 20 }))
    const before = polygonsBySides(whole)
    const after = polygonsBySides(mesh)
    expect(after[4]).toBeGreaterThan(0.9 * before[4])
    expect(3 * after[3] + 6 * after[4]).toBe(3 * faceCount(cut))
    // Quads that are not flat are cut again as they happen to be.
    expect(volume(mesh)).toBeCloseTo(volume(whole), 2)
  })
  it('scale, and change only the parts they are meant for', () => {
    expect(meshBounds(mend(cube(), repair('rescale', { factor: 0.5 })).mesh)?.max[0]).toBeCloseTo(
      (meshBounds(cube())?.max[0] ?? 0) / 2,
      6,
    )
    const untouched = mend(someTurned(cube()), repair('orient', {}, [7])).mesh
    expect(findings(untouched)).toContain('turned-faces')
  })
  it('refuse what their schema does not know', () => {
    expect(() => mend(cube(), { kind: 'weld', params: { distance: -1 }, parts: null })).toThrow(/weld/)
  })
})

describe('forms of our own', () => {
  it.each(PROP_KINDS)('%s is sound at its defaults and at its ends', (kind) => {
    const { schema, make } = propKind(kind)
    const defaults = paramDefaults(schema)
    for (const values of [
      defaults,
      Object.fromEntries(
        Object.entries(defaults).map(([k, v]) => [k, k === 'sides' ? 3 : k === 'bevel' ? 0 : Number(v) * 10]),
      ),
    ]) {
      const { mesh } = make(values)
      const report = inspectMesh(mesh)
      expect(report).toMatchObject({
        nonManifoldEdges: 0,
        turnedEdges: 0,
        facesWithoutArea: 0,
        duplicateFaces: 0,
      })
      expect(report.openShells).toBe(kind === 'pedestal' ? 0 : 1)
    }
  })
  it('a pedestal ends at height 0 and encloses the volume of its prism', () => {
    const { mesh } = propKind('pedestal').make({ radius: 1, height: 2, bevel: 0, sides: 4 })
    expect(meshBounds(mesh)?.max[1]).toBe(0)
    expect(meshBounds(mesh)?.min[1]).toBe(-2)
    // A square of circumradius 1 has area 2.
    expect(volume(mesh) / 6).toBeCloseTo(4, 5)
  })
  it('a backdrop rises behind in one curve without a fold', () => {
    const { mesh } = propKind('backdrop').make({ width: 4, depth: 4, height: 3, curve: 1 })
    const bounds = meshBounds(mesh)
    expect(bounds?.min[1]).toBe(0)
    expect(bounds?.max[1]).toBeCloseTo(3, 6)
    expect(inspectMesh(mesh).shells).toBe(1)
  })
})
