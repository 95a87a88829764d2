import { CLEARANCE, leastClearance } from '../passes/clearance'
import type { SceneGeometry } from '../scene/scene-geometry'

/**
 * A point of a surface as shading needs it, turned towards the viewer, in double precision: what kernel/points.ts works
 * out is checked against it. Reused: `load` overwrites every field.
 *
 * `x, y, z` is where secondary rays start. On smooth-shaded coarse meshes that is not on the flat triangle but on the
 * curved surface its normals tell of, which removes the jagged terminator (Hanika 2021, "Hacking the Shadow
 * Terminator", Ray Tracing Gems II, ch. 4).
 */
export class PlainPoint {
  /** Scene part and the triangle's number. */
  part = 0
  triangle = 0
  /** Weights of the triangle's corners 1 and 2. */
  u = 0
  v = 0
  x = 0
  y = 0
  z = 0
  /**
   * The point on the smooth surface that the vertex normals tell of: half-way to its projections on the tangent planes
   * of the corners (Boubekeur & Alexa 2008, "Phong Tessellation"; with their α = ½ an arc's height is met to second
   * order). On flat shading it is the point of the triangle.
   */
  smoothX = 0
  smoothY = 0
  smoothZ = 0
  /** The point on the triangle itself. */
  onX = 0
  onY = 0
  onZ = 0
  /** Geometric normal, towards the viewer. */
  gx = 0
  gy = 0
  gz = 0
  /** Shading normal, towards the viewer. */
  nx = 0
  ny = 0
  nz = 0
  /** Two directions that make an orthonormal basis with the shading normal. */
  ux = 0
  uy = 0
  uz = 0
  vx = 0
  vy = 0
  vz = 0

  private readonly leastClearance: number

  constructor(private readonly scene: SceneGeometry) {
    this.leastClearance = leastClearance(scene)
  }

  /** @param dx,dy,dz direction of the ray that found the point. */
  load(slot: number, u: number, v: number, dx: number, dy: number, dz: number): void {
    const { tree } = this.scene
    const { normals } = tree
    const tri = tree.floats
    const triangle = tree.ids[slot]
    this.triangle = triangle
    this.u = u
    this.v = v
    this.part = tree.tags[slot] & 0xffffff
    const c = tree.cornerBase(slot)
    const v0x = tri[c]
    const v0y = tri[c + 4]
    const v0z = tri[c + 8]
    const e1x = tri[c + 12] - v0x
    const e1y = tri[c + 16] - v0y
    const e1z = tri[c + 20] - v0z
    const e2x = tri[c + 24] - v0x
    const e2y = tri[c + 28] - v0y
    const e2z = tri[c + 32] - v0z
    const i = 9 * triangle
    const w = 1 - u - v

    // 1. Normals, flipped together so that the geometric one faces the viewer.
    let gx = e1y * e2z - e1z * e2y
    let gy = e1z * e2x - e1x * e2z
    let gz = e1x * e2y - e1y * e2x
    const area = Math.sqrt(gx * gx + gy * gy + gz * gz) || 1
    gx /= area
    gy /= area
    gz /= area
    let nx = w * normals[i] + u * normals[i + 3] + v * normals[i + 6]
    let ny = w * normals[i + 1] + u * normals[i + 4] + v * normals[i + 7]
    let nz = w * normals[i + 2] + u * normals[i + 5] + v * normals[i + 8]
    // A file may give normals against the winding; the winding rules.
    if (nx * gx + ny * gy + nz * gz < 0) {
      nx = -nx
      ny = -ny
      nz = -nz
    }
    const behind = gx * dx + gy * dy + gz * dz > 0
    if (behind) {
      gx = -gx
      gy = -gy
      gz = -gz
      nx = -nx
      ny = -ny
      nz = -nz
    }
    const len = Math.sqrt(nx * nx + ny * ny + nz * nz)
    if (len > 1e-6) {
      nx /= len
      ny /= len
      nz /= len
    } else {
      nx = gx
      ny = gy
      nz = gz
    }

    // 2. The point, from the triangle's own corners (more exact than along the ray), lifted onto the curved surface.
    let px = v0x + u * e1x + v * e2x
    let py = v0y + u * e1y + v * e2y
    let pz = v0z + u * e1z + v * e2z
    this.onX = px
    this.onY = py
    this.onZ = pz
    const side = behind ? -1 : 1
    let liftX = 0
    let liftY = 0
    let liftZ = 0
    let farthest = 0
    let bendX = 0
    let bendY = 0
    let bendZ = 0
    for (let k = 0; k < 3; k++) {
      const weight = k === 0 ? w : k === 1 ? u : v
      const cx = tri[c + 12 * k]
      const cy = tri[c + 12 * k + 4]
      const cz = tri[c + 12 * k + 8]
      farthest = Math.max(farthest, Math.abs(cx), Math.abs(cy), Math.abs(cz))
      const mx = side * normals[i + 3 * k]
      const my = side * normals[i + 3 * k + 1]
      const mz = side * normals[i + 3 * k + 2]
      const below = (px - cx) * mx + (py - cy) * my + (pz - cz) * mz
      bendX -= weight * below * mx
      bendY -= weight * below * my
      bendZ -= weight * below * mz
      if (below >= 0) continue
      liftX -= weight * below * mx
      liftY -= weight * below * my
      liftZ -= weight * below * mz
    }
    this.smoothX = px + 0.5 * bendX
    this.smoothY = py + 0.5 * bendY
    this.smoothZ = pz + 0.5 * bendZ
    if (liftX * gx + liftY * gy + liftZ * gz > 0) {
      px += liftX
      py += liftY
      pz += liftZ
    }
    const clearance = this.leastClearance + CLEARANCE * farthest
    this.x = px + clearance * gx
    this.y = py + clearance * gy
    this.z = pz + clearance * gz
    this.gx = gx
    this.gy = gy
    this.gz = gz
    this.nx = nx
    this.ny = ny
    this.nz = nz

    // 3. Basis (Duff et al. 2017, "Building an Orthonormal Basis, Revisited", JCGT 6(1)).
    const sign = nz >= 0 ? 1 : -1
    const a = -1 / (sign + nz)
    const b = nx * ny * a
    this.ux = 1 + sign * nx * nx * a
    this.uy = sign * b
    this.uz = -sign * nx
    this.vx = b
    this.vy = sign + ny * ny * a
    this.vz = -ny
  }
}
