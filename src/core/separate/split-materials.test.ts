import { describe, expect, it } from 'vitest'
import { IDENTITY } from '../scene/placement'
import type { SceneModel } from '../scene/scene-geometry'
import { buildSceneGeometry } from '../scene/scene-geometry'
import { setsBy } from './separations'
import { splitByMaterials } from './split-materials'

/** Triangles side by side, each of a part and a material. */
const model = (faces: readonly (readonly [part: number, material: number])[], parts: number): SceneModel => {
  const corners = faces.flatMap((_, f) => [f, 0, 0, f + 1, 0, 0, f, 1, 0])
  const count = 3 * faces.length
  return {
    mesh: {
      positions: Float32Array.from(corners),
      faceStarts: Uint32Array.from({ length: faces.length + 1 }, (_, f) => 3 * f),
      cornerVertices: Uint32Array.from({ length: count }, (_, c) => c),
      cornerNormals: Float32Array.from({ length: 3 * count }, (_, i) => (i % 3 === 2 ? 1 : 0)),
      cornerUvs: null,
      cornerColours: null,
      faceParts: Uint32Array.from(faces, ([part]) => part),
      faceMaterials: Uint32Array.from(faces, ([, material]) => material),
    },
    transforms: [IDENTITY],
    parts: Array.from({ length: parts }, (_, p) => ({
      key: `p${p}`,
      name: `Part ${p}`,
      role: p === 3 ? 'unseen' : 'subject',
      group: ['Mill'],
    })),
    materials: ['Oak', 'Iron', 'Rope'].map((name, m) => ({
      key: `m${m}`,
      name,
      baseColour: [0.5, 0.5, 0.5] as const,
    })),
  }
}

describe('parts of one material each', () => {
  const [split] = splitByMaterials([
    model(
      [
        [0, 1],
        [1, 2],
        [0, 0],
        [0, 1],
        [3, 2],
      ],
      4,
    ),
  ])
  it('are cut where materials meet, and keep their names, groups and roles', () => {
    expect(split.parts.map(({ key, name }) => [key, name])).toEqual([
      ['p0 m0', 'Part 0'],
      ['p0 m1', 'Part 0'],
      ['p1', 'Part 1'],
      ['p2', 'Part 2'],
      ['p3', 'Part 3'],
    ])
    expect(split.parts.map(({ role }) => role)).toEqual([
      'subject',
      'subject',
      'subject',
      'subject',
      'unseen',
    ])
    expect(split.parts.every(({ group }) => group?.join() === 'Mill')).toBe(true)
    expect([...split.mesh.faceParts]).toEqual([1, 2, 0, 1, 4])
  })
  it('are the same triangles', () => {
    const before = buildSceneGeometry([
      model(
        [
          [0, 1],
          [1, 2],
          [0, 0],
        ],
        2,
      ),
    ])
    const after = buildSceneGeometry(
      splitByMaterials([
        model(
          [
            [0, 1],
            [1, 2],
            [0, 0],
          ],
          2,
        ),
      ]),
    )
    expect(after.triangleCount).toBe(before.triangleCount)
    expect(after.triangleMaterials).toEqual(before.triangleMaterials)
    expect(after.parts).toHaveLength(3)
  })
  it('make sets by material, of what is seen', () => {
    expect(setsBy('material', split.parts)).toEqual([
      { name: 'Oak', parts: ['p0 m0', 'p2'] },
      { name: 'Iron', parts: ['p0 m1'] },
      { name: 'Rope', parts: ['p1'] },
    ])
  })
})
