import { linearToSrgbFast, srgbToLinear } from '../math/colour'
import { cloudNoise, gridNoise, smoothNoise } from '../math/noise'
import { placeLights } from '../passes/placed-light'
import { lightOnPoints, raysFor } from '../passes/light-planes'
import { tracePrimaryHits } from '../passes/primary-hits'
import { CameraRay } from '../scene/camera-ray'
import { lobeWidth } from '../passes/placed-light'
import { TilePoints } from '../passes/tile-points'
import type { Tile } from '../passes/tile'
import { cameraBasis, type CameraBasis, type Frame } from '../scene/camera'
import { BLOCKS_LIGHT, SEEN_BY_CAMERA } from '../scene/part-role'
import { renderedLights } from '../scene/rendered-light'
import { POINT, POINT_NUMBERS, type PointBlock } from '../trace/point-block'
import { TraceKernel } from '../trace/trace-kernel'
import { mockupCamera, turnedRig, type MockupForm, type MockupScene } from './mockup-scene'

/**
 * Planes of a window of a mock-up, row after row: how much of a pixel is the printed side of the sheet; which place of it is seen
 * there, across and down in shares from its upper left; light that falls there, red, green and blue, linear, as a factor of what
 * falls on most of the sheet; all else, red, green and blue as display values times how much of the pixel it is, and that; what
 * glass before it mirrors, display values to be screened over all.
 */
export type MockupPlanes = readonly Float32Array[]

export const MOCKUP_PLANES = 11

/** Samples of a pixel where something is to be seen in it, and rays of each. */
const EFFORTS = {
  draft: { samples: 4, rays: 1 },
  fine: { samples: 8, rays: 3 },
} as const

/** Size of the picture that tells how bright most of the sheet is. */
const PROBE: Frame = { width: 48, height: 48 }

/** Renders windows of one mock-up. The same form, aspect and frame give the same bits, whatever is asked first. */
export class MockupRender {
  private readonly kernel: TraceKernel
  private readonly rig
  private reference: readonly [number, number, number] | null = null
  private readonly look: PointLook
  /** Light on the points of a block, three numbers of what is scattered and three of what is mirrored each. */
  private readonly brought = new Float32Array(6 * BLOCK)

  /** @param scene of the form's things. @param isDraft fewer rays. */
  constructor(
    private readonly scene: MockupScene,
    private readonly form: MockupForm,
    private readonly aspect: number,
    private readonly isDraft: boolean,
  ) {
    this.kernel = TraceKernel.over(this.scene.geometry.tree)
    this.look = new PointLook(scene, form)
    const { rig } = form
    const turned = turnedRig({ ...rig, lights: rig.lights.filter(({ on }) => on) }, form.lightTurnDeg)
    this.rig = turned
  }

  /** @param frame what the whole picture measures. @param cancelled ends it early; what it gives then is of no use. */
  window(tile: Tile, frame: Frame, cancelled: () => boolean): MockupPlanes {
    this.reference ??= this.probe()
    return this.render(tile, frame, this.reference, cancelled)
  }

  /** Light on most of the sheet, a colour in linear light. */
  private probe(): readonly [number, number, number] {
    const tile = { x: 0, y: 0, ...PROBE }
    const [paper, , , ...light] = this.render(tile, PROBE, [1, 1, 1], () => false)
    const seen = [...paper.keys()].filter((i) => paper[i] > 0.99)
    const middle = (plane: Float32Array): number => {
      if (seen.length === 0) return 1
      const values = seen.map((i) => plane[i]).sort((a, b) => a - b)
      return Math.max(1e-4, values[values.length >> 1])
    }
    return [middle(light[0]), middle(light[1]), middle(light[2])]
  }

  private render(
    tile: Tile,
    frame: Frame,
    reference: readonly [number, number, number],
    cancelled: () => boolean,
  ): MockupPlanes {
    const { scene, kernel, form, look, brought } = this
    const { geometry } = scene
    const camera = cameraBasis(mockupCamera(form, this.aspect, frame), frame)
    const effort = this.isDraft ? EFFORTS.draft : EFFORTS.fine
    const seen = { mask: SEEN_BY_CAMERA, parts: null }
    const hits = tracePrimaryHits(
      { scene: geometry, camera, frame, samples: effort.samples, adaptive: true, filter: seen },
      tile,
    )
    const points = new TilePoints(geometry, camera, frame, tile, hits, null, form.things.seed)
    const blockers = { mask: BLOCKS_LIGHT, parts: null }
    const lights = placeLights(this.rig.lights, {
      scene: geometry,
      camera,
      blockers,
      picture: () => null,
    })
    const colours = renderedLights(this.rig)
    const count = tile.width * tile.height
    const sums = Array.from({ length: MOCKUP_PLANES }, () => new Float32Array(count))
    const aroundLinear = Array.from({ length: 3 }, () => new Float32Array(count))
    for (let b = 0; b < points.blockCount && !cancelled(); b++) {
      const block = points.block(b)
      look.load(block)
      brought.fill(0, 0, 6 * block.count)
      kernel.points.widths.set(look.widths.subarray(0, block.count))
      lights.forEach((light, i) => {
        const rays = raysFor(light, light.values === 1 ? 2 * effort.rays : effort.rays)
        const values = lightOnPoints({ kernel }, { points, cancelled }, light, rays, { highlight: true })
        const { colour, below } = colours[i]
        for (let p = 0; p < block.count; p++) {
          for (let c = 0; c < 3; c++) {
            const diffuse =
              light.values === 1
                ? values[4 * p] * colour[c]
                : light.values === 2
                  ? values[4 * p] * colour[c] + values[4 * p + 1] * below[c]
                  : values[4 * p + c] * colour[c]
            brought[6 * p + c] += diffuse
            if (light.values === 1) brought[6 * p + 3 + c] += values[4 * p + 3] * colour[c]
          }
        }
      })
      this.add(block, look, brought, reference, sums, aroundLinear)
    }
    finish(sums, aroundLinear)
    this.mirror(tile, frame, camera, sums[10])
    return sums
  }

  private add(
    block: PointBlock,
    look: PointLook,
    brought: Float32Array,
    reference: readonly [number, number, number],
    sums: readonly Float32Array[],
    around: readonly Float32Array[],
  ): void {
    const [paper, u, v] = sums
    const shadowOnly = this.form.wall === 'none'
    for (let p = 0; p < block.count; p++) {
      const at = POINT_NUMBERS * p
      const pixel = block.ints[at + POINT.pixel]
      const share = block.floats[at + POINT.share]
      if (look.isPrint[p] !== 0) {
        paper[pixel] += share
        u[pixel] += share * look.places[2 * p]
        v[pixel] += share * look.places[2 * p + 1]
        for (let c = 0; c < 3; c++) sums[3 + c][pixel] += (share * brought[6 * p + c]) / reference[c]
        continue
      }
      if (shadowOnly && look.isWall[p] !== 0) {
        // What would lie there alone is darkened.
        const lit =
          (brought[6 * p] / reference[0] +
            brought[6 * p + 1] / reference[1] +
            brought[6 * p + 2] / reference[2]) /
          3
        sums[9][pixel] += share * (1 - linearToSrgbFast(Math.min(1, lit)))
        continue
      }
      sums[9][pixel] += share
      for (let c = 0; c < 3; c++)
        around[c][pixel] +=
          share *
          ((look.colours[3 * p + c] * brought[6 * p + c]) / reference[c] +
            (look.highlights[p] * brought[6 * p + 3 + c]) / reference[c])
    }
  }

  /** What glass mirrors: the light of two tall windows behind the viewer, soft at their rims. */
  private mirror(tile: Tile, frame: Frame, camera: CameraBasis, plane: Float32Array): void {
    const { glass } = this.scene
    if (!glass) return
    const ray = new CameraRay(camera, frame)
    // The windows are seen beside the middle, from wherever one looks.
    const far0 = 4 / Math.max(0.05, camera.back[2])
    const [midX, midY] = [-far0 * camera.back[0], -far0 * camera.back[1]]
    for (let y = 0, i = 0; y < tile.height; y++)
      for (let x = 0; x < tile.width; x++, i++) {
        ray.aim(tile.x + x + 0.5, tile.y + y + 0.5)
        if (ray.dz >= 0) continue
        const t = (glass.z - ray.oz) / ray.dz
        const [px, py] = [ray.ox + t * ray.dx, ray.oy + t * ray.dy]
        if (t <= 0 || px < glass.x0 || px > glass.x1 || py < glass.y0 || py > glass.y1) continue
        const cosine = -ray.dz
        const fresnel = 0.04 + 0.96 * (1 - cosine) ** 5
        // Where the mirrored ray meets a wall four sheets behind.
        const far = 4 / cosine
        const [mx, my] = [px + far * ray.dx, py + far * ray.dy]
        plane[i] = Math.min(0.9, fresnel * (0.3 + 5 * windows(mx - midX + 0.55, my - midY - 0.9)))
      }
  }
}

const soft = (from: number, to: number, v: number): number => {
  const t = Math.min(1, Math.max(0, (v - from) / (to - from)))
  return t * t * (3 - 2 * t)
}
/** Two windows side by side with a bar between. */
function windows(x: number, y: number): number {
  const upright =
    soft(-1.5, -1.2, y) * (1 - soft(1.3, 1.6, y)) * (1 - 0.85 * (soft(0.16, 0.2, y) - soft(0.26, 0.3, y)))
  const one = (from: number) => soft(from, from + 0.15, x) * (1 - soft(from + 0.75, from + 0.9, x))
  return upright * (one(-0.95) + one(0.05))
}

/** Means of what samples told, and display values of what is not the print. */
function finish(sums: readonly Float32Array[], around: readonly Float32Array[]): void {
  const [paper, u, v, lr, lg, lb, ar, ag, ab, aa] = sums
  for (let i = 0; i < paper.length; i++) {
    if (paper[i] > 0) {
      const inverse = 1 / paper[i]
      u[i] *= inverse
      v[i] *= inverse
      lr[i] *= inverse
      lg[i] *= inverse
      lb[i] *= inverse
    }
    const share = aa[i]
    if (share <= 0) continue
    const own = [ar, ag, ab]
    for (let c = 0; c < 3; c++) own[c][i] = share * rolled(around[c][i] / share)
  }
}

/** Linear light to a display value, what is too bright rolled off softly. */
function rolled(linear: number): number {
  const knee = 0.8
  const v = linear <= knee ? linear : knee + (1 - knee) * (1 - Math.exp(-(linear - knee) / (1 - knee)))
  return linearToSrgbFast(v)
}

const BLOCK = 16384

/** What the points of a block are of. */
class PointLook {
  readonly isPrint = new Uint8Array(BLOCK)
  readonly isWall = new Uint8Array(BLOCK)
  /** Which place of the sheet, two a point. */
  readonly places = new Float32Array(2 * BLOCK)
  /** Linear colours, three a point. */
  readonly colours = new Float32Array(3 * BLOCK)
  readonly highlights = new Float32Array(BLOCK)
  readonly widths = new Float32Array(BLOCK)
  private readonly linear: Float64Array

  constructor(
    private readonly scene: MockupScene,
    private readonly form: MockupForm,
  ) {
    this.linear = Float64Array.from(
      scene.geometry.materials.flatMap(({ baseColour }) => baseColour.map((v) => srgbToLinear(v))),
    )
  }

  load(block: PointBlock): void {
    const { tree, triangleMaterials, triangleUvs, materials } = this.scene.geometry
    if (!triangleUvs) throw new Error('a mock-up has no places on its sheet')
    for (let p = 0; p < block.count; p++) {
      const at = POINT_NUMBERS * p
      const slot = block.ints[at + POINT.slot]
      const triangle = tree.ids[slot]
      const material = triangleMaterials[triangle]
      const { roughness = 0.6, highlight = 0 } = materials[material]
      this.isPrint[p] = 0
      this.isWall[p] = Number(material === this.scene.wallMaterial)
      this.highlights[p] = highlight
      this.widths[p] = highlight > 0 ? lobeWidth(roughness) : 0
      if (material === 0 && this.isFront(block, p, slot)) {
        this.isPrint[p] = 1
        const a = block.doubles[at / 2 + POINT.weights]
        const b = block.doubles[at / 2 + POINT.weights + 1]
        const w = 1 - a - b
        const i = 6 * triangle
        this.places[2 * p] = w * triangleUvs[i] + a * triangleUvs[i + 2] + b * triangleUvs[i + 4]
        this.places[2 * p + 1] = w * triangleUvs[i + 1] + a * triangleUvs[i + 3] + b * triangleUvs[i + 5]
        continue
      }
      const shade = this.isWall[p] !== 0 ? this.wallShade(block, at) : 1
      // The back of a sheet is a little greyer than its front.
      const own = material === 0 ? 0.78 : shade
      for (let c = 0; c < 3; c++) this.colours[3 * p + c] = this.linear[3 * material + c] * own
    }
  }

  private isFront(block: PointBlock, p: number, slot: number): boolean {
    const { tree } = this.scene.geometry
    const f = tree.floats
    const c = tree.cornerBase(slot)
    const [ux, uy, uz] = [f[c + 12] - f[c], f[c + 16] - f[c + 4], f[c + 20] - f[c + 8]]
    const [vx, vy, vz] = [f[c + 24] - f[c], f[c + 28] - f[c + 4], f[c + 32] - f[c + 8]]
    const at = POINT_NUMBERS * p + POINT.view
    const { floats } = block
    return (
      (uy * vz - uz * vy) * floats[at] +
        (uz * vx - ux * vz) * floats[at + 1] +
        (ux * vy - uy * vx) * floats[at + 2] <
      0
    )
  }

  /** How bright the wall is at a place of it. */
  private wallShade(block: PointBlock, at: number): number {
    const { form, scene } = this
    const { seed } = form.things
    const { floats } = block
    const x = floats[at + POINT.on]
    const y = scene.isLying ? -floats[at + POINT.on + 2] : floats[at + POINT.on + 1]
    switch (form.wall) {
      case 'plaster': {
        const grain = smoothNoise(x * 160, y * 160, seed + 5) - 0.5
        return 0.92 + 0.22 * (cloudNoise(x * 2.4, y * 2.4, seed + 3, 5) - 0.5) + 0.05 * grain
      }
      case 'bricks': {
        const [length, course, joint] = [0.215, 0.075, 0.011]
        const row = Math.floor(y / course)
        const along = x / length + (row & 1) * 0.5
        const column = Math.floor(along)
        const [dx, dy] = [(along - column) * length, y - row * course]
        const edge =
          Math.min(dx, length - dx, dy, course - dy) + 0.004 * (smoothNoise(x * 70, y * 70, 9) - 0.5)
        const body = soft(joint / 2 - 0.003, joint / 2 + 0.003, edge)
        const own = 0.72 + 0.5 * gridNoise(column, row, seed + 11)
        const grain = 0.85 + 0.3 * cloudNoise(x * 40, y * 40, seed, 3)
        return body * own * grain + (1 - body) * 0.62
      }
      case 'boards': {
        const breadth = 0.16
        const column = Math.floor(x / breadth)
        const dx = x - column * breadth
        const gap = soft(0.001, 0.004, Math.min(dx, breadth - dx))
        const own = 0.8 + 0.3 * gridNoise(column, 0, seed + 13)
        const grain = cloudNoise(x * 60 + 9 * column, y * 2.2 + 31 * column, seed + 17, 4)
        return (0.25 + 0.75 * gap) * own * (0.72 + 0.5 * grain)
      }
      default:
        return 1
    }
  }
}
