import { POINT_GEOMETRIC, POINT_NORMAL, POINT_U, POINT_V } from './layout'

/** Writes a ray: 32 bytes, see trace.ts. Rows are (x, y, z, nearest) and (x, y, z, farthest). */
function putRay(ray: usize, origin: v128, direction: v128): void {
  v128.store(ray, origin)
  v128.store(ray, direction, 16)
}

/**
 * Three numbers of a point and a fourth of one's own. What lies fourth in a point is an integer: calculated with as a
 * small float it would be a denormal, which the processor takes a hundred times as long over.
 */
export function rowOf(at: usize, fourth: f32): v128 {
  return f32x4.replace_lane(v128.load(at), 3, fourth)
}

/** a · first + b · second + c · third, of one coordinate. */
function mix(point: usize, coordinate: usize, a: v128, b: v128, c: v128): v128 {
  const at = point + coordinate
  return f32x4.add(
    f32x4.add(
      f32x4.mul(a, v128.load_splat<f32>(at, POINT_U)),
      f32x4.mul(b, v128.load_splat<f32>(at, POINT_V)),
    ),
    f32x4.mul(c, v128.load_splat<f32>(at, POINT_NORMAL)),
  )
}

/**
 * Rays of one origin round a point's shading normal, from numbers on the unit disc: cosine-weighted within a cone.
 * @param sine of the cone's half angle.
 * @param side 1: out of the surface, and only those above the true one; −1: into it, all.
 * @returns how many were written.
 */
export function putCone(
  point: usize,
  origin: v128,
  count: u32,
  sine: f32,
  side: f32,
  far: f32,
  discX: usize,
  discY: usize,
  rays: usize,
): u32 {
  const zero = f32x4.splat(0)
  const one = f32x4.splat(1)
  const wide = f32x4.splat(sine)
  const away = f32x4.splat(side)
  const far4 = f32x4.splat(far)
  const gx = v128.load_splat<f32>(point, POINT_GEOMETRIC)
  const gy = v128.load_splat<f32>(point, POINT_GEOMETRIC + 4)
  const gz = v128.load_splat<f32>(point, POINT_GEOMETRIC + 8)
  let to = rays
  for (let first: u32 = 0; first < count; first += 4) {
    const at = (<usize>first) << 2
    const a = f32x4.mul(v128.load(discX + at), wide)
    const b = f32x4.mul(v128.load(discY + at), wide)
    const c = f32x4.mul(
      away,
      f32x4.sqrt(f32x4.max(zero, f32x4.sub(f32x4.sub(one, f32x4.mul(a, a)), f32x4.mul(b, b)))),
    )
    const x = mix(point, 0, a, b, c)
    const y = mix(point, 4, a, b, c)
    const z = mix(point, 8, a, b, c)
    let kept: i32 = count - first >= 4 ? 15 : (1 << (count - first)) - 1
    if (side > 0)
      kept &= i32x4.bitmask(
        f32x4.gt(f32x4.add(f32x4.add(f32x4.mul(x, gx), f32x4.mul(y, gy)), f32x4.mul(z, gz)), zero),
      )
    const xy = v128.shuffle<f32>(x, y, 0, 4, 1, 5)
    const zf = v128.shuffle<f32>(z, far4, 0, 4, 1, 5)
    if (kept & 1) {
      putRay(to, origin, v128.shuffle<f64>(xy, zf, 0, 2))
      to += 32
    }
    if (kept & 2) {
      putRay(to, origin, v128.shuffle<f64>(xy, zf, 1, 3))
      to += 32
    }
    if ((kept & 12) == 0) continue
    const xy2 = v128.shuffle<f32>(x, y, 2, 6, 3, 7)
    const zf2 = v128.shuffle<f32>(z, far4, 2, 6, 3, 7)
    if (kept & 4) {
      putRay(to, origin, v128.shuffle<f64>(xy2, zf2, 0, 2))
      to += 32
    }
    if (kept & 8) {
      putRay(to, origin, v128.shuffle<f64>(xy2, zf2, 1, 3))
      to += 32
    }
  }
  return <u32>((to - rays) >> 5)
}
