import { describe, expect, it } from 'vitest'
import { MeshBuilder } from '../geometry/mesh-builder'
import { PLAIN_MATERIAL, type PolygonMesh } from '../geometry/polygon-mesh'
import { IDENTITY } from '../scene/placement'
import { buildSceneGeometry, type SceneModel } from '../scene/scene-geometry'
import { type SceneTexture } from '../scene/scene-texture'
import { fromFront } from '../testing/shapes'
import { DEFAULT_LINE_SETTING, findLines } from './find-lines'
import { lineLength, type LineDrawing } from './line-drawing'
import { LINE_KINDS, type LineKind } from './line-kinds'

const FRAME = { width: 400, height: 400 }

/** A square of two units before the camera, its texture once across it, cut in so many pieces each way. */
function card(pieces: number): PolygonMesh {
  const builder = new MeshBuilder()
  builder.parts.push({ name: 'leaf', parent: -1 })
  builder.materials.push({ ...PLAIN_MATERIAL, name: 'leaf' })
  const uvs: number[] = []
  for (let j = 0; j <= pieces; j++)
    for (let i = 0; i <= pieces; i++) {
      builder.positions.push3((2 * i) / pieces - 1, (2 * j) / pieces - 1, 0)
      uvs.push(i / pieces, j / pieces)
    }
  for (let j = 0; j < pieces; j++)
    for (let i = 0; i < pieces; i++) {
      const a = j * (pieces + 1) + i
      const corners = [a, a + 1, a + pieces + 2, a + pieces + 1]
      const own = corners.flatMap((v) => [uvs[2 * v], uvs[2 * v + 1]])
      builder.addFace(corners, null, own, 0, 0)
    }
  return builder.finish('card').mesh
}

/** A texture whose alpha a function of x and y tells, 0…1 from the left and the top. */
function alphaTexture(size: number, alphaAt: (x: number, y: number) => number): SceneTexture {
  const rgba = new Uint8Array(4 * size * size).fill(255)
  for (let y = 0; y < size; y++)
    for (let x = 0; x < size; x++)
      rgba[4 * (y * size + x) + 3] = Math.round(
        255 * Math.min(1, Math.max(0, alphaAt((x + 0.5) / size, (y + 0.5) / size))),
      )
  return { width: size, height: size, rgba }
}

const leaf = (mesh: PolygonMesh, texture: SceneTexture): SceneModel => ({
  mesh,
  transforms: [IDENTITY],
  parts: [{ key: 'leaf', name: 'leaf', role: 'subject' }],
  materials: [{ key: 'leaf', name: 'leaf', baseColour: [1, 1, 1], texture: 0, alpha: 'cut', alphaCut: 0.5 }],
  textures: [texture],
})
const drawn = (model: SceneModel): LineDrawing =>
  findLines(buildSceneGeometry([model]), fromFront(4), FRAME, DEFAULT_LINE_SETTING)
const borders = (d: LineDrawing): number[] =>
  Array.from({ length: d.count }, (_, l) => l).filter(
    (l) => (LINE_KINDS[d.kinds[l]] as LineKind) === 'border',
  )
/** Points of a line in world units about the card's middle. */
const world = ({ starts, points }: LineDrawing, l: number): [number, number][] =>
  Array.from({ length: starts[l + 1] - starts[l] }, (_, i) => {
    const p = starts[l] + i
    return [4 * (points[2 * p] - 0.5), 4 * (0.5 - points[2 * p + 1])]
  })

describe('borders of what textures leave', () => {
  const disc = alphaTexture(64, (x, y) => 0.5 + (0.3 - Math.hypot(x - 0.5, y - 0.5)) * 8)
  it.each([1, 5])(
    'are a circle for a disc on a card of %i pieces each way, closed and in one line',
    (pieces) => {
      const drawing = drawn(leaf(card(pieces), disc))
      const lines = borders(drawing)
      expect(lines).toHaveLength(1)
      expect(drawing.closed[lines[0]]).toBe(1)
      expect(drawing.hidden[lines[0]]).toBe(0)
      for (const [x, y] of world(drawing, lines[0])) expect(Math.hypot(x, y)).toBeCloseTo(0.6, 2)
      expect(4 * lineLength(drawing, lines[0])).toBeCloseTo(2 * Math.PI * 0.6, 1)
    },
  )
  it('take the place of edges where those are cut away, and leave the rest', () => {
    const left = alphaTexture(64, (x) => 0.5 + (0.5 - x) * 20)
    const drawing = drawn(leaf(card(1), left))
    const lines = borders(drawing)
    // Above, below and left of the left half, and the cut down the middle.
    expect(lines.reduce((sum, l) => sum + 4 * lineLength(drawing, l), 0)).toBeCloseTo(2 + 1 + 1 + 2, 1)
    expect(Math.max(...lines.flatMap((l) => world(drawing, l).map(([x]) => x)))).toBeLessThan(0.05)
  })
  it('are none of a texture that is whole', () => {
    const whole = drawn(
      leaf(
        card(1),
        alphaTexture(8, () => 1),
      ),
    )
    expect(borders(whole).reduce((sum, l) => sum + 4 * lineLength(whole, l), 0)).toBeCloseTo(8, 2)
  })
})
