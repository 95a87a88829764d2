import { describe, expect, it } from 'vitest'
import { hash32, seededRandom } from '../math/sampling'
import { CLEARANCE, leastClearance } from '../passes/clearance'
import { DomePicture } from '../passes/dome-picture'
import { tracePrimaryHits } from '../passes/primary-hits'
import { CameraRay } from '../scene/camera-ray'
import { TilePoints } from '../passes/tile-points'
import { cameraBasis } from '../scene/camera'
import { BLOCKS_LIGHT, SEEN_BY_CAMERA } from '../scene/part-role'
import { buildSceneGeometry } from '../scene/scene-geometry'
import { treeFromTransfer, treeToTransfer, buildRayTree } from './ray-tree'
import { ball, cube, mean, sceneModel, square } from '../testing/shapes'
import type { LightRecord } from './light-record'
import { PlainGather, type PlainRun } from './plain-gather'
import { PlainPoint } from './plain-point'
import { NOTHING, POINT, POINT_NUMBERS } from './point-block'
import { TraceKernel } from './trace-kernel'

/**
 * A coarse ball on a ground beside a cube, seen from aside: smooth and flat shading, corners, gaps, and a ground under all.
 */
const scene = buildSceneGeometry([
  sceneModel(ball(1, 10), 'ball'),
  { ...sceneModel(cube(0.6), 'cube'), transforms: [[1, 0, 0, 1.7, 0, 1, 0, -0.4, 0, 0, 1, 0.3]] },
  sceneModel(square(6, -1), 'ground', 'ground'),
])
const FRAME = { width: 24, height: 16 }
const SAMPLES = 4
const camera = cameraBasis({ eye: [3, 4, 7], target: [0.6, -0.3, 0], fovDeg: 34, orthoHeight: null }, FRAME)
const tile = { x: 0, y: 0, ...FRAME }
const hits = tracePrimaryHits(
  {
    scene,
    camera,
    frame: FRAME,
    samples: SAMPLES,
    adaptive: false,
    filter: { mask: SEEN_BY_CAMERA, parts: null },
  },
  tile,
)
const visible = new TilePoints(scene, camera, FRAME, tile, hits, null, 7)
const { points } = TraceKernel.over(scene.tree)
const filter = { mask: BLOCKS_LIGHT, parts: null }
const plain = new PlainGather(scene, BLOCKS_LIGHT)
const D = scene.figureDiagonal
const RAYS = 12

/** The block, and each of its points again in double precision with the run of numbers it takes. */
function both(salt = 0): { readonly point: PlainPoint; readonly run: PlainRun }[] {
  const block = visible.block(0)
  const ray = new CameraRay(camera, FRAME)
  return Array.from({ length: block.count }, (_, i) => {
    const at = POINT_NUMBERS * i
    const sample = visible.samples[i]
    const pixel = block.ints[at + POINT.pixel]
    const s = sample - hits.starts[pixel]
    ray.aim(
      (pixel % FRAME.width) + hits.pattern[2 * s],
      Math.floor(pixel / FRAME.width) + hits.pattern[2 * s + 1],
    )
    const point = new PlainPoint(scene)
    point.load(
      hits.slots[sample],
      hits.weights[2 * sample],
      hits.weights[2 * sample + 1],
      ray.dx,
      ray.dy,
      ray.dz,
    )
    const length = 2 ** Math.ceil(Math.log2(SAMPLES * RAYS))
    const first = block.ints[at + POINT.order] * length + s * RAYS
    return { point, run: { first, rays: RAYS, seed: block.ints[at + POINT.seed] ^ salt } }
  })
}
const asked = { rays: RAYS, most: SAMPLES, filter }
const range = () => {
  const block = visible.block(0)
  return { block, from: 0, count: block.count }
}

it('completes points as double precision does', () => {
  const { floats } = visible.block(0)
  both().forEach(({ point: p }, i) => {
    const at = POINT_NUMBERS * i
    const own = {
      start: [p.x, p.y, p.z],
      geometric: [p.gx, p.gy, p.gz],
      normal: [p.nx, p.ny, p.nz],
      on: [p.onX, p.onY, p.onZ],
      smooth: [p.smoothX, p.smoothY, p.smoothZ],
    }
    for (const [name, values] of Object.entries(own))
      values.forEach((value, axis) =>
        expect(floats[at + POINT[name as keyof typeof own] + axis], name).toBeCloseTo(value, 5),
      )
  })
})

/** Worst and mean difference of answers, of which a few rays may meet the other side of an edge. */
function compare(answers: (i: number) => readonly number[], reference: (i: number) => readonly number[]) {
  const all: number[] = []
  for (let i = 0; i < visible.block(0).count; i++) {
    const wanted = reference(i)
    answers(i).forEach((value, k) => all.push(Math.abs(value - wanted[k])))
  }
  return {
    worst: Math.max(...all),
    mean: mean(all),
    different: all.filter((d) => d > 1e-4).length / all.length,
  }
}

describe('beside the plain kernel', () => {
  it.each([
    ['short', 0.1, 90],
    ['long', 2, 90],
    ['in a cone', 0.8, 35],
  ])('occlusion, %s', (_, reachD, coneDeg) => {
    const sine = Math.sin((coneDeg * Math.PI) / 180)
    points.occlusion(range(), asked, reachD * D, sine)
    const answer = points.values.slice()
    const plainOnes = both().map(({ point, run }) => plain.occlusion(point, run, reachD * D, sine))
    // Something is in the way somewhere, and not everywhere.
    expect(mean(plainOnes.map(([v]) => v))).toBeGreaterThan(0.3)
    expect(mean(plainOnes.map(([v]) => v))).toBeLessThan(0.99)
    const found = compare(
      (i) => [...answer.subarray(4 * i, 4 * i + 4)],
      (i) => plainOnes[i],
    )
    expect(found.different).toBeLessThan(0.01)
    expect(found.mean).toBeLessThan(1e-3)
  })

  it.each([0.02, 0.2])('cavity within %f D', (radiusD) => {
    points.cavity(range(), asked, radiusD * D)
    const answer = points.values.slice()
    const plainOnes = both().map(({ point, run }) => plain.cavity(point, run, radiusD * D))
    expect(Math.max(...plainOnes.map(Math.abs))).toBeGreaterThan(0.1)
    const found = compare(
      (i) => [answer[i]],
      (i) => [plainOnes[i]],
    )
    expect(found.different).toBeLessThan(0.02)
    expect(found.mean).toBeLessThan(1e-3)
  })

  it('thickness', () => {
    const salt = hash32(5)
    points.thickness(range(), asked, 0.7 * D, 0.8, salt, leastClearance(scene))
    const answer = points.values.slice()
    const plainOnes = both(salt).map(({ point, run }) => {
      const far = Math.max(Math.abs(point.onX), Math.abs(point.onY), Math.abs(point.onZ))
      return plain.thickness(point, run, 0.7 * D, 0.8, leastClearance(scene) + CLEARANCE * far)
    })
    expect(mean(plainOnes)).toBeLessThan(0.95)
    const found = compare(
      (i) => [answer[i]],
      (i) => [plainOnes[i]],
    )
    expect(found.different).toBeLessThan(0.01)
    expect(found.mean).toBeLessThan(1e-3)
  })

  const random = seededRandom(3)
  const pixels = Float32Array.from({ length: 3 * 16 * 8 }, () => random() ** 6 * 20)
  const lights: Record<string, LightRecord> = {
    sun: {
      kind: 'parallel',
      to: [0.6, 0.64, 0.48],
      isRound: true,
      first: [0.08, 0, -0.1],
      second: [0, 0.1, 0],
    },
    face: {
      kind: 'place',
      middle: [2, 3, 3],
      axis: [0.4, 0.6, Math.sqrt(0.48)],
      first: [0.5, 0, 0],
      second: [0, 0.4, -0.3],
      isRound: false,
      isFacing: true,
      full: 20,
      gain: 1.3,
      cone: null,
    },
    cone: {
      kind: 'place',
      middle: [-1, 4, 3],
      axis: [-0.2, 0.84, Math.sqrt(1 - 0.04 - 0.7056)],
      first: [0.1, 0, 0],
      second: [0, 0, 0.1],
      isRound: true,
      isFacing: false,
      full: 25,
      gain: 1,
      cone: { rim: 0.9, fade: 0.98 },
    },
    sky: { kind: 'sky' },
    picture: { kind: 'picture', picture: new DomePicture({ width: 16, height: 8, pixels }), turnRad: 0.7 },
  }
  describe.each(Object.keys(lights))('light of a %s', (name) => {
    const record = lights[name]
    const salt = hash32(99)
    const ask = (throwsShadow: boolean) => {
      const light = { record, salt, throwsShadow, lit: null }
      points.lightFrom(range(), asked, light, { highlight: false, whole: true })
      return [points.values.slice(), points.whole.slice()]
    }
    it.each([false, true])('its shadow: %s', (throwsShadow) => {
      const [answer] = ask(throwsShadow)
      const plainOnes = both(salt).map(({ point, run }) => plain.light(point, run, record, throwsShadow))
      expect(mean(plainOnes.flat())).toBeGreaterThan(0.01)
      const found = compare(
        (i) => [...answer.subarray(4 * i, 4 * i + 3)],
        (i) => plainOnes[i],
      )
      expect(found.different).toBeLessThan(0.02)
      expect(found.mean).toBeLessThan(2e-3)
    })
    it('is whole where nothing is in the way', () => {
      const [open] = ask(false)
      const [shadowed, whole] = ask(true)
      expect(whole).toEqual(open)
      expect(mean(shadowed)).toBeLessThan(mean(whole))
    })
    it('is not asked about where what may throw a shadow is out of reach', () => {
      const light = { record, salt, throwsShadow: true, lit: null }
      const cube = { ...asked, filter: { mask: BLOCKS_LIGHT, parts: Uint8Array.of(0, 1, 0) } }
      points.lightFrom(range(), cube, light, { highlight: false, whole: false })
      const through = points.values.slice()
      points.lightFrom(range(), cube, light, { highlight: false, whole: true })
      const [answer, whole] = [points.values.slice(), points.whole.slice()]
      const [open] = ask(false)
      const { count, ints } = visible.block(0)
      let left = 0
      for (let i = 0; i < 4 * count; i++) {
        // Its points together, or none of them.
        const isAsked = whole[i] === open[i]
        if (isAsked) expect(answer[i]).toBe(through[i])
        else {
          expect([whole[i], answer[i]]).toEqual([0, 0])
          expect(through[i]).toBe(open[i])
          left++
        }
        const at = POINT_NUMBERS * (i >> 2)
        if (
          i >= 4 &&
          ints[at + POINT.pixel] === ints[at - POINT_NUMBERS + POINT.pixel] &&
          open[i - 4] > 0 &&
          open[i] > 0
        )
          expect(isAsked).toBe(whole[i - 4] === open[i - 4])
      }
      expect(left).toBeGreaterThan(20)
    })
  })
})

it('keeps what a list leaves out dark, and looks past what a filter leaves out', () => {
  const light = { record: { kind: 'sky' } as const, salt: 1, throwsShadow: true }
  const block = visible.block(0)
  const isBall = Array.from(
    { length: block.count },
    (_, i) => block.ints[POINT_NUMBERS * i + POINT.part] === 0,
  )
  points.lightFrom(
    range(),
    asked,
    { ...light, lit: Uint8Array.of(1, 0, 0) },
    { highlight: false, whole: false },
  )
  isBall.forEach((is, i) => {
    if (!is) expect(points.values[4 * i]).toBe(0)
  })
  expect(mean(isBall.map((is, i) => (is ? points.values[4 * i] : 0)))).toBeGreaterThan(0)
  const none = { ...asked, filter: { mask: BLOCKS_LIGHT, parts: Uint8Array.of(0, 0, 0) } }
  points.occlusion(range(), none, D, 1)
  expect(Math.min(...points.values.subarray(0, 4 * block.count))).toBe(1)
})

it('scatters what double precision scatters, block by block where there is little room', () => {
  const block = visible.block(0)
  points.shares.fill(0.5, 0, block.count)
  const taken = points.scatter(range(), asked, 'bounced', 17, leastClearance(scene))
  const { secondary } = points
  // More rays than a block holds: the rest is left for another call.
  expect(taken).toBe(Math.min(block.count, Math.floor(16384 / RAYS)))
  expect(secondary.count).toBeGreaterThan(0.9 * taken * RAYS)
  let sum = 0
  for (let i = 0; i < secondary.count; i++) sum += secondary.floats[POINT_NUMBERS * i + POINT.share]
  // Those below the true surface are not sent.
  expect(sum).toBeCloseTo((0.5 * secondary.count) / RAYS, 2)
  const next = points.scatter(
    { block, from: taken, count: block.count - taken },
    asked,
    'bounced',
    17,
    leastClearance(scene),
  )
  expect(taken + next).toBe(block.count)
})

it('mirrors a view where nothing spreads it', () => {
  const block = visible.block(0)
  points.shares.fill(1, 0, block.count)
  points.spreads.fill(0, 0, block.count)
  points.scatter(range(), { ...asked, rays: 1, most: 0 }, 'mirrored', 3, leastClearance(scene))
  const { secondary } = points
  let made = 0
  let met = 0
  both().forEach(({ point }, i) => {
    const view = [0, 1, 2].map((axis) => block.floats[POINT_NUMBERS * i + POINT.view + axis])
    const normal = [point.nx, point.ny, point.nz]
    const along = 2 * view.reduce((total, value, axis) => total + value * normal[axis], 0)
    const mirrored = view.map((value, axis) => value - along * normal[axis])
    if (mirrored[0] * point.gx + mirrored[1] * point.gy + mirrored[2] * point.gz <= 0) return
    mirrored.forEach((value, axis) =>
      expect(secondary.floats[POINT_NUMBERS * made + POINT.view + axis]).toBeCloseTo(value, 5),
    )
    const way = [0, 1, 2].map(
      (axis) =>
        secondary.floats[POINT_NUMBERS * made + POINT.on + axis] -
        block.floats[POINT_NUMBERS * i + POINT.start + axis],
    )
    if (secondary.ints[POINT_NUMBERS * made + POINT.slot] !== NOTHING) {
      expect(points.ways[made]).toBeCloseTo(Math.hypot(...way), 4)
      met++
    }
    made++
  })
  expect(secondary.count).toBe(made)
  expect(met).toBeGreaterThan(0)
})

it('goes on in blocks where a tile has more points than one holds', () => {
  const many = 64
  const crowded = tracePrimaryHits(
    {
      scene,
      camera,
      frame: FRAME,
      samples: many,
      adaptive: false,
      filter: { mask: SEEN_BY_CAMERA, parts: null },
    },
    tile,
  )
  const blocks = new TilePoints(scene, camera, FRAME, tile, crowded, null, 7)
  expect(blocks.blockCount).toBe(2)
  const shares = new Float64Array(FRAME.width * FRAME.height)
  let total = 0
  for (let b = 0; b < blocks.blockCount; b++) {
    const block = blocks.block(b)
    total += block.count
    for (let i = 0; i < block.count; i++) {
      const at = POINT_NUMBERS * i
      shares[block.ints[at + POINT.pixel]] += block.floats[at + POINT.share]
      expect(block.ints[at + POINT.slot]).toBe(crowded.slots[blocks.samples[i]])
    }
  }
  expect(total).toBe(crowded.slots.filter((slot) => slot >= 0).length)
  shares.forEach((share, p) => expect(share).toBeCloseTo(blocks.coverage[p] > 0 ? 1 : 0, 5))
})

it('answers the same in memory that is not shared, which moves as a picture is brought there', () => {
  const { tree } = scene
  const vertices = new Float32Array(9 * scene.triangleCount)
  const tags = new Uint32Array(scene.triangleCount)
  tree.ids.forEach((id, slot) => {
    if (id === 0xffffffff) return
    for (let k = 0; k < 9; k++) vertices[9 * id + k] = tree.floats[tree.cornerBase(slot) + 4 * k]
    tags[id] = tree.tags[slot]
  })
  const built = buildRayTree(vertices, tags, { normals: tree.normals.slice(), shared: false })
  const own = { ...scene, tree: treeFromTransfer(treeToTransfer(built)) }
  const copied = new TilePoints(own, camera, FRAME, tile, hits, null, 7)
  const other = TraceKernel.over(own.tree)
  const light = {
    record: {
      kind: 'picture' as const,
      picture: new DomePicture({ width: 512, height: 256, pixels: new Float32Array(3 * 512 * 256).fill(1) }),
      turnRad: 0,
    },
    salt: 4,
    throwsShadow: true,
    lit: null,
  }
  const wants = { highlight: false, whole: false }
  points.lightFrom(range(), asked, light, wants)
  const block = copied.block(0)
  other.points.lightFrom({ block, from: 0, count: block.count }, asked, light, wants)
  const many = 4 * block.count
  expect(other.points.values.slice(0, many)).toEqual(points.values.slice(0, many))
  expect(Math.max(...points.values.subarray(0, many))).toBeGreaterThan(0.5)
  expect(own.tree.floats.length).toBeGreaterThan(0)
})
