import { concentricDisc, sobolPair } from '../math/sampling'
import type { SceneGeometry } from '../scene/scene-geometry'
import type { LightPicture, LightRecord } from './light-record'
import { buildPlainBvh } from './plain-bvh'
import { PlainKernel } from './plain-kernel'
import { PlainPoint } from './plain-point'
import { EMPTY_SLOT } from './ray-tree'

const FAR = 1e30

/** Numbers of a point's rays: so many of the sequence owned by `seed`, from `first` on. */
export interface PlainRun {
  readonly first: number
  readonly rays: number
  readonly seed: number
}

/**
 * What kernel/gather.ts and kernel/light.ts find round a point, by the plain kernel in double precision and one ray after
 * the other: the reference against which they are checked. Cut-outs are not looked at.
 */
export class PlainGather {
  private readonly kernel: PlainKernel
  /** Slot of each of the plain kernel's triangles. */
  private readonly slots: Uint32Array
  private readonly unit = new Float64Array(2)
  private readonly disc = new Float64Array(2)
  private readonly there: PlainPoint

  /** @param mask a triangle must share a bit with it. */
  constructor(
    scene: SceneGeometry,
    private readonly mask: number,
  ) {
    const { tree, triangleCount } = scene
    const vertices = new Float32Array(9 * triangleCount)
    const masks = new Uint8Array(triangleCount)
    const slotOf = new Uint32Array(triangleCount)
    for (let slot = 0; slot < tree.slotCount; slot++) {
      const id = tree.ids[slot]
      if (id === EMPTY_SLOT) continue
      const at = tree.cornerBase(slot)
      for (let k = 0; k < 9; k++) vertices[9 * id + k] = tree.floats[at + 4 * k]
      masks[id] = tree.tags[slot] >>> 24
      slotOf[id] = slot
    }
    const bvh = buildPlainBvh(vertices, masks)
    this.kernel = new PlainKernel(bvh)
    this.slots = Uint32Array.from(bvh.triangleOrder, (id) => slotOf[id])
    this.there = new PlainPoint(scene)
  }

  private closest(x: number, y: number, z: number, d: readonly number[], far: number): boolean {
    return this.kernel.closest(x, y, z, d[0], d[1], d[2], 0, far, this.mask)
  }

  /** A direction round the point's normal: a, b across it and c along it. */
  private static round(p: PlainPoint, a: number, b: number, c: number): [number, number, number] {
    return [a * p.ux + b * p.vx + c * p.nx, a * p.uy + b * p.vy + c * p.ny, a * p.uz + b * p.vz + c * p.nz]
  }

  private static isAbove(p: PlainPoint, d: readonly number[]): boolean {
    return d[0] * p.gx + d[1] * p.gy + d[2] * p.gz > 0
  }

  /** Places on the unit disc, one after the other. */
  private *discs({ first, rays, seed }: PlainRun): Generator<readonly [number, number]> {
    for (let r = 0; r < rays; r++) {
      sobolPair(first + r, seed, this.unit)
      concentricDisc(this.unit[0], this.unit[1], this.disc)
      yield [this.disc[0], this.disc[1]]
    }
  }

  /** Share of open directions at the reach, a half, a quarter and an eighth of it. */
  occlusion(p: PlainPoint, run: PlainRun, reach: number, sine: number): number[] {
    const open = [0, 0, 0, 0]
    let counted = 0
    for (const [x, y] of this.discs(run)) {
      const [a, b] = [x * sine, y * sine]
      const d = PlainGather.round(p, a, b, Math.sqrt(Math.max(0, 1 - a * a - b * b)))
      if (!PlainGather.isAbove(p, d)) continue
      counted++
      const distance = this.closest(p.x, p.y, p.z, d, reach) ? this.kernel.distance : Infinity
      for (let k = 0; k < 4; k++) if (distance * 2 ** k >= reach) open[k]++
    }
    return open.map((n) => (counted > 0 ? n / counted : 1))
  }

  /** Mean height over a disc in the tangent plane, in radii. */
  cavity(p: PlainPoint, run: PlainRun, radius: number): number {
    let sum = 0
    for (const [x, y] of this.discs(run)) {
      const [ox, oy, oz] = PlainGather.round(p, x * radius, y * radius, radius)
      if (!this.closest(p.onX + ox, p.onY + oy, p.onZ + oz, [-p.nx, -p.ny, -p.nz], 2 * radius)) {
        sum -= 1
        continue
      }
      const { triangle, u, v } = this.kernel
      this.there.load(this.slots[triangle], u, v, -p.nx, -p.ny, -p.nz)
      const height =
        (this.there.smoothX - p.smoothX) * p.nx +
        (this.there.smoothY - p.smoothY) * p.ny +
        (this.there.smoothZ - p.smoothZ) * p.nz
      sum += Math.min(1, Math.max(-1, height / radius))
    }
    return sum / run.rays
  }

  /** Mean way through the form, as a share of the reach. @param inside how far under the surface rays begin. */
  thickness(p: PlainPoint, run: PlainRun, reach: number, sine: number, inside: number): number {
    let sum = 0
    for (const [x, y] of this.discs(run)) {
      const [a, b] = [x * sine, y * sine]
      const d = PlainGather.round(p, a, b, -Math.sqrt(Math.max(0, 1 - a * a - b * b)))
      const from = [p.onX - inside * p.gx, p.onY - inside * p.gy, p.onZ - inside * p.gz]
      sum += this.closest(from[0], from[1], from[2], d, reach) ? Math.min(1, this.kernel.distance / reach) : 1
    }
    return sum / run.rays
  }

  /**
   * What a light brings: its one to three numbers.
   * @param throwsShadow whether what is in its way counts.
   */
  light(p: PlainPoint, run: PlainRun, light: LightRecord, throwsShadow: boolean): number[] {
    const sums = [0, 0, 0]
    const bring = (d: readonly number[], far: number, values: readonly number[]) => {
      if (!PlainGather.isAbove(p, d)) return
      if (throwsShadow && this.closest(p.x, p.y, p.z, d, far)) return
      values.forEach((value, k) => (sums[k] += value / run.rays))
    }
    const facing = (d: readonly number[]) => d[0] * p.nx + d[1] * p.ny + d[2] * p.nz
    const half = Math.max(1, run.rays >> 1)
    const drawn = light.kind === 'picture' ? 2 * half : run.rays
    for (let r = 0; r < drawn; r++) {
      sobolPair(run.first + r, run.seed, this.unit)
      const [u, v] = this.unit
      concentricDisc(u, v, this.disc)
      const [a, b] = this.disc
      const cosined = PlainGather.round(p, a, b, Math.sqrt(Math.max(0, 1 - a * a - b * b)))
      if (light.kind === 'sky') bring(cosined, FAR, [0.5 + 0.5 * cosined[1], 0.5 - 0.5 * cosined[1]])
      else if (light.kind === 'picture') {
        const d = r < half ? drawPicture(light.picture, light.turnRad, u, v) : cosined
        const { rgb, density } = lookPicture(light.picture, light.turnRad, d)
        const turned = facing(d)
        if (turned <= 0) continue
        const weight = ((run.rays / drawn) * turned) / (Math.PI * 0.5 * (density + turned / Math.PI))
        bring(
          d,
          FAR,
          rgb.map((value) => value * weight),
        )
      } else {
        const [s, t] = light.isRound ? [a, b] : [2 * u - 1, 2 * v - 1]
        const from = light.kind === 'place' ? [p.x, p.y, p.z] : [0, 0, 0]
        const base = light.kind === 'place' ? light.middle : light.to
        const to = base.map((value, k) => value + s * light.first[k] + t * light.second[k] - from[k])
        const length = Math.hypot(...to)
        const d = to.map((value) => value / length)
        if (facing(d) <= 0) continue
        let given = 1
        if (light.kind === 'place') {
          given = (light.full / length ** 2) * light.gain
          const cosine = d[0] * light.axis[0] + d[1] * light.axis[1] + d[2] * light.axis[2]
          if (light.isFacing) given *= Math.max(0, cosine)
          if (light.cone) {
            const { rim, fade } = light.cone
            const x = Math.min(1, Math.max(0, (cosine - rim) / Math.max(1e-6, fade - rim)))
            given *= x * x * (3 - 2 * x)
          }
        }
        bring(d, light.kind === 'place' ? length : FAR, [given * facing(d)])
      }
    }
    return sums
  }
}

const lastAtMost = (list: Float32Array, from: number, count: number, value: number): number => {
  let last = 0
  for (let k = 1; k < count && list[from + k] <= value; k++) last = k
  return last
}

/** A direction of the world in proportion to a picture's brightness. */
function drawPicture(
  { width, height, rows, columns }: LightPicture,
  turnRad: number,
  u: number,
  v: number,
): [number, number, number] {
  const y = Math.min(height - 1, lastAtMost(rows, 0, height + 1, v))
  const from = y * (width + 1)
  const x = Math.min(width - 1, lastAtMost(columns, from, width + 1, u))
  const within = (value: number, low: number, high: number) =>
    high > low ? (value - low) / (high - low) : 0.5
  const down = (Math.PI * (y + within(v, rows[y], rows[y + 1]))) / height
  const column = (x + within(u, columns[from + x], columns[from + x + 1])) / width
  const round = 2 * Math.PI * (column - 0.5) + turnRad
  return [Math.sin(round) * Math.sin(down), Math.cos(down), Math.cos(round) * Math.sin(down)]
}

/** What a picture shows in a direction of the world, and how densely directions are drawn there. */
function lookPicture(
  { width, height, pixels, mean }: LightPicture,
  turnRad: number,
  [x, y, z]: readonly number[],
): { readonly rgb: number[]; readonly density: number } {
  const round = Math.atan2(x, z) - turnRad
  const share = round / (2 * Math.PI) + 0.5
  const cx = Math.min(width - 1, Math.floor((share - Math.floor(share)) * width))
  const cy = Math.min(height - 1, Math.floor((Math.acos(Math.min(1, Math.max(-1, y))) / Math.PI) * height))
  const rgb = [...pixels.subarray(3 * (cy * width + cx), 3 * (cy * width + cx) + 3)]
  const weight = 0.2126 * rgb[0] + 0.7152 * rgb[1] + 0.0722 * rgb[2] + 1e-6
  const stretch = Math.sin((Math.PI * (cy + 0.5)) / height)
  const level = Math.sqrt(Math.max(0, 1 - y * y))
  return { rgb, density: (weight * stretch) / mean / (2 * Math.PI ** 2 * Math.max(level, 1e-4)) }
}
