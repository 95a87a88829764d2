// One file: every kind of line on the same solids, so that what one finds another does not.
import { describe, expect, it } from 'vitest'
import { MeshBuilder } from '../geometry/mesh-builder'
import { PLAIN_MATERIAL, type PolygonMesh } from '../geometry/polygon-mesh'
import { seededRandom } from '../math/sampling'
import type { Vec3 } from '../math/vec3'
import type { Camera } from '../scene/camera'
import { SEEN_BY_CAMERA } from '../scene/part-role'
import { IDENTITY, placementMatrix } from '../scene/placement'
import { buildSceneGeometry, type SceneModel } from '../scene/scene-geometry'
import { ball, cube, cubeFaces, fromAbove, fromFront, meshOf, sceneModel, square } from '../testing/shapes'
import { TraceKernel } from '../trace/trace-kernel'
import { DEFAULT_LINE_SETTING, findLines, simplified, type LineSetting } from './find-lines'
import { lineLength, validateDrawing, type LineDrawing } from './line-drawing'
import { LINE_KINDS, type LineKind } from './line-kinds'

const FRAME = { width: 600, height: 400 }
const draw = (
  models: readonly SceneModel[],
  camera: Camera,
  setting: Partial<LineSetting> = {},
): LineDrawing => {
  const drawing = findLines(buildSceneGeometry(models), camera, FRAME, {
    ...DEFAULT_LINE_SETTING,
    ...setting,
  })
  expect(validateDrawing(drawing)).toEqual([])
  return drawing
}
const linesOf = (drawing: LineDrawing, kind: LineKind, hidden = false): number[] =>
  Array.from({ length: drawing.count }, (_, l) => l).filter(
    (l) => LINE_KINDS[drawing.kinds[l]] === kind && drawing.hidden[l] > 0 === hidden,
  )
const total = (drawing: LineDrawing, kind: LineKind, hidden = false): number =>
  linesOf(drawing, kind, hidden).reduce((sum, l) => sum + lineLength(drawing, l), 0)
/** Points of a line, in heights of the picture about its middle, y up. */
const pointsOf = ({ starts, points, aspect }: LineDrawing, l: number): [number, number][] =>
  Array.from({ length: starts[l + 1] - starts[l] }, (_, i) => {
    const p = starts[l] + i
    return [points[2 * p] - aspect / 2, 0.5 - points[2 * p + 1]]
  })
/** A surface over a grid; `wrapU`, `wrapV` join its borders. */
function grid(
  columns: number,
  rows: number,
  at: (u: number, v: number) => Vec3,
  wrap: { u?: boolean; v?: boolean } = {},
): PolygonMesh {
  const builder = new MeshBuilder()
  builder.parts.push({ name: 'part', parent: -1 })
  builder.materials.push({ ...PLAIN_MATERIAL, name: 'material' })
  const acrossCount = wrap.u ? columns : columns + 1
  const downCount = wrap.v ? rows : rows + 1
  for (let j = 0; j < downCount; j++)
    for (let i = 0; i < acrossCount; i++) builder.positions.push3(...at(i / columns, j / rows))
  const vertex = (i: number, j: number) => (j % downCount) * acrossCount + (i % acrossCount)
  for (let j = 0; j < rows; j++)
    for (let i = 0; i < columns; i++)
      builder.addFace(
        [vertex(i, j), vertex(i + 1, j), vertex(i + 1, j + 1), vertex(i, j + 1)],
        null,
        null,
        0,
        0,
      )
  return builder.finish('grid').mesh
}
const torus = (big: number, small: number, around: number, across: number): PolygonMesh =>
  grid(
    around,
    across,
    (u, v) => {
      const [a, b] = [2 * Math.PI * u, -2 * Math.PI * v]
      const r = big + small * Math.cos(b)
      return [r * Math.cos(a), small * Math.sin(b), r * Math.sin(a)]
    },
    { u: true, v: true },
  )
const corner: Camera = { eye: [10, 9, 11], target: [0, 0, 0], fovDeg: 20, orthoHeight: null }

describe('the limb of a ball', () => {
  it('is its circle, seen whole and in one line', () => {
    for (const camera of [fromFront(4), { ...fromFront(4), orthoHeight: null, fovDeg: 22 }]) {
      const drawing = draw([sceneModel(ball(1, 48))], camera)
      const seen = linesOf(drawing, 'silhouette')
      expect(seen).toHaveLength(1)
      expect(drawing.closed[seen[0]]).toBe(1)
      expect(total(drawing, 'silhouette', true)).toBe(0)
      // A ball's limb from distance d is a circle of angle asin(R / d) (the tangent cone).
      const radius =
        camera.orthoHeight !== null
          ? 1 / camera.orthoHeight
          : Math.tan(Math.asin(1 / 10)) / (2 * Math.tan((camera.fovDeg * Math.PI) / 360))
      for (const [x, y] of pointsOf(drawing, seen[0])) expect(Math.hypot(x, y)).toBeCloseTo(radius, 2.4)
      expect(lineLength(drawing, seen[0])).toBeCloseTo(2 * Math.PI * radius, 1.7)
    }
  })
  it('has no gap and no speck on a coarse ball, nor from near', () => {
    for (const rows of [6, 9, 16]) {
      const drawing = draw([sceneModel(ball(1, rows))], {
        ...fromFront(4),
        eye: [2, 3, 3.5],
        orthoHeight: null,
      })
      expect(linesOf(drawing, 'silhouette')).toHaveLength(1)
      expect(total(drawing, 'silhouette', true)).toBe(0)
    }
  })
  it('is walked without a gap on a dense noisy scan', () => {
    const random = seededRandom(5)
    const noise = Array.from({ length: 400 * 200 }, () => 1 + 0.0006 * (random() - 0.5))
    const scan = grid(
      400,
      200,
      (u, v) => {
        const [a, b] = [2 * Math.PI * u, Math.PI * v]
        const r = v === 0 || v === 1 ? 1 : noise[(Math.round(u * 400) % 400) * 200 + Math.round(v * 200)]
        return [r * Math.sin(b) * Math.cos(a), r * Math.cos(b), r * Math.sin(b) * Math.sin(a)]
      },
      { u: true },
    )
    const drawing = draw([sceneModel(scan)], fromFront(3))
    const seen = linesOf(drawing, 'silhouette')
    const radius = 1 / 3
    // Walk: every degree of the limb has a point of a seen line near it.
    const points = seen.flatMap((l) => {
      const own = pointsOf(drawing, l)
      return own.slice(1).flatMap((to, i) => {
        const from = own[i]
        const steps = Math.ceil(Math.hypot(to[0] - from[0], to[1] - from[1]) / 0.002)
        return Array.from({ length: steps + 1 }, (_, k) => [
          from[0] + ((to[0] - from[0]) * k) / steps,
          from[1] + ((to[1] - from[1]) * k) / steps,
        ])
      })
    })
    for (let degree = 0; degree < 360; degree++) {
      const angle = (degree * Math.PI) / 180
      const nearest = Math.min(
        ...points.map(([x, y]) => Math.hypot(x - radius * Math.cos(angle), y - radius * Math.sin(angle))),
      )
      expect(nearest, `${degree}°`).toBeLessThan(0.006)
    }
    // Specks: seen lines shorter than a hundredth of the picture's height.
    expect(seen.filter((l) => lineLength(drawing, l) < 0.01)).toHaveLength(0)
    expect(seen.length).toBeLessThan(12)
  })
})

describe('edges', () => {
  it('of a cube from a corner: nine seen, six of them silhouette, three hidden behind one surface', () => {
    const drawing = draw([sceneModel(cube(1))], corner)
    expect(linesOf(drawing, 'silhouette', true)).toEqual([])
    const outline = total(drawing, 'silhouette')
    const inner = total(drawing, 'crease')
    const hidden = linesOf(drawing, 'crease', true)
    expect(hidden.every((l) => drawing.hidden[l] === 1)).toBe(true)
    // Six edges make one closed line; inside, three meet in the corner.
    expect(linesOf(drawing, 'silhouette')).toHaveLength(1)
    expect(outline / 6).toBeGreaterThan(0.9 * (inner / 3))
    expect(total(drawing, 'crease', true) / 3).toBeGreaterThan(0.8 * (inner / 3))
  })
  it('of an open sheet are borders, from behind too', () => {
    for (const eye of [
      [0, 10, 0.01],
      [0, -10, 0.01],
    ] as const) {
      const drawing = draw([sceneModel(square(1))], { ...fromAbove(4), eye })
      expect(total(drawing, 'border')).toBeCloseTo(8 / 4, 3)
      expect(linesOf(drawing, 'border', true)).toEqual([])
    }
  })
  it('of a Möbius strip are one border, all of it seen where nothing is in front', () => {
    const strip = grid(160, 4, (u, v) => {
      const a = 2 * Math.PI * u
      const s = 0.35 * (2 * v - 1)
      const r = 1 + s * Math.cos(a / 2)
      return [r * Math.cos(a), s * Math.sin(a / 2), r * Math.sin(a)]
    })
    const drawing = draw([sceneModel(strip)], { ...fromAbove(3.4), eye: [1, 10, 2] })
    const all = total(drawing, 'border') + total(drawing, 'border', true)
    // The one border goes round twice.
    expect(all * 3.4).toBeGreaterThan(2 * 2 * Math.PI * 0.8)
    expect(total(drawing, 'border')).toBeGreaterThan(0.8 * all)
  })
  it('between parts and between materials are told apart', () => {
    const builder = new MeshBuilder()
    for (const name of ['a', 'b']) builder.parts.push({ name, parent: -1 })
    for (const name of ['m', 'n']) builder.materials.push({ ...PLAIN_MATERIAL, name })
    for (let i = 0; i < 4; i++) for (const z of [0, 1]) builder.positions.push3(i, 0, z)
    for (let i = 0; i < 3; i++)
      builder.addFace([2 * i, 2 * i + 1, 2 * i + 3, 2 * i + 2], null, null, i === 0 ? 0 : 1, i === 2 ? 1 : 0)
    const { mesh } = builder.finish('t')
    const model: SceneModel = {
      ...sceneModel(mesh),
      parts: ['a', 'b'].map((name) => ({ key: name, name, role: 'subject' })),
      materials: ['m', 'n'].map((name) => ({ key: name, name, baseColour: [0.5, 0.5, 0.5] })),
    }
    const drawing = draw([model], { ...fromAbove(4), eye: [1.5, 10, 0.5], target: [1.5, 0, 0.5] })
    expect(total(drawing, 'part')).toBeCloseTo(1 / 4, 3)
    expect(total(drawing, 'material')).toBeCloseTo(1 / 4, 3)
    expect(linesOf(drawing, 'part').map((l) => [drawing.parts[l], drawing.otherParts[l]])).toEqual([[0, 1]])
  })
  it('that several coplanar tiles share are drawn once, and none is lost in the faces below', () => {
    const tile = (x: number, y: number) =>
      sceneModel(
        meshOf(cubeFaces(0.5).map((f) => f.map((p): Vec3 => [p[0] + x, p[1] + y, p[2]]))),
        `${x} ${y}`,
      )
    // Three in a row, and two on top of them, faces in the same planes.
    const drawing = draw([tile(0, 0), tile(1, 0), tile(2, 0), tile(0, 1), tile(1, 1)], {
      eye: [1, 0.3, 10.5],
      target: [1, 0.3, 0],
      fovDeg: 30,
      orthoHeight: null,
    })
    const kinds: LineKind[] = ['silhouette', 'crease', 'border', 'part', 'intersection']
    const seen = kinds.reduce((sum, kind) => sum + total(drawing, kind), 0)
    // From the front only the front faces are seen: five squares, sides they share counted once.
    expect(seen * 2 * 10 * Math.tan((15 * Math.PI) / 180)).toBeCloseTo(15, 1)
  })
})

describe('forms that run through each other', () => {
  it('meet in a circle, for two balls', () => {
    const shifted = (x: number, rows: number) => {
      const mesh = ball(1, rows)
      const positions = mesh.positions.map((v, i) => (i % 3 === 0 ? v + x : v))
      return { ...mesh, positions }
    }
    const drawing = draw([sceneModel(shifted(-0.6, 40), 'a'), sceneModel(shifted(0.6, 37), 'b')], {
      ...fromFront(4),
      eye: [4, 3, 9],
    })
    const all = [...linesOf(drawing, 'intersection'), ...linesOf(drawing, 'intersection', true)]
    const length = total(drawing, 'intersection') + total(drawing, 'intersection', true)
    expect(all.length).toBeLessThan(8)
    // Radius √(1 − 0.6²) = 0.8, in the plane x = 0, seen from a side: an ellipse.
    const back = [4, 3, 9].map((v) => v / Math.hypot(4, 3, 9))
    const [a, b] = [0.8 / 4, (0.8 / 4) * back[0]]
    const h = ((a - b) / (a + b)) ** 2
    const ellipse = Math.PI * (a + b) * (1 + (3 * h) / (10 + Math.sqrt(4 - 3 * h)))
    expect(length).toBeCloseTo(ellipse, 2)
    expect(total(drawing, 'intersection')).toBeGreaterThan(0.3 * ellipse)
  })
})

describe('a torus', () => {
  it('has its outer and inner limb, which ends in cusps where it turns away', () => {
    const drawing = draw([sceneModel(torus(1, 0.4, 160, 80))], { ...fromFront(4), eye: [0, 3.2, 9] })
    const seen = linesOf(drawing, 'silhouette')
    const hidden = linesOf(drawing, 'silhouette', true)
    expect(seen.length).toBeGreaterThanOrEqual(2)
    // From this height the hole's far limb is seen and its near one dives behind the ring: cusps.
    expect(hidden.length).toBeGreaterThanOrEqual(1)
    const outer = Math.max(...seen.map((l) => lineLength(drawing, l)))
    expect(outer * 4).toBeGreaterThan(2 * Math.PI * 1)
  })
})

describe('what is seen', () => {
  it('is right for at least 99.5 % of the length on random scenes, against rays for every spot', () => {
    const random = seededRandom(11)
    for (let scene = 0; scene < 4; scene++) {
      const models = Array.from({ length: 14 }, (_, i) => {
        const offset = [0, 1, 2].map(() => (random() - 0.5) * 3)
        const size = 0.25 + random() * 0.6
        const mesh = i % 3 === 0 ? ball(size, 20) : cube(size)
        const turn = random() * Math.PI
        const [c, s] = [Math.cos(turn), Math.sin(turn)]
        const moved = (array: Float32Array, isPoint: boolean) => {
          const out = array.slice()
          for (let k = 0; k < out.length; k += 3) {
            const [x, y, z] = [array[k], array[k + 1], array[k + 2]]
            const turned = [c * x + s * z, c * y - s * (-s * x + c * z), s * y + c * (-s * x + c * z)]
            for (let axis = 0; axis < 3; axis++) out[k + axis] = turned[axis] + (isPoint ? offset[axis] : 0)
          }
          return out
        }
        return sceneModel(
          {
            ...mesh,
            positions: moved(mesh.positions, true),
            cornerNormals: moved(mesh.cornerNormals, false),
          },
          `p${i}`,
        )
      })
      const geometry = buildSceneGeometry(models)
      const camera: Camera = { eye: [6, 4, 9], target: [0, 0, 0], fovDeg: 26, orthoHeight: null }
      const drawing = findLines(geometry, camera, FRAME)
      const kernel = TraceKernel.over(geometry.tree)
      // Silhouettes of faceted balls lie within their facets: what rays may say of them is told by the other tests.
      let [wrong, all] = [0, 0]
      const back = [6, 4, 9].map((v) => v / Math.hypot(6, 4, 9))
      const right = [back[2], 0, -back[0]].map((v) => v / Math.hypot(back[0], back[2]))
      const up = [
        back[1] * right[2] - back[2] * right[1],
        back[2] * right[0] - back[0] * right[2],
        back[0] * right[1] - back[1] * right[0],
      ]
      const half = Math.tan((26 * Math.PI) / 360)
      for (const kind of ['crease', 'silhouette'] as const) {
        for (const hidden of [false, true]) {
          for (const l of linesOf(drawing, kind, hidden)) {
            if (
              geometry.parts[drawing.parts[l]].key === '' ||
              Number(geometry.parts[drawing.parts[l]].name.slice(1)) % 3 === 0
            )
              continue
            const points = pointsOf(drawing, l)
            for (let i = 0; i + 1 < points.length; i++) {
              const p = drawing.starts[l] + i
              const length = Math.hypot(points[i + 1][0] - points[i][0], points[i + 1][1] - points[i][1])
              const steps = Math.max(1, Math.ceil(length / 0.001))
              for (let k = 0; k < steps; k++) {
                const share = (k + 0.5) / steps
                const x = points[i][0] + (points[i + 1][0] - points[i][0]) * share
                const y = points[i][1] + (points[i + 1][1] - points[i][1]) * share
                const [za, zb] = [drawing.depths[p], drawing.depths[p + 1]]
                const depth = (za * zb) / (zb + (za - zb) * share)
                // From the eye through the spot: nothing may stand clearly nearer than the line.
                const d = [0, 1, 2].map((axis) => 2 * half * (x * right[axis] + y * up[axis]) - back[axis])
                const blocked = kernel.isBlocked(
                  6,
                  4,
                  9,
                  d[0],
                  d[1],
                  d[2],
                  0,
                  depth * (1 - 3e-4),
                  SEEN_BY_CAMERA,
                )
                all += length / steps
                if (blocked !== hidden) wrong += length / steps
              }
            }
          }
        }
      }
      expect(all).toBeGreaterThan(3)
      expect(wrong / all).toBeLessThan(0.005)
    }
  })
  it('is not what another form of the same part stands before, however near and thin', () => {
    // A coarse ball, whose own facets stand before its limb, and a copy of it flattened to a leaf just before that.
    const leaf = placementMatrix({ position: [0.9, 0, 0.3], rotationDeg: [0, 0, 0], scale: [1, 1, 0.02] })
    const model = { ...sceneModel(ball(1, 10)), transforms: [IDENTITY, leaf] }
    const drawing = draw([model], fromFront(4))
    const seen = linesOf(drawing, 'silhouette').flatMap((l) => pointsOf(drawing, l))
    const away =
      (x: number) =>
      ([px, py]: [number, number]) =>
        Math.hypot(4 * px - x, 4 * py)
    // The leaf's rim whole; of the ball's limb what is not behind it.
    expect(seen.every((p) => away(0.9)(p) > 0.93)).toBe(true)
    expect(seen.some((p) => away(0)(p) > 0.93 && p[0] < -0.2)).toBe(true)
    expect(total(drawing, 'silhouette', true)).toBeGreaterThan(0.3)
  })
  it('leaves ground without lines of its own, but lets it hide and be met', () => {
    const floor = sceneModel(square(3, -0.5), 'floor', 'ground')
    const drawing = draw([sceneModel(cube(1)), floor], corner)
    const own = Array.from({ length: drawing.count }, (_, l) => l).filter(
      (l) => drawing.parts[l] === 1 && drawing.otherParts[l] === 1,
    )
    expect(own).toEqual([])
    expect(total(drawing, 'intersection')).toBeGreaterThan(0.1)
    const free = draw([sceneModel(cube(1))], corner)
    expect(total(drawing, 'silhouette')).toBeLessThan(0.95 * total(free, 'silhouette'))
    const shown = draw([sceneModel(cube(1)), floor], corner, { ground: true })
    expect(total(shown, 'border')).toBeGreaterThan(0.5)
  })
  it('stays about the same under a turn of one degree', () => {
    const models = [sceneModel(torus(1, 0.4, 96, 48), 'ring'), sceneModel(cube(0.45), 'block')]
    const at = (degrees: number) => {
      const a = (degrees * Math.PI) / 180
      return draw(models, { ...corner, eye: [10 * Math.sin(a), 6, 10 * Math.cos(a)] })
    }
    const first = at(30)
    for (const degrees of [31, 32]) {
      const next = at(degrees)
      const count = (d: LineDrawing) => Array.from(d.hidden).filter((h) => h === 0).length
      expect(Math.abs(count(next) - count(first))).toBeLessThanOrEqual(3)
      for (const kind of ['silhouette', 'crease'] as const)
        expect(total(next, kind)).toBeCloseTo(total(first, kind), 1)
    }
  })
})

describe('suggestive lines', () => {
  it('are none on a ball, and come on a dented form, fewer as the threshold rises', () => {
    const kinds: LineKind[] = ['suggestive']
    expect(draw([sceneModel(ball(1, 60))], fromFront(4), { kinds }).count).toBe(0)
    const dented = grid(
      240,
      120,
      (u, v) => {
        const [a, b] = [2 * Math.PI * u, Math.PI * v]
        const r = 1 + 0.12 * Math.cos(4 * a) * Math.sin(b) ** 2
        return [r * Math.sin(b) * Math.cos(a), r * Math.cos(b), r * Math.sin(b) * Math.sin(a)]
      },
      { u: true },
    )
    const camera = { ...fromFront(4), eye: [3, 3, 9] as const }
    const lengths = [5, 60, 200, 1000].map((suggestiveFrom) =>
      total(draw([sceneModel(dented)], camera, { kinds, suggestiveFrom }), 'suggestive'),
    )
    expect(lengths[0]).toBeGreaterThan(0.3)
    for (let i = 1; i < lengths.length; i++) expect(lengths[i]).toBeLessThanOrEqual(lengths[i - 1])
    expect(lengths[3]).toBeLessThan(0.5 * lengths[0])
  })
})

describe('simplified', () => {
  it('keeps every left-out point within its tolerance, and the ends', () => {
    const random = seededRandom(3)
    const xy = new Float64Array(400)
    for (let i = 0; i < 200; i++) {
      xy[2 * i] = i / 200
      xy[2 * i + 1] = Math.sin(i / 20) * 0.1 + 0.001 * random()
    }
    const kept = simplified(xy, 0.004)
    expect(kept[0]).toBe(0)
    expect(kept.at(-1)).toBe(199)
    expect(kept.length).toBeLessThan(60)
    for (let k = 0; k + 1 < kept.length; k++) {
      const [a, b] = [kept[k], kept[k + 1]]
      const [dx, dy] = [xy[2 * b] - xy[2 * a], xy[2 * b + 1] - xy[2 * a + 1]]
      for (let i = a + 1; i < b; i++) {
        const away = Math.abs(dx * (xy[2 * i + 1] - xy[2 * a + 1]) - dy * (xy[2 * i] - xy[2 * a]))
        expect(away / Math.hypot(dx, dy)).toBeLessThanOrEqual(0.004 + 1e-12)
      }
    }
  })
})

describe('shadow edges', () => {
  const floor = sceneModel(square(6, -1), 'floor', 'ground')
  const kinds: LineKind[] = ['shadow']
  it('of a ball under the sun: its own, and an ellipse on the floor', () => {
    const elevation = (50 * Math.PI) / 180
    const light = { kind: 'sun', toLight: [Math.cos(elevation), Math.sin(elevation), 0] } as const
    const drawing = draw([sceneModel(ball(0.5, 48)), floor], fromAbove(8), { kinds, light, ground: true })
    const own = linesOf(drawing, 'shadow')
    // From above, on the floor: half axes r / sin(elevation) and r about where the middle's shadow falls.
    const centre = -1 / Math.tan(elevation)
    const onFloor = own.filter((l) => drawing.parts[l] === 1)
    expect(onFloor.length).toBeGreaterThan(0)
    for (const l of onFloor) {
      for (const [x, y] of pointsOf(drawing, l)) {
        const ellipse = Math.hypot((x * 8 - centre) / (0.5 / Math.sin(elevation)), (y * 8) / 0.5)
        expect(ellipse).toBeCloseTo(1, 1)
      }
    }
    // The form's own: half of the great circle that is turned to the light is seen from above.
    expect(own.some((l) => drawing.parts[l] === 0)).toBe(true)
  })
  it('of a cube from a lamp: straight lines, as long as the rays say', () => {
    const light = { kind: 'place', place: [0, 3, 0] } as const
    const drawing = draw([sceneModel(cube(0.5)), floor], fromAbove(8), { kinds, light, ground: true })
    // The top's corners at height 0.5 fall from 3 to −1: twice … (3 + 1) / (3 − 0.5) = 1.6 times as far out.
    const total = linesOf(drawing, 'shadow').reduce((sum, l) => sum + lineLength(drawing, l), 0)
    expect(total * 8).toBeCloseTo(4 * 1.6, 1)
  })
  it('are none without a light', () => {
    expect(draw([sceneModel(cube(0.5)), floor], fromAbove(8), { kinds }).count).toBe(0)
  })
})

describe('rings where forms run through each other', () => {
  const mirrored = (mesh: PolygonMesh): PolygonMesh => {
    const faces: Vec3[][] = []
    for (let f = 0; f + 1 < mesh.faceStarts.length; f++) {
      const corners = mesh.cornerVertices.subarray(mesh.faceStarts[f], mesh.faceStarts[f + 1])
      faces.push(
        [...corners].reverse().map((v): Vec3 => {
          const [x, y, z] = mesh.positions.subarray(3 * v, 3 * v + 3)
          return [-x, y, z]
        }),
      )
    }
    return meshOf(faces)
  }
  const shifted = (rows: number, by: number) => {
    const mesh = ball(1, rows)
    return { ...mesh, positions: mesh.positions.map((v, i) => (i % 3 === 0 ? v + by : v)) }
  }
  it.each([
    ['coarse', 8, 0.12],
    ['middling', 20, 0.03],
    ['fine', 60, 0.01],
  ])('are whole in the picture for a %s ball and its mirror image', (_what, rows, off) => {
    const one = shifted(rows, -0.6)
    const drawing = draw([sceneModel(one, 'a'), sceneModel(mirrored(one), 'b')], {
      ...fromFront(4),
      eye: [4, 3, 9],
    })
    const length = total(drawing, 'intersection') + total(drawing, 'intersection', true)
    const back = [4, 3, 9].map((v) => v / Math.hypot(4, 3, 9))
    const [a, b] = [0.8 / 4, (0.8 / 4) * back[0]]
    const h = ((a - b) / (a + b)) ** 2
    const ellipse = Math.PI * (a + b) * (1 + (3 * h) / (10 + Math.sqrt(4 - 3 * h)))
    expect(Math.abs(length / ellipse - 1)).toBeLessThan(off)
  })
})

describe('what runs past the eye', () => {
  // A beam that begins far before the eye and ends behind it: near the eye its edges are endless in the picture.
  const beam = (near: number) =>
    sceneModel(grid(1, 1, (u, v): Vec3 => [u - 0.5, -0.4, near - (near + 30) * v]))
  const camera: Camera = { eye: [0, 0, 0], target: [0, 0, -1], fovDeg: 40, orthoHeight: null }

  it('is cut beside the picture, and the same within it', () => {
    const setting = { kinds: ['border'] as const }
    const past = draw([beam(5)], camera, setting)
    const before = draw([beam(-0.9)], camera, setting)
    const within = (drawing: LineDrawing) =>
      linesOf(drawing, 'border')
        .flatMap((l) => pointsOf(drawing, l))
        .filter(([x, y]) => Math.abs(x) < 0.75 && Math.abs(y) < 0.5)
        .map((point) => point.map((v) => v.toFixed(5)).join())
    expect(within(past)).not.toEqual([])
    expect(new Set(within(past))).toEqual(new Set(within(before)))
    const far = Math.max(
      ...linesOf(past, 'border')
        .flatMap((l) => pointsOf(past, l))
        .flat()
        .map(Math.abs),
    )
    expect(far).toBeGreaterThan(0.5)
    expect(far).toBeLessThan(2)
  })
})

describe('what is found once for a scene', () => {
  it('is for every view what a scene of its own gives', () => {
    const models = [
      sceneModel(ball(1, 14), 'ball'),
      { ...sceneModel(cube(0.7), 'cube'), transforms: [[1, 0, 0, 0.8, 0, 1, 0, 0.2, 0, 0, 1, 0.3]] },
    ]
    const scene = buildSceneGeometry(models)
    const seen = (x: number, z: number): Camera => ({ ...fromFront(4), eye: [x, 1.5, z] })
    for (const [camera, creaseDeg] of [
      [seen(0, 5), 35],
      [seen(4, 3), 35],
      [seen(-3, 4), 120],
      [seen(0, 5), 35],
    ] as const) {
      const setting = { ...DEFAULT_LINE_SETTING, creaseDeg }
      const again = findLines(scene, camera, FRAME, setting)
      expect(again).toEqual(findLines(buildSceneGeometry(models), camera, FRAME, setting))
      expect(linesOf(again, 'intersection').length).toBeGreaterThan(0)
      expect(linesOf(again, 'crease').length > 0).toBe(creaseDeg === 35)
    }
  })
})
