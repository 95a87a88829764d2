import type { SceneGeometry } from '../scene/scene-geometry'

/**
 * How far a ray starts off the surface, as a share of the figure diagonal and of the triangle's farthest coordinate:
 * positions are 32-bit, so their rounding grows with the distance from the origin. It is the triangle's own distance
 * that counts, or a horizon two kilometres away would lift every ray near the eye by millimetres.
 */
export const CLEARANCE = 2e-6

/**
 * A point of a surface as shading needs it, turned towards the viewer. Reused: `load` overwrites every field.
 *
 * `x, y, z` is where secondary rays start. On smooth-shaded coarse meshes that is not on the flat triangle but on the
 * curved surface its normals tell of, which removes the jagged terminator (Hanika 2021, "Hacking the Shadow
 * Terminator", Ray Tracing Gems II, ch. 4).
 */
export class SurfacePoint {
  /** Scene part. */
  part = 0
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
    this.leastClearance = CLEARANCE * scene.figureDiagonal
  }

  /** @param dx,dy,dz direction of the ray that found the point. */
  load(triangle: number, u: number, v: number, dx: number, dy: number, dz: number): void {
    const tri = this.scene.bvh.triangles
    const normals = this.scene.triangleNormals
    const facing = this.scene.triangleFacing
    this.part = this.scene.triangleParts[triangle]
    const i = 9 * triangle
    const w = 1 - u - v

    // 1. Normals, flipped together so that the geometric one faces the viewer.
    let gx = facing[3 * triangle]
    let gy = facing[3 * triangle + 1]
    let gz = facing[3 * triangle + 2]
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
    const v0x = tri[i]
    const v0y = tri[i + 1]
    const v0z = tri[i + 2]
    let px = v0x + u * tri[i + 3] + v * tri[i + 6]
    let py = v0y + u * tri[i + 4] + v * tri[i + 7]
    let pz = v0z + u * tri[i + 5] + v * tri[i + 8]
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
      const cx = k === 0 ? v0x : v0x + tri[i + 3 * k]
      const cy = k === 0 ? v0y : v0y + tri[i + 3 * k + 1]
      const cz = k === 0 ? v0z : v0z + tri[i + 3 * k + 2]
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
