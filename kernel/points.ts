import {
  BLOCK_BYTES,
  HEAD,
  HEAD_BLOCKS,
  HEAD_IDS,
  HEAD_NORMALS,
  HEAD_TAGS,
  POINT_BYTES,
  POINT_GEOMETRIC,
  POINT_NORMAL,
  POINT_ON,
  POINT_ORDER,
  POINT_PART,
  POINT_RUN,
  POINT_SLOT,
  POINT_SMOOTH,
  POINT_TRIANGLE,
  POINT_U,
  POINT_V,
  POINT_VIEW,
  POINT_WEIGHTS,
} from './layout'

/**
 * How far a ray starts off the surface, as a share of the figure diagonal and of the triangle's farthest coordinate:
 * positions are 32-bit, so their rounding grows with the distance from the origin. It is the triangle's own distance
 * that counts, or a horizon two kilometres away would lift every ray near the eye by millimetres.
 */
export const CLEARANCE: f64 = 2e-6

/** Address of corner 0's x; other coordinates follow at steps of 16, corners at steps of 48. */
export function cornerOf(slot: u32): usize {
  return <usize>load<u32>(HEAD + HEAD_BLOCKS) + <usize>(slot >> 2) * BLOCK_BYTES + ((<usize>(slot & 3)) << 2)
}

export function triangleOf(slot: u32): u32 {
  return load<u32>(<usize>load<u32>(HEAD + HEAD_IDS) + ((<usize>slot) << 2))
}

export function normalsOf(triangle: u32): usize {
  return <usize>load<u32>(HEAD + HEAD_NORMALS) + 36 * <usize>triangle
}

/** Three f64 that the last call of {@link bendOf} found. */
let bendX: f64 = 0
let bendY: f64 = 0
let bendZ: f64 = 0

/**
 * The way from a point of a triangle to the smooth surface that the vertex normals tell of: half-way to its projections
 * on the tangent planes of the corners (Boubekeur & Alexa 2008, "Phong Tessellation"; with their α = ½ an arc's height is
 * met to second order). 0 on flat shading.
 */
function bendOf(corner: usize, normals: usize, u: f64, v: f64, x: f64, y: f64, z: f64): void {
  bendX = 0
  bendY = 0
  bendZ = 0
  for (let k: usize = 0; k < 3; k++) {
    const weight: f64 = k == 0 ? 1 - u - v : k == 1 ? u : v
    const at = corner + 48 * k
    const n = normals + 12 * k
    const mx = <f64>load<f32>(n)
    const my = <f64>load<f32>(n, 4)
    const mz = <f64>load<f32>(n, 8)
    const below =
      (x - <f64>load<f32>(at)) * mx + (y - <f64>load<f32>(at, 16)) * my + (z - <f64>load<f32>(at, 32)) * mz
    const part = 0.5 * weight * below
    bendX -= part * mx
    bendY -= part * my
    bendZ -= part * mz
  }
}

/** How high the smooth surface at a hit lies over a point, along the point's shading normal. */
export function smoothHeight(point: usize, slot: u32, u: f64, v: f64): f64 {
  const c = cornerOf(slot)
  const w = 1 - u - v
  const x = w * <f64>load<f32>(c) + u * <f64>load<f32>(c, 48) + v * <f64>load<f32>(c, 96)
  const y = w * <f64>load<f32>(c, 16) + u * <f64>load<f32>(c, 64) + v * <f64>load<f32>(c, 112)
  const z = w * <f64>load<f32>(c, 32) + u * <f64>load<f32>(c, 80) + v * <f64>load<f32>(c, 128)
  bendOf(c, normalsOf(triangleOf(slot)), u, v, x, y, z)
  return (
    (x + bendX - <f64>load<f32>(point, POINT_SMOOTH)) * <f64>load<f32>(point, POINT_NORMAL) +
    (y + bendY - <f64>load<f32>(point, POINT_SMOOTH + 4)) * <f64>load<f32>(point, POINT_NORMAL + 4) +
    (z + bendZ - <f64>load<f32>(point, POINT_SMOOTH + 8)) * <f64>load<f32>(point, POINT_NORMAL + 8)
  )
}

/** Whether a direction goes the way that the winding of a triangle's corners points. @param direction three f32. */
export function isBack(slot: u32, direction: usize): bool {
  const c = cornerOf(slot)
  const x = load<f32>(c)
  const y = load<f32>(c, 16)
  const z = load<f32>(c, 32)
  const ax = load<f32>(c, 48) - x
  const ay = load<f32>(c, 64) - y
  const az = load<f32>(c, 80) - z
  const bx = load<f32>(c, 96) - x
  const by = load<f32>(c, 112) - y
  const bz = load<f32>(c, 128) - z
  return (
    (ay * bz - az * by) * load<f32>(direction) +
      (az * bx - ax * bz) * load<f32>(direction, 4) +
      (ax * by - ay * bx) * load<f32>(direction, 8) >
    0
  )
}

function put(at: usize, x: f64, y: f64, z: f64): void {
  store<f32>(at, <f32>x)
  store<f32>(at, <f32>y, 4)
  store<f32>(at, <f32>z, 8)
}

/**
 * Completes a point whose slot, weights and view are written. Where secondary rays start is, on smooth-shaded coarse
 * meshes, not on the flat triangle but on the curved surface its normals tell of, which removes the jagged terminator
 * (Hanika 2021, "Hacking the Shadow Terminator", Ray Tracing Gems II, ch. 4).
 * @param least clearance near the origin.
 */
export function loadPoint(point: usize, least: f64): void {
  const slot = load<u32>(point, POINT_SLOT)
  const u = load<f64>(point, POINT_WEIGHTS)
  const v = load<f64>(point, POINT_WEIGHTS + 8)
  const triangle = triangleOf(slot)
  const c = cornerOf(slot)
  const n = normalsOf(triangle)
  store<u32>(point, triangle, POINT_TRIANGLE)
  store<u32>(
    point,
    load<u32>(<usize>load<u32>(HEAD + HEAD_TAGS) + ((<usize>slot) << 2)) & 0xffffff,
    POINT_PART,
  )
  const w = 1 - u - v
  const v0x = <f64>load<f32>(c)
  const v0y = <f64>load<f32>(c, 16)
  const v0z = <f64>load<f32>(c, 32)
  const e1x = <f64>load<f32>(c, 48) - v0x
  const e1y = <f64>load<f32>(c, 64) - v0y
  const e1z = <f64>load<f32>(c, 80) - v0z
  const e2x = <f64>load<f32>(c, 96) - v0x
  const e2y = <f64>load<f32>(c, 112) - v0y
  const e2z = <f64>load<f32>(c, 128) - v0z

  // 1. Normals, flipped together so that the geometric one faces the viewer.
  let gx = e1y * e2z - e1z * e2y
  let gy = e1z * e2x - e1x * e2z
  let gz = e1x * e2y - e1y * e2x
  let area = sqrt(gx * gx + gy * gy + gz * gz)
  if (area == 0) area = 1
  gx /= area
  gy /= area
  gz /= area
  let nx = w * <f64>load<f32>(n) + u * <f64>load<f32>(n, 12) + v * <f64>load<f32>(n, 24)
  let ny = w * <f64>load<f32>(n, 4) + u * <f64>load<f32>(n, 16) + v * <f64>load<f32>(n, 28)
  let nz = w * <f64>load<f32>(n, 8) + u * <f64>load<f32>(n, 20) + v * <f64>load<f32>(n, 32)
  // A file may give normals against the winding; the winding rules.
  if (nx * gx + ny * gy + nz * gz < 0) {
    nx = -nx
    ny = -ny
    nz = -nz
  }
  const behind =
    gx * <f64>load<f32>(point, POINT_VIEW) +
      gy * <f64>load<f32>(point, POINT_VIEW + 4) +
      gz * <f64>load<f32>(point, POINT_VIEW + 8) >
    0
  if (behind) {
    gx = -gx
    gy = -gy
    gz = -gz
    nx = -nx
    ny = -ny
    nz = -nz
  }
  const length = sqrt(nx * nx + ny * ny + nz * nz)
  if (length > 1e-6) {
    nx /= length
    ny /= length
    nz /= length
  } else {
    nx = gx
    ny = gy
    nz = gz
  }

  // 2. The point, from the triangle's own corners (more exact than along the ray), lifted onto the curved surface.
  let px = v0x + u * e1x + v * e2x
  let py = v0y + u * e1y + v * e2y
  let pz = v0z + u * e1z + v * e2z
  put(point + POINT_ON, px, py, pz)
  bendOf(c, n, u, v, px, py, pz)
  put(point + POINT_SMOOTH, px + bendX, py + bendY, pz + bendZ)
  const side: f64 = behind ? -1 : 1
  let liftX: f64 = 0
  let liftY: f64 = 0
  let liftZ: f64 = 0
  let farthest: f64 = 0
  for (let k: usize = 0; k < 3; k++) {
    const weight: f64 = k == 0 ? w : k == 1 ? u : v
    const cx = <f64>load<f32>(c + 48 * k)
    const cy = <f64>load<f32>(c + 48 * k, 16)
    const cz = <f64>load<f32>(c + 48 * k, 32)
    farthest = max(farthest, max(abs(cx), max(abs(cy), abs(cz))))
    const mx = side * <f64>load<f32>(n + 12 * k)
    const my = side * <f64>load<f32>(n + 12 * k, 4)
    const mz = side * <f64>load<f32>(n + 12 * k, 8)
    const below = (px - cx) * mx + (py - cy) * my + (pz - cz) * mz
    if (below >= 0) continue
    liftX -= weight * below * mx
    liftY -= weight * below * my
    liftZ -= weight * below * mz
  }
  if (liftX * gx + liftY * gy + liftZ * gz > 0) {
    px += liftX
    py += liftY
    pz += liftZ
  }
  const clearance = least + CLEARANCE * farthest
  put(point, px + clearance * gx, py + clearance * gy, pz + clearance * gz)
  put(point + POINT_GEOMETRIC, gx, gy, gz)
  put(point + POINT_NORMAL, nx, ny, nz)

  // 3. Basis (Duff et al. 2017, "Building an Orthonormal Basis, Revisited", JCGT 6(1)).
  const sign: f64 = nz >= 0 ? 1 : -1
  const a = -1 / (sign + nz)
  const b = nx * ny * a
  put(point + POINT_U, 1 + sign * nx * nx * a, sign * b, -sign * nx)
  put(point + POINT_V, b, sign + ny * ny * a, -ny)
}

/** Completes `count` points, see {@link loadPoint}. */
export function loadPoints(points: usize, count: u32, least: f64): void {
  for (let i: u32 = 0; i < count; i++) loadPoint(points + <usize>i * POINT_BYTES, least)
}

/**
 * How many rays a point has, where every sample of a full pixel (`most` samples) has `rays`: a pixel's total is the same.
 * @param most 0: as many for every point.
 */
export function raysOf(point: usize, rays: u32, most: u32): u32 {
  const samples = load<u32>(point, POINT_RUN) >> 16
  if (samples == 0 || most == 0) return rays
  const count = <u32>((<f64>rays * <f64>most) / <f64>samples + 0.5)
  return count > 0 ? count : 1
}

/**
 * Index of the first of a point's `rays` numbers. A pixel's run is a power of two long, so that it is a whole elementary
 * interval of the sequence (src/core/math/sampling.ts, PixelRun).
 */
export function firstOf(point: usize, rays: u32): u32 {
  const run = load<u32>(point, POINT_RUN)
  const order = load<u32>(point, POINT_ORDER)
  const samples = run >> 16
  if (samples == 0) return order
  const asked = samples * rays
  const length: u32 = asked > 1 ? 1 << (32 - <u32>clz(asked - 1)) : 1
  return order * length + (run & 0xffff) * rays
}
