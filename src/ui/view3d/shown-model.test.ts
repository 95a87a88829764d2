import * as THREE from 'three'
import { describe, expect, it } from 'vitest'
import { coarseMesh } from '@/core/geometry/coarse-mesh'
import { displayPieces } from '@/core/geometry/display-pieces'
import { PLAIN_MATERIAL, type PolygonMesh } from '@/core/geometry/polygon-mesh'
import { ball } from '@/core/testing/shapes'
import { testModel } from '@/data/testing/fixtures'
import type { ProjectModel } from '@/data/project-schema'
import { LAYER, ShownModel, type ShownLook, type ShownSource } from './shown-model'
import { trianglesOf } from './stepped-drawing'

/** A ball of two parts, its upper and its lower half. */
function halves(rows: number): PolygonMesh {
  const mesh = ball(1, rows)
  const isLower = (f: number) => mesh.positions[3 * mesh.cornerVertices[mesh.faceStarts[f]] + 1] < 0
  return { ...mesh, faceParts: mesh.faceParts.map((_, f) => (isLower(f) ? 1 : 0)) }
}
const [{ parts }] = [testModel()]
const MODEL: ProjectModel = testModel({
  parts: [
    { ...parts[0], key: 'm/0', name: 'Upper' },
    { ...parts[0], key: 'm/1', name: 'Lower' },
  ],
})
const LOOK: ShownLook = {
  chosen: new Set(),
  solo: null,
  paint: 'materials',
  partColour: () => [0.5, 0.5, 0.5],
}

/** What the view needs of a loaded model. */
const loaded = (mesh: PolygonMesh, coarse: PolygonMesh | null): ShownSource => ({
  textures: [],
  materials: [{ ...PLAIN_MATERIAL, roughness: 0.6 }],
  display: displayPieces(mesh, 2),
  coarse: coarse ? displayPieces(coarse, 2) : [],
})
const fine = halves(160)
const coarse = coarseMesh(fine, 3000)
const shownModel = (isHeavy: boolean, look = LOOK, model = MODEL) => {
  const shown = new ShownModel(loaded(fine, isHeavy ? coarse : null), () => undefined)
  shown.update(model, look)
  return shown
}
const takeAll = (shown: ShownModel) => {
  while (shown.waiting > 0) shown.takePiece()
}
const drawn = (shown: ShownModel, layer: number): number => {
  const layers = new THREE.Layers()
  layers.set(layer)
  let triangles = 0
  shown.group.traverse((object) => {
    if (object instanceof THREE.Mesh && object.layers.test(layers))
      triangles += trianglesOf(object as Parameters<typeof trianglesOf>[0])
  })
  return triangles
}
const trianglesIn = (mesh: PolygonMesh) => mesh.cornerVertices.length - 2 * (mesh.faceStarts.length - 1)

describe('a model in the view', () => {
  it('takes up its coarse form first, and is there with it', () => {
    const shown = shownModel(true)
    expect(shown.isThere).toBe(false)
    shown.takePiece()
    expect(shown.isThere).toBe(true)
    expect(shown.waiting).toBe(displayPieces(fine, 2).length)
    expect(drawn(shown, LAYER.coarse)).toBe(trianglesIn(coarse))
    expect(drawn(shown, LAYER.fine)).toBe(0)
    takeAll(shown)
    expect(drawn(shown, LAYER.fine)).toBe(trianglesIn(fine))
    expect(drawn(shown, LAYER.always)).toBe(0)
  })

  it('without a coarse form is always drawn, and is there with its last piece', () => {
    const shown = shownModel(false)
    shown.takePiece()
    expect(shown.isThere).toBe(false)
    takeAll(shown)
    expect(shown.isThere).toBe(true)
    expect(drawn(shown, LAYER.always)).toBe(trianglesIn(fine))
    expect(shown.heavyMeshes).toEqual([])
  })

  it('shows and hides parts in both forms, also those that come up later', () => {
    const hidden = { ...MODEL, parts: MODEL.parts.map((part, i) => ({ ...part, hidden: i === 0 })) }
    const shown = shownModel(true, LOOK, hidden)
    takeAll(shown)
    const half = drawn(shown, LAYER.fine)
    expect(half).toBeGreaterThan(0.4 * trianglesIn(fine))
    expect(half).toBeLessThan(0.6 * trianglesIn(fine))
    shown.update(MODEL, LOOK)
    expect(drawn(shown, LAYER.fine)).toBe(trianglesIn(fine))
    shown.update(MODEL, { ...LOOK, solo: new Set(['m/1']) })
    expect(drawn(shown, LAYER.fine)).toBe(half)
    expect(drawn(shown, LAYER.coarse)).toBeLessThan(0.6 * trianglesIn(coarse))
  })

  it('tells the part a ray meets, by its coarse form until the fine one is there', () => {
    const shown = shownModel(true)
    const from = (y: number) => new THREE.Raycaster(new THREE.Vector3(0, y, 5), new THREE.Vector3(0, 0, -1))
    const part = (y: number) => {
      const [hit] = shown.hits(from(y))
      return shown.partOf(hit.object, hit.faceIndex ?? -1)
    }
    shown.takePiece()
    expect([part(0.5), part(-0.5)]).toEqual(['m/0', 'm/1'])
    takeAll(shown)
    expect([part(0.5), part(-0.5)]).toEqual(['m/0', 'm/1'])
    expect(shown.hits(from(3))).toEqual([])
  })

  it('stands wherever it has copies, and has one mesh more for each', () => {
    const shown = shownModel(true)
    takeAll(shown)
    const one = shown.heavyMeshes.length
    shown.update({ ...MODEL, copies: { kind: 'row', count: 3, step: [3, 0, 0] } }, LOOK)
    expect(shown.heavyMeshes).toHaveLength(3 * one)
    expect(drawn(shown, LAYER.fine)).toBe(3 * trianglesIn(fine))
  })

  it('has a sample that needs every program of it', () => {
    const shown = shownModel(true, { ...LOOK, chosen: new Set(['m/0']) })
    const sample = shown.sample()
    // The chosen part's colour, and the material of the other.
    expect(sample?.material).toHaveLength(2)
  })
})
