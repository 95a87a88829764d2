import { describe, expect, it } from 'vitest'
import { decodeChannel } from '../picture/channel'
import { placementMatrix } from '../scene/placement'
import type { Camera } from '../scene/camera'
import { DEFAULT_RIG } from '../scene/ready-rigs'
import { buildSceneGeometry, type SceneModel } from '../scene/scene-geometry'
import { ball, cube, distanceBetween, fromFront, mean, sceneModel, square } from '../testing/shapes'
import { POINT, POINT_NUMBERS } from '../trace/point-block'
import { TraceKernel } from '../trace/trace-kernel'
import { leastClearance } from './clearance'
import { passKind } from './registry'
import { keptAnswers, TileJob, tilesFromMiddle, type PassOrder } from './render-tile'
import { SurfaceCache, type KeptPlane, type KeptSurface } from './surface-cache'
import { layTexels, NOT_KEPT } from './surface-layout'

const FRAME = { width: 96, height: 72 }
const at = (x: number, y: number, z: number, scale = 1) =>
  placementMatrix({ position: [x, y, z], rotationDeg: [20, 35, 10], scale: [scale, scale, scale] })
const placed = (model: SceneModel, matrix: SceneModel['transforms'][number]): SceneModel => ({
  ...model,
  transforms: [matrix],
})
/** A floor, a ball and a block on it, the block partly in the floor. */
const MODELS: SceneModel[] = [
  sceneModel(square(2, -0.6), 'floor'),
  placed(sceneModel(ball(0.5, 14), 'ball'), at(-0.5, -0.1, 0)),
  placed(sceneModel(cube(0.35), 'block'), at(0.5, -0.45, 0.1)),
]
const scene = buildSceneGeometry(MODELS)
/** Round the scene, looking down on it. */
const camera = (deg: number): Camera => {
  const angle = (deg * Math.PI) / 180
  return {
    eye: [5 * Math.sin(angle), 2.2, 5 * Math.cos(angle)],
    target: [0, -0.2, 0],
    fovDeg: 28,
    orthoHeight: null,
  }
}
const CAMERAS = Array.from({ length: 12 }, (_, i) => camera(30 * i))
const order = (kind: PassOrder['kind'], rays = 8, samples = 8): PassOrder => ({
  kind,
  params: {},
  effort: { samples, rays },
})

function keep(orders: readonly PassOrder[], spacingPx = 1): { surface: KeptSurface; cache: SurfaceCache } {
  const layout = layTexels(scene, CAMERAS, FRAME, spacingPx)
  const setting = { camera: CAMERAS[0], frame: FRAME, rig: DEFAULT_RIG }
  const planes: KeptPlane[] = keptAnswers(scene, setting, () => null, orders, false).map((answer) => ({
    ...answer,
    data: new Float32Array(answer.values * layout.count),
    isThere: new Uint8Array(layout.count),
  }))
  const surface = { layout, buried: new Uint8Array(layout.count), planes }
  return { surface, cache: new SurfaceCache(scene, surface) }
}

/** The first channel of a pass in a pose, and the raw bytes of all. */
function pictureOf(of: PassOrder, own: Camera, cache: SurfaceCache | null) {
  const setting = { camera: own, frame: FRAME, rig: DEFAULT_RIG }
  const job = new TileJob(
    scene,
    setting,
    () => null,
    [of],
    3,
    () => 0,
    cache,
  )
  const values = new Float32Array(FRAME.width * FRAME.height)
  const bytes: string[] = []
  const format = passKind(of.kind).channels([], of.params)[0]
  for (const tile of tilesFromMiddle(FRAME, 24)) {
    const [{ channels }] = job.render(tile, () => false)
    bytes.push(...channels.map(({ buffer }) => Buffer.from(buffer as ArrayBuffer).toString('base64')))
    const own = new Float32Array(tile.width * tile.height)
    decodeChannel({ ...format, data: channels[0] }, 0, own.length, own)
    for (let y = 0; y < tile.height; y++)
      values.set(own.subarray(y * tile.width, (y + 1) * tile.width), (tile.y + y) * FRAME.width + tile.x)
  }
  return { values, bytes }
}
const error = (a: Float32Array, b: Float32Array): number => mean(a.map((v, i) => Math.abs(v - b[i])))

describe('texels on surfaces', () => {
  const { surface, cache } = keep([order('occlusion')])
  const { layout } = surface
  const { points } = TraceKernel.over(scene.tree)

  it('lie on no side that no pose faces', () => {
    const kept = [0, 0]
    for (let slot = 0; slot < scene.tree.slotCount; slot++) {
      if (scene.tree.ids[slot] === 0xffffffff) continue
      if (scene.parts[scene.tree.tags[slot] & 0xffffff].name !== 'floor') continue
      const up = layout.normals[3 * slot + 1] > 0 ? 0 : 1
      for (const side of [0, 1]) if (layout.bases[2 * slot + side] !== NOT_KEPT) kept[side === up ? 0 : 1]++
    }
    // The floor is looked down on from all sides.
    expect(kept[0]).toBeGreaterThan(0)
    expect(kept[1]).toBe(0)
  })
  it('are no farther apart than the spacing in the nearest pose, and give linear functions exactly', () => {
    // What is kept is a coordinate: looked up, it is that of the point.
    const plane: KeptPlane = {
      key: 'x',
      values: 3,
      dark: 0,
      rays: 1,
      data: new Float32Array(3 * layout.count),
      isThere: new Uint8Array(layout.count),
    }
    const own = new SurfaceCache(scene, { layout, buried: new Uint8Array(layout.count), planes: [plane] })
    const job = { camera: CAMERAS[1], frame: FRAME, rig: DEFAULT_RIG }
    const tracer = new TileJob(
      scene,
      job,
      () => null,
      [order('occlusion')],
      0,
      () => 0,
    )
    tracer.render({ x: 20, y: 20, width: 56, height: 40 }, () => false)
    const block = points.primary
    points.load(block, block.count, leastClearance(scene))
    const places = Array.from({ length: block.count }, (_, i) =>
      [0, 1, 2].map((axis) => block.floats[POINT_NUMBERS * i + POINT.on + axis]),
    )
    own.lookUp(
      plane,
      block,
      4,
      { rays: 1, most: 0 },
      () => false,
      ({ block: asked, from, count }) => {
        for (let i = from; i < from + count; i++)
          for (let axis = 0; axis < 3; axis++)
            points.values[4 * i + axis] = asked.floats[POINT_NUMBERS * i + POINT.on + axis]
      },
    )
    expect(block.count).toBeGreaterThan(2000)
    // Samples of a pixel are looked up together: it is their mean that is theirs.
    const pixels = new Map<number, { place: number[]; found: number[]; count: number }>()
    places.forEach((place, i) => {
      const pixel = block.ints[POINT_NUMBERS * i + POINT.pixel]
      const sums = pixels.get(pixel) ?? { place: [0, 0, 0], found: [0, 0, 0], count: 0 }
      for (let axis = 0; axis < 3; axis++) {
        sums.place[axis] += place[axis]
        sums.found[axis] += points.values[4 * i + axis]
      }
      sums.count++
      pixels.set(pixel, sums)
    })
    const apart = [...pixels.values()].map(({ place, found, count }) =>
      distanceBetween(
        place.map((v) => v / count),
        found.map((v) => v / count),
      ),
    )
    expect(pixels.size).toBeGreaterThan(500)
    // A pixel is 0.035 wide there; texels at borders lie a third of their spacing off.
    expect(mean(apart)).toBeLessThan(0.004)
    expect(Math.max(...apart)).toBeLessThan(0.035)
  })
  it('tell which of them are buried', () => {
    pictureOf(order('occlusion'), CAMERAS[0], cache)
    const known = [...surface.buried].filter((state) => state > 0)
    expect(known.length).toBeGreaterThan(3000)
    // Where the block stands in the floor and the ball touches it: few.
    const buried = known.filter((state) => state === 2).length / known.length
    expect(buried).toBeGreaterThan(0)
    expect(buried).toBeLessThan(0.1)
  })
})

describe('what meets backs', () => {
  it('is everything within a solid, nothing outside', () => {
    const small = buildSceneGeometry([sceneModel(ball(1, 20), 'shell'), sceneModel(square(0.2), 'inside')])
    const { points } = TraceKernel.over(small.tree)
    const block = points.primary
    let count = 0
    for (let slot = 0; slot < small.tree.slotCount; slot++) {
      if (small.tree.ids[slot] === 0xffffffff) continue
      const part = small.tree.tags[slot] & 0xffffff
      const c = small.tree.cornerBase(slot)
      const f = small.tree.floats
      // Seen from far outside.
      const view = [0, 4, 8].map((axis) => -(f[c + axis] + f[c + 12 + axis] + f[c + 24 + axis]) / 3)
      block.put(
        count++,
        slot,
        0.3,
        0.3,
        view[0],
        view[1] - (part === 1 ? 1 : 0),
        view[2],
        part,
        1,
        slot,
        0,
        0,
      )
    }
    points.load(block, count, leastClearance(small))
    points.backs({ block, from: 0, count }, { rays: 32, filter: { mask: 255, parts: null } }, 1e30)
    for (let i = 0; i < count; i++)
      expect(points.values[i]).toBe(block.ints[POINT_NUMBERS * i + POINT.pixel] === 1 ? 1 : 0)
  })
})

describe('passes kept on surfaces', () => {
  it.each(['occlusion', 'cavity', 'thickness'] as const)(
    '%s is what is traced, with no more error',
    (kind) => {
      const exact = pictureOf(order(kind, 128), CAMERAS[2], null).values
      const traced = pictureOf(order(kind), CAMERAS[2], null).values
      const { cache } = keep([order(kind)])
      const kept = pictureOf(order(kind), CAMERAS[2], cache).values
      expect(error(traced, exact)).toBeGreaterThan(0)
      // On so small a picture a texel is as large as a contact's shadow: within a little of it.
      expect(error(kept, exact)).toBeLessThan(1.25 * error(traced, exact) + 0.002)
      expect(Math.abs(mean(kept) - mean(exact))).toBeLessThan(0.01)
    },
  )
  it('a sky on clay is what is traced, its sun is traced', () => {
    const clay = order('clay')
    const setting = { camera: CAMERAS[0], frame: FRAME, rig: DEFAULT_RIG }
    const answers = keptAnswers(scene, setting, () => null, [clay], false)
    const skies = DEFAULT_RIG.lights.filter(({ kind, on }) => kind === 'dome' && on)
    expect(answers).toHaveLength(skies.length)
    const { cache } = keep([clay])
    const kept = pictureOf(clay, CAMERAS[5], cache)
    const traced = pictureOf(clay, CAMERAS[5], null)
    expect(Math.abs(mean(kept.values) - mean(traced.values))).toBeLessThan(0.01)
  })
  it('gives the same bits whatever pose came first', () => {
    const one = keep([order('occlusion')]).cache
    const other = keep([order('occlusion')]).cache
    const first = pictureOf(order('occlusion'), CAMERAS[3], one).bytes
    for (const pose of [7, 2, 4]) pictureOf(order('occlusion'), CAMERAS[pose], other)
    expect(pictureOf(order('occlusion'), CAMERAS[3], other).bytes).toEqual(first)
    // … and again, with nothing left to make.
    expect(pictureOf(order('occlusion'), CAMERAS[3], other).bytes).toEqual(first)
  })
  it('hands what is not kept to rays', () => {
    // Cavity is not among what is kept here.
    const { cache } = keep([order('occlusion')])
    expect(pictureOf(order('cavity'), CAMERAS[1], cache).bytes).toEqual(
      pictureOf(order('cavity'), CAMERAS[1], null).bytes,
    )
    expect(pictureOf(order('occlusion'), fromFront(4), cache).values.some((v) => v > 0)).toBe(true)
  })
})
