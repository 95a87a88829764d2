import { concentricDisc, hash32, hashPair, pixelPattern } from '../math/sampling'
import type { CameraBasis, Frame, LensFocus } from '../scene/camera'
import { SEEN_BY_CAMERA } from '../scene/part-role'
import type { RayKernel } from '../trace/ray-kernel'
import type { Tile } from './pass-kind'

/** Direction and origin of one camera ray; reused. */
export class CameraRay {
  ox = 0
  oy = 0
  oz = 0
  dx = 0
  dy = 0
  dz = 0

  constructor(
    private readonly camera: CameraBasis,
    private readonly frame: Frame,
  ) {}

  /** Aims through a point of the picture, in pixels from the top left. The direction has unit length. */
  aim(pixelX: number, pixelY: number): void {
    const { camera, frame } = this
    const sx = ((2 * pixelX) / frame.width - 1) * camera.halfWidth + camera.centreX
    const sy = (1 - (2 * pixelY) / frame.height) * camera.halfHeight + camera.centreY
    const { right, up, back, eye } = camera
    if (camera.parallel) {
      this.ox = eye[0] + sx * right[0] + sy * up[0]
      this.oy = eye[1] + sx * right[1] + sy * up[1]
      this.oz = eye[2] + sx * right[2] + sy * up[2]
      this.dx = -back[0]
      this.dy = -back[1]
      this.dz = -back[2]
      return
    }
    const x = sx * right[0] + sy * up[0] - back[0]
    const y = sx * right[1] + sy * up[1] - back[1]
    const z = sx * right[2] + sy * up[2] - back[2]
    const inverse = 1 / Math.sqrt(x * x + y * y + z * z)
    this.ox = eye[0]
    this.oy = eye[1]
    this.oz = eye[2]
    this.dx = x * inverse
    this.dy = y * inverse
    this.dz = z * inverse
    if (camera.focus) this.throughLens(camera.focus, x, y, z, pixelX, pixelY)
  }

  /**
   * Begins the ray anywhere on a thin lens (Cook, Porter & Carpenter 1984) and bends it to where all rays of its place
   * meet. The place on the lens follows from the place in the picture, so that the same ray can be aimed twice.
   * @param x, y, z direction whose length along the view axis is 1.
   */
  private throughLens(
    { distance, blur }: LensFocus,
    x: number,
    y: number,
    z: number,
    pixelX: number,
    pixelY: number,
  ): void {
    const { right, up, halfHeight } = this.camera
    const key = hashPair(Math.round(pixelX * 1024), Math.round(pixelY * 1024))
    concentricDisc(key / 2 ** 32, hash32(key) / 2 ** 32, lensPoint)
    // A far point spreads over 2·radius where it is sharp, and the picture is 2·halfHeight·distance high there.
    const radius = blur * halfHeight * distance
    const a = lensPoint[0] * radius
    const b = lensPoint[1] * radius
    const lx = a * right[0] + b * up[0]
    const ly = a * right[1] + b * up[1]
    const lz = a * right[2] + b * up[2]
    const dx = x * distance - lx
    const dy = y * distance - ly
    const dz = z * distance - lz
    const inverse = 1 / Math.sqrt(dx * dx + dy * dy + dz * dz)
    this.ox += lx
    this.oy += ly
    this.oz += lz
    this.dx = dx * inverse
    this.dy = dy * inverse
    this.dz = dz * inverse
  }
}

const lensPoint = new Float64Array(2)

/** What each sample of each pixel of a tile sees. Index: (row · width + column) · samples + sample. */
export interface PrimaryHits {
  readonly samples: number
  /** Float32Array, 2·samples: positions inside the pixel. */
  readonly pattern: Float32Array
  /** Int32Array: triangle in leaf order, −1 for nothing. */
  readonly triangles: Int32Array
  /** Float64Array: distance along the ray. */
  readonly distances: Float64Array
  /** Float64Array, two per sample: barycentric u, v. */
  readonly barycentrics: Float64Array
}

/** Farthest a ray looks. */
export const FAR = 1e30

/** Traces the primary rays of a tile. */
export function tracePrimaryHits(
  kernel: RayKernel,
  camera: CameraBasis,
  frame: Frame,
  tile: Tile,
  samples: number,
): PrimaryHits {
  const count = tile.width * tile.height * samples
  const pattern = pixelPattern(samples)
  const triangles = new Int32Array(count)
  const distances = new Float64Array(count)
  const barycentrics = new Float64Array(2 * count)
  const ray = new CameraRay(camera, frame)
  let i = 0
  for (let row = 0; row < tile.height; row++) {
    for (let column = 0; column < tile.width; column++) {
      for (let s = 0; s < samples; s++, i++) {
        ray.aim(tile.x + column + pattern[2 * s], tile.y + row + pattern[2 * s + 1])
        const hit = kernel.closest(ray.ox, ray.oy, ray.oz, ray.dx, ray.dy, ray.dz, 0, FAR, SEEN_BY_CAMERA)
        triangles[i] = hit ? kernel.triangle : -1
        if (!hit) continue
        distances[i] = kernel.distance
        barycentrics[2 * i] = kernel.u
        barycentrics[2 * i + 1] = kernel.v
      }
    }
  }
  return { samples, pattern, triangles, distances, barycentrics }
}
