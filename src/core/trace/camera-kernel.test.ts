import { describe, expect, it } from 'vitest'
import { pixelPattern } from '../math/sampling'
import { dot, subtract, type Vec3 } from '../math/vec3'
import { tracePrimaryHits } from '../passes/primary-hits'
import { cameraBasis, type Camera, type CameraBasis } from '../scene/camera'
import { CameraRay } from '../scene/camera-ray'
import { SEEN_BY_CAMERA } from '../scene/part-role'
import { buildSceneGeometry, type SceneGeometry } from '../scene/scene-geometry'
import { ball, cube, sceneModel, square } from '../testing/shapes'
import { SAMPLE_DOUBLES, SAMPLE_INTS, SCOUTS } from './camera-kernel'
import { TraceKernel } from './trace-kernel'

/** What the kernel sees through a camera, against rays worked out here in double precision. */
const scene = buildSceneGeometry([
  sceneModel(ball(1, 16), 'ball'),
  { ...sceneModel(cube(0.6), 'cube'), transforms: [[1, 0, 0, 1.4, 0, 1, 0, -0.4, 0, 0, 1, 0.3]] },
  sceneModel(square(6, -1), 'ground', 'ground'),
])
const FRAME = { width: 40, height: 26 }
const FILTER = { mask: SEEN_BY_CAMERA, parts: null }
const NEAR: Camera = { eye: [3, 4, 7], target: [0.6, -0.3, 0], fovDeg: 34, orthoHeight: null }
const CAMERAS: Readonly<Record<string, Camera>> = {
  perspective: NEAR,
  'rolled and shifted': { ...NEAR, rollDeg: 23, shift: [0.2, -0.1] },
  parallel: { ...NEAR, orthoHeight: 4.5 },
  upright: { ...NEAR, keepVerticals: true },
}

const everyPixel = Int32Array.from({ length: 2 * FRAME.width * FRAME.height }, (_, i) =>
  i % 2 === 0 ? (i / 2) % FRAME.width : Math.floor(i / 2 / FRAME.width),
)

/** A corner of a slot's triangle. */
const cornerOf = ({ tree }: SceneGeometry, slot: number, k: number): Vec3 => {
  const c = tree.cornerBase(slot) + 12 * k
  return [tree.floats[c], tree.floats[c + 4], tree.floats[c + 8]]
}

describe('see', () => {
  it.each(Object.entries(CAMERAS))('meets what a ray of double precision meets: %s', (_, camera) => {
    const basis = cameraBasis(camera, FRAME)
    const pattern = pixelPattern(8)
    const kernel = TraceKernel.over(scene.tree)
    const { ints, doubles } = kernel.camera.see(
      { camera: basis, frame: FRAME, pattern },
      everyPixel,
      2,
      5,
      FILTER,
    )
    // What is kept of it is read before the kernel is asked about anything else.
    const [slots, numbers] = [ints.slice(), doubles.slice()]
    const ray = new CameraRay(basis, FRAME)
    let met = 0
    for (let p = 0; p < everyPixel.length / 2; p++)
      for (let s = 2; s < 5; s++) {
        const i = 3 * p + s - 2
        ray.aim(everyPixel[2 * p] + pattern[2 * s], everyPixel[2 * p + 1] + pattern[2 * s + 1])
        const hit = kernel.closest(ray.ox, ray.oy, ray.oz, ray.dx, ray.dy, ray.dz, 0, 1e30, SEEN_BY_CAMERA)
        const slot = slots[SAMPLE_INTS * i]
        expect(slot >= 0).toBe(hit)
        if (!hit) continue
        met++
        // The point by its weights and the point along the ray are one.
        const [distance, u, v] = numbers.subarray(SAMPLE_DOUBLES * i + 1, SAMPLE_DOUBLES * i + 4)
        const corners = [0, 1, 2].map((k) => cornerOf(scene, slot, k))
        const along = [ray.ox + distance * ray.dx, ray.oy + distance * ray.dy, ray.oz + distance * ray.dz]
        for (let axis = 0; axis < 3; axis++)
          expect((1 - u - v) * corners[0][axis] + u * corners[1][axis] + v * corners[2][axis]).toBeCloseTo(
            along[axis],
            4,
          )
      }
    expect(met).toBeGreaterThan(1000)
  })

  it('sends rays of a lens through one point of the plane that is sharp, and spreads them elsewhere', () => {
    const wall = buildSceneGeometry([sceneModel(square(40, 0), 'wall')])
    const far = 5
    // Straight down on it.
    const camera: Camera = { eye: [0, far, 0], target: [0, 0, 0], fovDeg: 40, orthoHeight: null }
    const spreadOf = (distance: number): number => {
      const basis: CameraBasis = { ...cameraBasis(camera, FRAME), focus: { distance, blur: 0.1 } }
      // One place in the picture, as near as makes no matter, again and again: the place on the lens follows from it.
      const pattern = Float32Array.from({ length: 128 }, (_, i) => 0.5 + (i >> 1) / 1000)
      const { ints, doubles } = TraceKernel.over(wall.tree).camera.see(
        { camera: basis, frame: FRAME, pattern },
        Int32Array.of(20, 13),
        0,
        64,
        { mask: SEEN_BY_CAMERA, parts: null },
      )
      const points = Array.from({ length: 64 }, (_, i): Vec3 => {
        const [, u, v] = doubles.subarray(SAMPLE_DOUBLES * i + 1, SAMPLE_DOUBLES * i + 4)
        const [a, b, c] = [0, 1, 2].map((k) => cornerOf(wall, ints[SAMPLE_INTS * i], k))
        const on = (axis: number) => (1 - u - v) * a[axis] + u * b[axis] + v * c[axis]
        return [on(0), on(1), on(2)]
      })
      const mean = (axis: number) => points.reduce((sum, p) => sum + p[axis] / 64, 0)
      const middle: Vec3 = [mean(0), mean(1), mean(2)]
      return Math.max(...points.map((p) => Math.sqrt(dot(subtract(p, middle), subtract(p, middle)))))
    }
    const pixel = (2 * Math.tan((20 * Math.PI) / 180) * far) / FRAME.height
    expect(spreadOf(far)).toBeLessThan(0.1 * pixel)
    // Sharp at half the way, a point of the wall is as large as the lens: radius blur · halfHeight · distance.
    const lens = 0.1 * Math.tan((20 * Math.PI) / 180) * (far / 2)
    expect(spreadOf(far / 2)).toBeGreaterThan(0.75 * lens)
    expect(spreadOf(far / 2)).toBeLessThan(1.15 * lens + 0.1 * pixel)
  })
})

describe('busy pixels', () => {
  const surfaceOf = (slot: number): number =>
    slot < 0 ? -1 : (scene.tree.tags[slot] & 0xffffff) * 100 + scene.triangleMaterials[scene.tree.ids[slot]]
  const hitsOf = (adaptive: boolean) =>
    tracePrimaryHits(
      { scene, camera: cameraBasis(NEAR, FRAME), frame: FRAME, samples: 16, adaptive, filter: FILTER },
      { x: 0, y: 0, ...FRAME },
    )

  it('take all their samples wherever their own first ones see two surfaces, or a neighbour’s first another', () => {
    const { starts, slots } = hitsOf(true)
    const isBusy = (p: number) => starts[p + 1] - starts[p] === 16
    let busy = 0
    for (let p = 0; p < FRAME.width * FRAME.height; p++) {
      const own = Array.from({ length: SCOUTS }, (_, s) => surfaceOf(slots[starts[p] + s]))
      const right = p % FRAME.width < FRAME.width - 1 ? surfaceOf(slots[starts[p + 1]]) : own[0]
      const below =
        p + FRAME.width < FRAME.width * FRAME.height ? surfaceOf(slots[starts[p + FRAME.width]]) : own[0]
      if (new Set([...own, right, below]).size > 1) expect(isBusy(p)).toBe(true)
      else expect([SCOUTS, 16]).toContain(starts[p + 1] - starts[p])
      if (isBusy(p)) busy++
    }
    expect(busy).toBeGreaterThan(50)
    expect(busy).toBeLessThan(0.6 * FRAME.width * FRAME.height)
  })

  it('see what all samples of every pixel see, and tiles agree about them', () => {
    const [some, all] = [hitsOf(true), hitsOf(false)]
    for (let p = 0; p < FRAME.width * FRAME.height; p++)
      for (let s = 0; s < some.starts[p + 1] - some.starts[p]; s++)
        expect(some.slots[some.starts[p] + s]).toBe(all.slots[all.starts[p] + s])
    const tile = { x: 11, y: 7, width: 13, height: 9 }
    const cut = tracePrimaryHits(
      { scene, camera: cameraBasis(NEAR, FRAME), frame: FRAME, samples: 16, adaptive: true, filter: FILTER },
      tile,
    )
    for (let y = 0; y < tile.height; y++)
      for (let x = 0; x < tile.width; x++) {
        const [p, q] = [y * tile.width + x, (tile.y + y) * FRAME.width + tile.x + x]
        expect(cut.starts[p + 1] - cut.starts[p]).toBe(some.starts[q + 1] - some.starts[q])
        expect(cut.slots[cut.starts[p]]).toBe(some.slots[some.starts[q]])
      }
  })
})
