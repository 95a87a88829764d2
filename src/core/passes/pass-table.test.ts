// One file: what holds of every pass is tried on one set of scenes, kind by kind.
import { describe, expect, it } from 'vitest'
import { writePng } from '../formats/png'
import { linearToSrgb } from '../math/colour'
import { PLAIN_MATERIAL, type PolygonMesh } from '../geometry/polygon-mesh'
import { MeshBuilder } from '../geometry/mesh-builder'
import { paramDefaults, type ParamValues } from '../params'
import { newLight, type Rig } from '../scene/light-rig'
import type { SceneModel } from '../scene/scene-geometry'
import { IDENTITY } from '../scene/placement'
import {
  ball,
  cube,
  fromAbove,
  fromFront,
  mean,
  meshOf,
  renderPass,
  sceneModel,
  square,
} from '../testing/shapes'
import { mirrorShare } from './lit'
import { showsMaterial } from './material-touches'
import { passPicture } from './pass-picture'
import type { PassResult } from './pass-result'
import { glance } from './reflection'
import { PASS_SETS } from './pass-sets'
import { PASS_KINDS, passKind } from './registry'
import { ALL_MEMBERS } from './render-tile'

const FRAME = { width: 32, height: 32 }
const SOME = { samples: 16, rays: 16 }
const at = (plane: Float32Array, x: number, y: number) => plane[y * FRAME.width + x]
const sun = (patch = {}) =>
  newLight('sun', 'sun', { tied: 'world', azimuthDeg: 0, elevationDeg: 90, ...patch })
const rigOf = (...lights: Rig['lights']): Rig => ({ id: 'r', name: 'r', lights })
const look = (result: PassResult, changes: ParamValues = {}): Float32Array =>
  passPicture(result, { ...paramDefaults(passKind(result.kind).lookSchema), ...changes }).pixels
/** A level square over the ground, in its own model. */
const roof = (half: number, y: number, name = 'roof') => sceneModel(square(half, y), name)
const ground = (half = 50) => sceneModel(square(half), 'ground', 'ground')

describe('depth', () => {
  it('is the distance along the view axis, for parallel and for spreading views', () => {
    const flat = renderPass('depth', [sceneModel(square(5), 'p')], fromAbove(4), FRAME)
    for (const z of flat.channel('Z')) expect(z).toBeCloseTo(10, 5)
    const camera = { eye: [0, 7, 0], target: [0, 0, 0], fovDeg: 40, orthoHeight: null } as const
    const wide = renderPass('depth', [sceneModel(square(50), 'p')], camera, FRAME)
    for (const z of wide.channel('Z')) expect(z).toBeCloseTo(7, 4)
  })
  it('fits near and far to the subject, not to the ground', () => {
    const { result } = renderPass('depth', [roof(1, 2), ground()], fromAbove(8), FRAME)
    expect(result.facts.near).toBeCloseTo(8, 4)
    expect(result.facts.far).toBeCloseTo(8, 4)
    const tall = renderPass('depth', [sceneModel(cube(1)), ground()], fromAbove(8), FRAME)
    expect(tall.result.facts.near).toBeCloseTo(9, 4)
    // The subject itself is white at its nearest.
    expect(look(tall.result)[4 * (16 * 32 + 16)]).toBeCloseTo(1, 2)
  })
})

describe('normal', () => {
  it('is the direction of a ball in camera space, of unit length', () => {
    const { channel } = renderPass('normal', [sceneModel(ball(1, 64))], fromFront(2), FRAME, { effort: SOME })
    const [x, y, z, a] = ['X', 'Y', 'Z', 'A'].map(channel)
    for (const [column, row] of [
      [16, 16],
      [24, 16],
      [16, 8],
      [10, 22],
    ]) {
      const px = (column + 0.5) / 16 - 1
      const py = 1 - (row + 0.5) / 16
      expect(at(a, column, row)).toBe(1)
      expect(at(x, column, row)).toBeCloseTo(px, 2)
      expect(at(y, column, row)).toBeCloseTo(py, 2)
      expect(at(z, column, row)).toBeCloseTo(Math.sqrt(1 - px * px - py * py), 2)
    }
  })
  it('tells folds apart from planes', () => {
    const corner = { eye: [5.02, 0, 4.98], target: [0.02, 0, -0.02], fovDeg: 30, orthoHeight: 1 } as const
    const { channel } = renderPass('normal', [sceneModel(cube(1))], corner, FRAME, { effort: SOME })
    const d = channel('D')
    expect(at(d, 4, 16)).toBeCloseTo(0, 2)
    expect(Math.max(...d.subarray(16 * 32, 17 * 32))).toBeGreaterThan(0.5)
  })
})

it('facing is the cosine to the view', () => {
  const { channel } = renderPass('facing', [sceneModel(ball(1, 64))], fromFront(2), FRAME, { effort: SOME })
  const f = channel('F')
  for (const column of [16, 20, 26]) {
    const px = (column + 0.5) / 16 - 1
    const py = 1 - 16.5 / 16
    expect(at(f, column, 16)).toBeCloseTo(Math.sqrt(1 - px * px - py * py), 2)
  }
})

describe('thickness', () => {
  const slab = (depth: number): SceneModel[] => [roof(50, 0, 'top'), sceneModel(square(50, -depth), 'low')]
  it('of a slab is its mean way through: 2d(1 − cos θ) / sin²θ for a cone of θ', () => {
    for (const coneDeg of [20, 60]) {
      const reach = 20
      const { channel, result } = renderPass('thickness', slab(1), fromAbove(2), FRAME, {
        effort: SOME,
        params: { reach, coneDeg },
      })
      const world = (reach / 100) * Math.hypot(100, 100, 1)
      const angle = (coneDeg * Math.PI) / 180
      const expected = (2 * (1 - Math.cos(angle))) / Math.sin(angle) ** 2
      expect(mean(channel('T')) * world).toBeCloseTo(expected, 1)
      expect(result.surfaces).toHaveLength(2)
    }
  })
  it('is whole where nothing ends the way', () => {
    const { channel } = renderPass('thickness', [roof(50, 0)], fromAbove(2), FRAME)
    for (const t of channel('T')) expect(t).toBe(1)
  })
})

describe('shadow', () => {
  // A square of half-width 1 at height 2 under a sun from straight above throws one of half-width 1.
  const scene = [roof(1, 2), ground()]
  const side = { eye: [0, 9, 9], target: [0, 0, 0], fovDeg: 30, orthoHeight: 8 } as const
  it('is the share of the light that is kept away, the thrower in front of it or looked past', () => {
    const rig = rigOf(sun({ sizeDeg: 0 }))
    const hidden = renderPass('shadow', scene, fromAbove(8), FRAME, { rig, effort: SOME })
    expect(Math.max(...hidden.channel('S0'))).toBe(0)
    const past = renderPass('shadow', scene, fromAbove(8), FRAME, {
      rig,
      effort: SOME,
      params: { throwers: false },
    })
    const lost = past.channel('S0')
    expect(at(lost, 16, 16)).toBe(1)
    expect(at(lost, 4, 16)).toBe(0)
    // A quarter by a quarter of the picture.
    expect(mean(lost)).toBeCloseTo(1 / 16, 2)
    expect(
      mean(renderPass('shadow', scene, side, FRAME, { rig, effort: SOME }).channel('S0')),
    ).toBeGreaterThan(0)
  })
  it('grows softer with the light, most where it falls far', () => {
    const width = (sizeDeg: number) => {
      const { channel } = renderPass('shadow', scene, fromAbove(8), FRAME, {
        rig: rigOf(sun({ sizeDeg })),
        effort: SOME,
        params: { throwers: false },
      })
      return channel('S0').filter((s) => s > 0.02 && s < 0.98).length
    }
    expect(width(20)).toBeGreaterThan(2 * width(2))
  })
  it('leaves out what its one look would not show, and is the same in it', () => {
    const rig = rigOf(sun({ sizeDeg: 4 }))
    const render = (softness?: number) =>
      renderPass('shadow', scene, fromAbove(8), FRAME, {
        rig,
        effort: SOME,
        params: { throwers: false },
        shownAs: softness === undefined ? undefined : { softness },
      })
    const [live, hard, soft, between] = [render(), render(0), render(1), render(0.5)]
    expect(hard.channel('S0')).toEqual(live.channel('S0'))
    expect(Math.max(...hard.channel('S0w'))).toBe(0)
    expect(soft.channel('S0w')).toEqual(live.channel('S0w'))
    expect(Math.max(...soft.channel('S0'))).toBe(0)
    expect(between.channel('S0w')).toEqual(live.channel('S0w'))
    expect(between.channel('S0')).toEqual(live.channel('S0'))
  })
  it('is nothing from lights it does not hold', () => {
    const { channel, result } = renderPass('shadow', scene, fromAbove(8), FRAME, {
      rig: rigOf(sun()),
      members: { ...ALL_MEMBERS, lights: [] },
      params: { throwers: false },
    })
    expect(Math.max(...channel('S0'))).toBe(0)
    expect(result.lights).toEqual([])
  })
})

describe('stepped', () => {
  it('keeps the turn to the light and a hard shadow apart, and the soft one of the ground', () => {
    const rig = rigOf(sun({ elevationDeg: 90, sizeDeg: 30 }))
    const models = [roof(0.5, 1, 'lid'), roof(2, 0.2, 'table'), ground()]
    const { channel } = renderPass('stepped', models, fromAbove(8), FRAME, { rig, effort: SOME })
    for (const n of channel('N0').filter((_, i) => channel('g')[i] === 0)) expect(n).toBeCloseTo(1, 3)
    // On the table round the lid no half light is seen: straight above, its hard shadow hides below the lid.
    const v = channel('V0')
    expect(at(v, 16, 16)).toBe(1)
    const grounds = channel('G0').filter((_, i) => channel('g')[i] === 1)
    // Under the rim of the table the ground is half in the shade of a wide sun.
    expect(grounds.some((s) => s > 0.05 && s < 0.95)).toBe(true)
  })
  it('shows exactly its bands on a ball, and no more', () => {
    const rig = rigOf(sun({ elevationDeg: 0, azimuthDeg: 90, sizeDeg: 0 }))
    const { result } = renderPass('stepped', [sceneModel(ball(1, 96))], fromFront(1.2), FRAME, {
      rig,
      effort: SOME,
    })
    const pixels = look(result, { softness: 0.005, light: '#ffffff', middle: '#808080', shadow: '#000000' })
    const levels = new Set<number>()
    for (let i = 0; i < pixels.length; i += 4) levels.add(Math.round(pixels[i] * 20))
    // Black, middle and white, and few between them along the two borders.
    for (const level of [0, 10, 20]) expect(levels).toContain(level)
  })
})

describe('reflection', () => {
  /** A glowing square over the ground that no camera sees; seen from above it is mirrored straight up. */
  const over = (y = 2): SceneModel => ({
    ...roof(1, y, 'lamp'),
    parts: [{ key: 'lamp', name: 'lamp', role: 'unseen' }],
    materials: [{ key: 'lamp', name: 'lamp', baseColour: [0, 0, 0], emission: [1, 0, 0] }],
  })
  const sharp = { blur: 0 }
  const above = (models: SceneModel[], params: ParamValues = sharp, rest = {}) =>
    renderPass('reflection', models, fromAbove(8), FRAME, { effort: SOME, params, ...rest })
  it('is what lies mirrored, how far it is and how it is seen', () => {
    const { channel, result } = above([over(), ground()])
    const diagonal = Math.hypot(100, 2, 100)
    expect(at(channel('M'), 16, 16)).toBe(1)
    expect(at(channel('M'), 4, 16)).toBe(0)
    // A quarter by a quarter of the picture.
    expect(mean(channel('M'))).toBeCloseTo(1 / 16, 2)
    expect(at(channel('Z'), 16, 16)).toBeCloseTo(2 / diagonal, 4)
    for (const f of channel('F')) expect(f).toBeCloseTo(1, 3)
    expect(at(channel('Er'), 16, 16)).toBe(1)
    expect(at(channel('Eg'), 16, 16)).toBe(0)
    const alpha = (changes: ParamValues) => look(result, changes)[4 * (16 * 32 + 16) + 3]
    expect(alpha({ strength: 0.5, glancing: 0, fade: 0 })).toBeCloseTo(0.5, 4)
    expect(alpha({ strength: 1, glancing: 0.4, fade: 0 })).toBeCloseTo(0.6, 4)
    expect(alpha({ strength: 1, glancing: 0, fade: 10 })).toBeCloseTo(2 ** ((-10 * 2) / diagonal), 3)
  })
  it('lies as far below as what is mirrored stands above', () => {
    // Seen from 45° above, parallel: a point at height h is mirrored 2h/√2 below itself in the picture.
    const post: SceneModel = { ...sceneModel(cube(1), 'post') }
    const camera = { eye: [0, 20, 20], target: [0, 0, 0], fovDeg: 30, orthoHeight: 8 } as const
    const floor = sceneModel(square(50, -1), 'floor', 'ground')
    const { channel } = renderPass('reflection', [post, floor], camera, FRAME, {
      effort: SOME,
      params: { ...sharp, hides: false },
    })
    const column = Array.from({ length: 32 }, (_, y) => at(channel('M'), 16, y))
    const first = column.findIndex((m) => m > 0.5)
    const last = 31 - [...column].reverse().findIndex((m) => m > 0.5)
    // Its mirrored front reaches from the foot at height −1, 1 in front, to the top's mirror at −3.
    const row = (y: number, z: number) => 16 - ((y - z) / Math.SQRT2) * 4
    expect(Math.abs(last + 1 - row(-3, 1))).toBeLessThan(0.6)
    expect(Math.abs(first - row(-1, -1))).toBeLessThan(0.6)
  })
  it('spreads with blur, the more the farther away it is', () => {
    const edge = (y: number, blur: number) => {
      const { channel } = above([over(y), ground()], { blur })
      const row = Array.from({ length: 32 }, (_, x) => at(channel('M'), x, 16))
      return row.filter((m) => m > 0.05 && m < 0.95).length
    }
    expect(edge(2, 0.5)).toBeGreaterThan(edge(2, 0))
    expect(edge(4, 0.5)).toBeGreaterThan(edge(1, 0.5))
  })
  it('is taken from the ground alone, without ground, unless all is asked', () => {
    const wide = renderPass('reflection', [roof(1, 1), over(), ground()], fromAbove(8), FRAME, {
      effort: SOME,
      params: sharp,
    })
    expect(at(wide.channel('M'), 16, 16)).toBe(0)
    const all = renderPass('reflection', [roof(1, 1), over(), ground()], fromAbove(8), FRAME, {
      effort: SOME,
      params: { ...sharp, on: 'all' },
    })
    expect(at(all.channel('M'), 16, 16)).toBe(1)
    const wall = { ...roof(1, 2), parts: [{ key: 'wall', name: 'wall', role: 'ground' as const }] }
    const side = { eye: [0, 9, 9], target: [0, 0, 0], fovDeg: 30, orthoHeight: 8 } as const
    const shown = (mirrored: string) =>
      mean(
        renderPass('reflection', [wall, ground()], side, FRAME, {
          effort: SOME,
          params: { ...sharp, mirrored },
        }).channel('M'),
      )
    expect(shown('standing')).toBe(0)
    expect(shown('all')).toBeGreaterThan(0)
  })
  it('shows clay in the light that falls on it, each light apart', () => {
    // The underside of the roof is lit from below alone.
    const rig = rigOf(sun({ id: 'up', elevationDeg: -90, sizeDeg: 0 }), sun({ id: 'down' }))
    const models = [roof(1, 2), { ...ground(), mesh: square(50, -1) }]
    const { channel, result } = above(
      models.map((model) =>
        model === models[0] ? { ...model, parts: [{ ...model.parts[0], role: 'unseen' as const }] } : model,
      ),
      { ...sharp, shows: 'clay' },
      { rig: { ...rig, lights: rig.lights.map((light) => ({ ...light, shadow: false })) } },
    )
    expect(at(channel('L0'), 16, 16)).toBeCloseTo(1, 2)
    expect(at(channel('L1'), 16, 16)).toBe(0)
    const pixel = look(result, { clay: '#ffffff', exposure: -2 }).slice(4 * (16 * 32 + 16))
    expect(pixel[0]).toBeCloseTo(linearToSrgb(0.25), 2)
  })
  it('shows single parts alone: whole, or hidden where others stand before them', () => {
    const lower = { ...over(1), parts: [{ key: 'lower', name: 'lower', role: 'unseen' as const }] }
    const share = (mirrored: string[], others: 'look past' | 'hold out') =>
      at(
        above([over(2), lower, ground()], sharp, { members: { ...ALL_MEMBERS, mirrored, others } }).channel(
          'M',
        ),
        16,
        16,
      )
    expect(share(['lamp'], 'look past')).toBe(1)
    expect(share(['lamp'], 'hold out')).toBe(0)
    expect(share(['lower'], 'hold out')).toBe(1)
    expect(share([], 'look past')).toBe(0)
  })
  it('shows more at a glance', () => {
    expect(glance(0, 0.3)).toBe(1)
    expect(glance(1, 0)).toBe(1)
    expect(glance(0.4, 1)).toBeCloseTo(0.6, 12)
    expect(glance(0.4, 0.2)).toBeGreaterThan(glance(0.4, 0.8))
  })
})

it('light is one light alone: cosine and shadow, without colour', () => {
  const rig = rigOf(sun({ elevationDeg: 30 }), newLight('dome', 'sky', {}))
  const { channel, result } = renderPass('light', [ground()], fromAbove(2), FRAME, {
    rig,
    effort: SOME,
    members: { ...ALL_MEMBERS, lights: ['sun'] },
  })
  expect(result.lights.map((l) => l.id)).toEqual(['sun'])
  expect(mean(channel('L0'))).toBeCloseTo(0.5, 2)
})

/** A mesh of one square, its texture coordinates from corner to corner, upright before the camera. */
function card(half: number, z: number): PolygonMesh {
  const builder = new MeshBuilder()
  builder.parts.push({ name: 'card', parent: -1 })
  builder.materials.push({ ...PLAIN_MATERIAL, name: 'card' })
  for (const [x, y] of [
    [-half, -half],
    [half, -half],
    [half, half],
    [-half, half],
  ])
    builder.positions.push3(x, y, z)
  builder.addFace([0, 1, 2, 3], null, [0, 0, 1, 0, 1, 1, 0, 1], 0, 0)
  return builder.finish('card').mesh
}
/** Left half there, right half away, with a red left and a blue right. */
const LEAF = writePng(
  8,
  1,
  Uint8Array.from({ length: 32 }, (_, i) => {
    const left = i >> 2 < 4
    return [left ? 255 : 0, 0, left ? 0 : 255, left ? 255 : 0][i & 3]
  }),
)
const leaf = (z: number): SceneModel => ({
  mesh: card(1, z),
  transforms: [IDENTITY],
  parts: [{ key: 'leaf', name: 'leaf', role: 'subject' }],
  materials: [{ key: 'leaf', name: 'leaf', baseColour: [1, 1, 1], texture: 0, alpha: 'cut', alphaCut: 0.5 }],
  textures: [LEAF],
})
const wall = (colour: readonly [number, number, number] = [1, 1, 1]): SceneModel => ({
  mesh: card(20, -1),
  transforms: [IDENTITY],
  parts: [{ key: 'wall', name: 'wall', role: 'subject' }],
  materials: [{ key: 'wall', name: 'wall', baseColour: colour }],
})

describe('what a texture cuts away', () => {
  const camera = fromFront(2)
  // What surrounds has no parts in it.
  it.each(PASS_KINDS.filter((kind) => kind !== 'surroundings'))('is away in %s', (kind) => {
    const { channel, result } = renderPass(kind, [leaf(0)], camera, FRAME, {
      rig: rigOf(sun({ elevationDeg: 0, azimuthDeg: 0 })),
      effort: { samples: 16, rays: 4 },
      params: kind === 'shadow' ? { on: 'all' } : {},
    })
    const pixels = look(result, kind === 'shadow' ? { density: 1 } : {})
    const right = pixels[4 * (16 * 32 + 26) + 3]
    expect(right).toBe(0)
    if (kind === 'contour' || kind === 'wireframe' || kind === 'shadow') return
    expect(at(channel('A'), 6, 16)).toBe(1)
    expect(at(channel('A'), 26, 16)).toBe(0)
  })
  it('lets light and views through, and throws the shadow of what is left', () => {
    const rig = rigOf(sun({ elevationDeg: 0, azimuthDeg: 0, sizeDeg: 0 }))
    const { channel } = renderPass('shadow', [leaf(1), wall()], fromFront(4), FRAME, {
      rig,
      effort: SOME,
      params: { on: 'all' },
      members: { ...ALL_MEMBERS, parts: ['wall'], others: 'look past' },
    })
    const lost = channel('S0')
    expect(at(lost, 12, 16)).toBe(1)
    expect(at(lost, 20, 16)).toBe(0)
  })
})

describe('flat', () => {
  it('shows base colours and textures without light', () => {
    const { result } = renderPass('flat', [leaf(0), wall([0.25, 0.5, 0.75])], fromFront(4), FRAME, {
      effort: SOME,
    })
    const pixels = look(result)
    const colour = (x: number, y: number) =>
      Array.from(pixels.subarray(4 * (y * 32 + x), 4 * (y * 32 + x) + 3))
    colour(2, 2).forEach((v, c) => expect(v).toBeCloseTo([0.25, 0.5, 0.75][c], 4))
    colour(11, 16).forEach((v, c) => expect(v).toBeCloseTo([1, 0, 0][c], 2))
    colour(20, 16).forEach((v, c) => expect(v).toBeCloseTo([0.25, 0.5, 0.75][c], 4))
  })
  it('shows what is behind glass by its share, and takes colours anew without rays', () => {
    const pane: SceneModel = {
      ...wall([1, 0, 0]),
      mesh: card(1, 0),
      parts: [{ key: 'pane', name: 'pane', role: 'subject' }],
      materials: [{ key: 'pane', name: 'pane', baseColour: [1, 0, 0], opacity: 0.25 }],
    }
    const { result } = renderPass('flat', [pane, wall([0, 0, 1])], fromFront(1), FRAME, { effort: SOME })
    const [r, g, b] = look(result)
    expect([r, g, b].map((v) => Math.round(v * 100) / 100)).toEqual([0.25, 0, 0.75])
    const recoloured = result.surfaces.map((s) =>
      s.material === 'pane' ? { ...s, baseColour: [0, 1, 0] as const } : s,
    )
    const again = look({ ...result, surfaces: recoloured })
    expect(again[1]).toBeCloseTo(0.25, 2)
  })
})

describe('lit', () => {
  const rig = rigOf(sun({ elevationDeg: 0, azimuthDeg: 0, sizeDeg: 0 }))
  const channelsAt = (models: SceneModel[], names: string[], params: ParamValues = {}) => {
    const { channel } = renderPass('lit', models, fromFront(0.5), FRAME, { rig, effort: SOME, params })
    return names.map((name) => at(channel(name), 16, 16))
  }
  it('is linear base colour times light, head on', () => {
    const [r, g, b, a] = channelsAt([wall([1, 0.5, 0])], ['D0r', 'D0g', 'D0b', 'A'])
    expect(r).toBeCloseTo(1, 2)
    expect(g).toBeCloseTo(0.214, 2)
    expect(b).toBe(0)
    expect(a).toBe(1)
  })
  it('shows through glass what is behind it, lit', () => {
    const pane: SceneModel = {
      ...wall(),
      mesh: card(3, 0),
      parts: [{ key: 'pane', name: 'pane', role: 'subject' }],
      materials: [{ key: 'pane', name: 'pane', baseColour: [0, 0, 0], opacity: 0.5 }],
    }
    const [d, t] = channelsAt([pane, wall([1, 1, 1])], ['D0r', 'T0r'])
    expect(d).toBeCloseTo(0, 3)
    // Half the view, in full light: glass throws no shadow.
    expect(t).toBeCloseTo(0.5, 2)
  })
  it("leaves clear what glass shows where nothing is behind it, in the glass's own colour", () => {
    const pane: SceneModel = {
      ...wall(),
      parts: [{ key: 'pane', name: 'pane', role: 'subject' }],
      materials: [{ key: 'pane', name: 'pane', baseColour: [1, 0, 0], opacity: 0.25 }],
    }
    const [r, g, a] = channelsAt([pane], ['D0r', 'D0g', 'A'])
    expect(r).toBeCloseTo(1, 2)
    expect(g).toBe(0)
    expect(a).toBeCloseTo(0.25, 3)
    expect(channelsAt([pane, { ...wall(), mesh: card(20, -3) }], ['A'])[0]).toBe(1)
    // Two panes: what the first lets through is held by the second for its own part.
    const second = { ...pane, mesh: card(20, -3), parts: [{ ...pane.parts[0], key: 'b', name: 'b' }] }
    expect(channelsAt([pane, second], ['A'])[0]).toBeCloseTo(1 - 0.75 * 0.75, 3)
  })
  it('mirrors what stands before a mirror, an unseen part too', () => {
    const mirror: SceneModel = {
      ...wall(),
      materials: [{ key: 'wall', name: 'wall', baseColour: [0, 0, 0], roughness: 0, highlight: 1 }],
    }
    const glowing: SceneModel = {
      ...wall(),
      mesh: card(50, 30),
      parts: [{ key: 'lamp', name: 'lamp', role: 'unseen' }],
      materials: [{ key: 'lamp', name: 'lamp', baseColour: [0, 0, 0], emission: [1, 0, 0] }],
    }
    const [r, g] = channelsAt([mirror, glowing], ['Er', 'Eg'])
    expect(r).toBeCloseTo(1, 2)
    expect(g).toBe(0)
    expect(channelsAt([mirror, glowing], ['Er'], { reflection: false })[0]).toBe(0)
  })
  it('has fewer channels without reflections and glass', () => {
    const { result } = renderPass('lit', [wall()], fromFront(1), FRAME, {
      rig,
      effort: { samples: 1, rays: 1 },
      params: { reflection: false, transmission: false },
    })
    expect(
      passKind('lit')
        .channels(result.lights, result.params)
        .map((c) => c.name),
    ).toEqual(['D0r', 'D0g', 'D0b', 'H0', 'Er', 'Eg', 'Eb', 'A'])
  })
  it('knows which tiles show a material', () => {
    const { result } = renderPass('lit', [{ ...wall([1, 0, 0]), mesh: card(0.2, 1) }, wall()], fromFront(4), {
      width: 96,
      height: 96,
    })
    const small = showsMaterial(result.facts, [0])
    expect(small({ x: 32, y: 32, width: 32, height: 32 })).toBe(true)
    expect(small({ x: 0, y: 0, width: 32, height: 32 })).toBe(false)
    expect(showsMaterial(result.facts, [1])({ x: 0, y: 0, width: 32, height: 32 })).toBe(true)
    expect(showsMaterial({}, [0])({ x: 0, y: 0, width: 32, height: 32 })).toBe(true)
  })
  it('mirrors more at a glancing angle, and chalk not at all', () => {
    expect(mirrorShare(1, 0, 1)).toBe(1)
    expect(mirrorShare(0.5, 0.2, 0.1)).toBeGreaterThan(mirrorShare(0.5, 0.2, 1))
    expect(mirrorShare(1, 1, 0)).toBe(0)
  })
})

describe('clay with a bounce', () => {
  it('gathers what a lit floor throws on a wall', () => {
    const rig = rigOf(sun({ sizeDeg: 0 }))
    const floor = sceneModel(square(40), 'floor')
    const facing = sceneModel(
      meshOf([
        [
          [-20, 0, 0],
          [20, 0, 0],
          [20, 20, 0],
          [-20, 20, 0],
        ],
      ]),
      'facing',
    )
    // Low on an upright wall half of what it sees is the floor, which is in full light: a bounce of about one half.
    const camera = { eye: [0, 0.5, 9], target: [0, 0.5, 0], fovDeg: 30, orthoHeight: 0.5 } as const
    const { channel } = renderPass('clay', [floor, facing], camera, FRAME, {
      rig,
      effort: { samples: 16, rays: 32 },
      params: { bounce: true },
    })
    expect(mean(channel('L0b'))).toBeGreaterThan(0.42)
    expect(mean(channel('L0b'))).toBeLessThan(0.52)
    expect(mean(channel('L0'))).toBeLessThan(0.01)
  })
})

describe('members', () => {
  const scene = [roof(1, 2, 'a'), roof(3, 0, 'b')]
  it('hold other parts out, so that a part alone falls exactly into its place', () => {
    const whole = renderPass('occlusion', scene, fromAbove(8), FRAME, { effort: SOME })
    const alone = renderPass('occlusion', scene, fromAbove(8), FRAME, {
      effort: SOME,
      members: { ...ALL_MEMBERS, parts: ['b'] },
    })
    const [v, a, wholeV, wholeA] = [
      alone.channel('V'),
      alone.channel('A'),
      whole.channel('V'),
      whole.channel('A'),
    ]
    expect(at(a, 16, 16)).toBe(0)
    expect(at(a, 6, 16)).toBe(1)
    for (let p = 0; p < v.length; p++) if (a[p] === 1 && wholeA[p] === 1) expect(v[p]).toBe(wholeV[p])
  })
  it('look past them where asked', () => {
    const { channel } = renderPass('depth', scene, fromAbove(8), FRAME, {
      members: { ...ALL_MEMBERS, parts: ['b'], others: 'look past' },
    })
    expect(at(channel('Z'), 16, 16)).toBeCloseTo(10, 4)
  })
  it('look past them with the same bits however the picture is cut into tiles', () => {
    // Tiles that what is looked past cannot be in share what they see with passes that look past nothing.
    const small = { ...roof(0.4, 3, 'c'), mesh: square(0.4, 3) }
    for (const kind of ['shadow', 'clay', 'depth'] as const)
      for (const holdOut of [[], ['a']]) {
        const members = { ...ALL_MEMBERS, parts: ['b', 'a'], others: 'look past' as const, holdOut }
        const rig = rigOf(sun({}), newLight('dome', 'sky', {}))
        const render = (tileSide: number) =>
          renderPass(kind, [...scene, small], fromAbove(8), FRAME, {
            effort: { samples: 8, rays: 4 },
            members,
            rig,
            params: kind === 'shadow' ? { on: 'all' } : {},
            tileSide,
          }).result.channels
        expect(render(32)).toEqual(render(4))
      }
  })
  it('throw the shadow of one alone, as if the others were not there', () => {
    const rig = rigOf(sun({ sizeDeg: 2 }), newLight('dome', 'sky', {}))
    const others = [roof(1, 2, 'other'), ground()]
    const own = roof(0.3, 1, 'own')
    const params = { on: 'all' }
    const alone = renderPass('shadow', [...others, own], fromAbove(8), FRAME, {
      rig,
      effort: SOME,
      params,
      tileSide: 4,
      members: {
        ...ALL_MEMBERS,
        parts: ['ground', 'other'],
        others: 'look past',
        letThrough: ['ground', 'other'],
      },
    })
    const without = renderPass('shadow', [own, ground()], fromAbove(8), FRAME, {
      rig,
      effort: SOME,
      params,
      members: { ...ALL_MEMBERS, parts: ['ground'], others: 'look past', letThrough: ['ground'] },
    })
    // Beside what hides the ground.
    let most = 0
    for (let p = 0; p < 32 * 32; p++) {
      const [x, y] = [(p % 32) - 15.5, Math.floor(p / 32) - 15.5]
      if (Math.max(Math.abs(x), Math.abs(y)) < 5) continue
      expect(alone.channel('S0')[p]).toBe(without.channel('S0')[p])
      expect(Math.abs(alone.channel('S1')[p] - without.channel('S1')[p])).toBeLessThan(2 / 255)
      most = Math.max(most, alone.channel('S1')[p])
    }
    expect(most).toBeGreaterThan(0)
  })
  it('let light through parts that are not in its way', () => {
    const open = renderPass('occlusion', scene, fromAbove(8), FRAME, {
      effort: SOME,
      params: { reach: 500 },
      members: { ...ALL_MEMBERS, parts: ['b'], others: 'look past', letThrough: ['a'] },
    })
    const inside = open.channel('V').filter((_, p) => open.channel('A')[p] === 1)
    expect(inside.length).toBeGreaterThan(300)
    expect(Math.min(...inside)).toBe(1)
  })
})

describe('occlusion, live', () => {
  const models = [roof(1, 1, 'lid'), ground()]
  const rendered = renderPass('occlusion', models, { ...fromAbove(6), eye: [4, 5, 0] }, FRAME, {
    effort: SOME,
    params: { reach: 100 },
  })
  it('runs smoothly between its four reaches and is one of them at each', () => {
    const value = (changes: ParamValues) => mean(look(rendered.result, changes))
    for (const [reach, name] of [
      [100, 'V'],
      [50, 'V2'],
      [25, 'V4'],
      [12.5, 'V8'],
    ] as const) {
      const pixels = look(rendered.result, { reach })
      const plane = rendered.channel(name)
      for (let p = 0; p < plane.length; p += 7) expect(pixels[4 * p]).toBeCloseTo(plane[p], 4)
    }
    const between = value({ reach: 70 })
    expect(between).toBeGreaterThan(value({ reach: 100 }))
    expect(between).toBeLessThan(value({ reach: 50 }))
    expect(value({ reach: 100, falloff: 1 })).toBeGreaterThan(value({ reach: 100 }))
  })
  it('leaves the ground out of what occludes where asked', () => {
    const standing = [sceneModel(cube(1)), ground()]
    const side = fromFront(1.8)
    const with_ = renderPass('occlusion', standing, side, FRAME, { effort: SOME, params: { reach: 300 } })
    const without = renderPass('occlusion', standing, side, FRAME, {
      effort: SOME,
      params: { reach: 300, ground: false },
    })
    expect(mean(without.channel('V'))).toBeGreaterThan(mean(with_.channel('V')) + 0.1)
  })
})

describe('samples where they tell something', () => {
  it('leave plain pixels with the same picture as all samples do', () => {
    const models = [sceneModel(ball(1, 48)), ground()]
    const camera = { eye: [0, 3, 5], target: [0, 0, 0], fovDeg: 35, orthoHeight: null } as const
    const params = { reach: 60 }
    const few = renderPass('occlusion', models, camera, FRAME, { effort: { samples: 16, rays: 32 }, params })
    const many = renderPass('occlusion', models, camera, FRAME, { effort: { samples: 64, rays: 32 }, params })
    const [a, b] = [few.channel('V'), many.channel('V')]
    const rms = Math.sqrt(mean(a.map((v, i) => (v - b[i]) ** 2)))
    // 512 and 2048 rays a pixel: what remains is noise of the smaller.
    expect(rms).toBeLessThan(0.012)
  })
  it('converge on the long run: four times the rays halve the error or better', () => {
    const models = [roof(1, 1, 'lid'), ground()]
    const camera = { eye: [3, 4, 2], target: [0, 0, 0], fovDeg: 30, orthoHeight: 3 } as const
    const render = (rays: number, seed: number) =>
      renderPass('occlusion', models, camera, FRAME, {
        effort: { samples: 4, rays },
        seed,
        params: { reach: 60 },
      }).channel('V')
    const reference = render(1024, 9)
    const error = (rays: number) => {
      const values = render(rays, 1)
      return Math.sqrt(mean(values.map((v, i) => (v - reference[i]) ** 2)))
    }
    const [coarse, fine] = [error(4), error(16)]
    expect(fine).toBeLessThan(coarse / 2)
  })
})

describe('wireframe', () => {
  it('tells sides of polygons, and how dense its lines are', () => {
    const mixed = meshOf([
      [
        [-1, -1, 0],
        [0, -1, 0],
        [0, 1, 0],
        [-1, 1, 0],
      ],
      [
        [0, -1, 0],
        [1, -1, 0],
        [0, 1, 0],
      ],
    ])
    const { channel } = renderPass('wireframe', [sceneModel(mixed)], fromFront(2.2), FRAME)
    expect(at(channel('S4'), 8, 16)).toBe(1)
    expect(at(channel('S3'), 18, 24)).toBe(1)
    expect(at(channel('S5'), 8, 16)).toBe(0)
  })
  it('lays its lines over a fill, plain or by sides', () => {
    const { result } = renderPass('wireframe', [sceneModel(cube(1))], fromFront(3), FRAME)
    const middle = (changes: ParamValues) => [
      ...look(result, changes).slice(4 * (16 * 32 + 16), 4 * (16 * 32 + 17)),
    ]
    expect(middle({ fill: 0 })).toEqual([0, 0, 0, 0])
    expect(middle({ fill: 1, fillColour: '#ff0000' })).toEqual([1, 0, 0, 1])
    expect(middle({ fill: 1, bySides: true, quads: '#0000ff' })).toEqual([0, 0, 1, 1])
    // An edge of the front square lies over the fill there.
    const edge = look(result, { fill: 1, fillColour: '#ff0000', colour: '#000000', weight: 20, bySpacing: 0 })
    const reds = Array.from({ length: 32 }, (_, x) => edge[4 * (16 * 32 + x)])
    expect(Math.min(...reds.slice(3, 8))).toBeLessThan(0.6)
    expect(edge[4 * (16 * 32 + 16)]).toBe(1)
  })
})

it('sets name passes that there are, each once', () => {
  for (const set of PASS_SETS) {
    expect(new Set(set.kinds).size).toBe(set.kinds.length)
    for (const kind of set.kinds) expect(PASS_KINDS).toContain(kind)
  }
})

it.each(PASS_KINDS)('%s gives the same bits however the picture is cut into tiles', (kind) => {
  const models = [sceneModel(ball(1, 16)), ground(), leaf(1.5)]
  const camera = { eye: [1, 3, 5], target: [0, 0, 0], fovDeg: 35, orthoHeight: null } as const
  const effort = { samples: 8, rays: 4 }
  const one = renderPass(kind, models, camera, FRAME, { effort, tileSide: 32 })
  const two = renderPass(kind, models, camera, FRAME, { effort, tileSide: 16, reverse: true })
  one.result.channels.forEach((channel, c) => expect(two.result.channels[c]).toEqual(channel))
})
