import type { LineTopology } from './line-topology'

/**
 * Curvature of the surface at every wedge.
 * Source: Rusinkiewicz 2004, "Estimating Curvatures and Their Derivatives on Triangle Meshes", 3DPVT, §3.
 */
export interface SurfaceCurvature {
  /** Float32Array, 3·W: first axis of the tangent plane, unit; the second is normal × first. */
  readonly axes: Float32Array
  /** Float32Array, 3·W: the second fundamental form in those axes, e f g; a ball of radius R has 1/R, 0, 1/R. */
  readonly forms: Float32Array
}

export function surfaceCurvature(topology: LineTopology): SurfaceCurvature {
  const { positions, vertices, wedges, wedgeNormals, faceNormals, triangleCount } = topology
  const count = wedgeNormals.length / 3
  const axes = new Float32Array(3 * count)
  const forms = new Float32Array(3 * count)
  const weightSums = new Float32Array(count)

  // 1. A tangent axis for every wedge: the coordinate axis least along its normal, made upright to it.
  for (let w = 0; w < count; w++) {
    const x = wedgeNormals[3 * w]
    const y = wedgeNormals[3 * w + 1]
    const z = wedgeNormals[3 * w + 2]
    const [ax, ay, az] = [Math.abs(x), Math.abs(y), Math.abs(z)]
    const pick = ax <= ay && ax <= az ? 0 : ay <= az ? 1 : 2
    const along = pick === 0 ? x : pick === 1 ? y : z
    let ux = (pick === 0 ? 1 : 0) - along * x
    let uy = (pick === 1 ? 1 : 0) - along * y
    let uz = (pick === 2 ? 1 : 0) - along * z
    const length = Math.sqrt(ux * ux + uy * uy + uz * uz) || 1
    ux /= length
    uy /= length
    uz /= length
    axes[3 * w] = ux
    axes[3 * w + 1] = uy
    axes[3 * w + 2] = uz
  }

  // 2. The form of each triangle from how its corner normals turn along its sides, by least squares.
  const side = new Float64Array(9)
  const turn = new Float64Array(9)
  for (let t = 0; t < triangleCount; t++) {
    const nx = faceNormals[3 * t]
    const ny = faceNormals[3 * t + 1]
    const nz = faceNormals[3 * t + 2]
    for (let k = 0; k < 3; k++) {
      const i = 3 * t + k
      const j = 3 * t + (k === 2 ? 0 : k + 1)
      for (let axis = 0; axis < 3; axis++) {
        side[3 * k + axis] = positions[3 * vertices[j] + axis] - positions[3 * vertices[i] + axis]
        turn[3 * k + axis] = wedgeNormals[3 * wedges[j] + axis] - wedgeNormals[3 * wedges[i] + axis]
      }
    }
    const length = Math.sqrt(side[0] ** 2 + side[1] ** 2 + side[2] ** 2)
    if (length === 0 || (nx === 0 && ny === 0 && nz === 0)) continue
    const ux = side[0] / length
    const uy = side[1] / length
    const uz = side[2] / length
    const vx = ny * uz - nz * uy
    const vy = nz * ux - nx * uz
    const vz = nx * uy - ny * ux
    let uu = 0
    let uv = 0
    let vv = 0
    let r0 = 0
    let r1 = 0
    let r2 = 0
    for (let k = 0; k < 9; k += 3) {
      const u = side[k] * ux + side[k + 1] * uy + side[k + 2] * uz
      const v = side[k] * vx + side[k + 1] * vy + side[k + 2] * vz
      const du = turn[k] * ux + turn[k + 1] * uy + turn[k + 2] * uz
      const dv = turn[k] * vx + turn[k + 1] * vy + turn[k + 2] * vz
      uu += u * u
      uv += u * v
      vv += v * v
      r0 += u * du
      r1 += v * du + u * dv
      r2 += v * dv
    }
    // [uu uv 0; uv uu+vv uv; 0 uv vv] · (e f g) = (r0 r1 r2), by elimination.
    const m11 = uu + vv - (uv * uv) / uu
    const s1 = r1 - (uv * r0) / uu
    const g = (r2 - (uv * s1) / m11) / (vv - (uv * uv) / m11)
    const f = (s1 - uv * g) / m11
    const e = (r0 - uv * f) / uu
    if (!Number.isFinite(e + f + g)) continue

    // 3. Into the axes of each corner, by area.
    const cx = side[1] * side[5] - side[2] * side[4]
    const cy = side[2] * side[3] - side[0] * side[5]
    const cz = side[0] * side[4] - side[1] * side[3]
    const area = Math.sqrt(cx * cx + cy * cy + cz * cz)
    for (let k = 0; k < 3; k++) {
      const w = 3 * wedges[3 * t + k]
      const [mx, my, mz] = [wedgeNormals[w], wedgeNormals[w + 1], wedgeNormals[w + 2]]
      // The corner's axes, turned into the triangle's plane the short way: written in the triangle's own.
      const cosine = Math.max(-0.999, nx * mx + ny * my + nz * mz)
      const rotate = (x: number, y: number, z: number): [number, number] => {
        // Rodrigues with the normals' own bisector: p − (n + m)·(m… ) of Möller & Hughes 1999.
        const alongN = (nx * x + ny * y + nz * z) / (1 + cosine)
        const rx = x - (nx + mx) * alongN
        const ry = y - (ny + my) * alongN
        const rz = z - (nz + mz) * alongN
        return [rx * ux + ry * uy + rz * uz, rx * vx + ry * vy + rz * vz]
      }
      const [px, py, pz] = [axes[w], axes[w + 1], axes[w + 2]]
      const [a0, a1] = rotate(px, py, pz)
      const [b0, b1] = rotate(my * pz - mz * py, mz * px - mx * pz, mx * py - my * px)
      forms[w] += area * (e * a0 * a0 + 2 * f * a0 * a1 + g * a1 * a1)
      forms[w + 1] += area * (e * a0 * b0 + f * (a0 * b1 + a1 * b0) + g * a1 * b1)
      forms[w + 2] += area * (e * b0 * b0 + 2 * f * b0 * b1 + g * b1 * b1)
      weightSums[wedges[3 * t + k]] += area
    }
  }
  for (let w = 0; w < count; w++) {
    const sum = weightSums[w] || 1
    for (let k = 0; k < 3; k++) forms[3 * w + k] /= sum
  }
  return { axes, forms }
}
