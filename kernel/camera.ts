// One file: one module of the kernel: its functions share memory laid out at its head.
import { cosineOf, sineOf } from './angles'
import {
  CAMERA_BACK,
  CAMERA_CENTRE_X,
  CAMERA_CENTRE_Y,
  CAMERA_EYE,
  CAMERA_FOCUS,
  CAMERA_HALF_HEIGHT,
  CAMERA_HALF_WIDTH,
  CAMERA_HEIGHT,
  CAMERA_PARALLEL,
  CAMERA_RIGHT,
  CAMERA_SPOT,
  CAMERA_UP,
  CAMERA_WIDTH,
  DESK_HITS,
  DESK_RAYS,
  DESK_STACK,
  HEAD,
  HEAD_TAGS,
  POINT_BYTES,
  POINT_ORDER,
  POINT_PIXEL,
  POINT_RUN,
  POINT_SEED,
  POINT_SHARE,
  POINT_SLOT,
  POINT_VIEW,
  POINT_WEIGHTS,
  SAMPLE_BYTES,
  SAMPLE_DISTANCE,
  SAMPLE_WEIGHTS,
} from './layout'
import { cornerOf, loadPoint, normalsOf, triangleOf } from './points'
import { hash32 } from './sampling'
import { closestHits } from './trace'

/**
 * What a camera sees: rays through places of the picture, what they meet worked out in double precision, which pixels see more
 * than one smooth surface, and the points of surfaces that pixels see.
 */
const FAR: f32 = 1e30
/** Rays traced at once; no more than a batch holds. */
const BATCH: u32 = 4096
const QUARTER: f64 = 0.7853981633974483

/** The ray that {@link aim} has aimed; its direction has unit length. */
let ox: f64 = 0
let oy: f64 = 0
let oz: f64 = 0
let dx: f64 = 0
let dy: f64 = 0
let dz: f64 = 0

/** Aims through a place of the picture, in pixels from the top left. */
function aim(camera: usize, px: f64, py: f64): void {
  const sx =
    ((2 * px) / load<f64>(camera, CAMERA_WIDTH) - 1) * load<f64>(camera, CAMERA_HALF_WIDTH) +
    load<f64>(camera, CAMERA_CENTRE_X)
  const sy =
    (1 - (2 * py) / load<f64>(camera, CAMERA_HEIGHT)) * load<f64>(camera, CAMERA_HALF_HEIGHT) +
    load<f64>(camera, CAMERA_CENTRE_Y)
  const rx = load<f64>(camera, CAMERA_RIGHT)
  const ry = load<f64>(camera, CAMERA_RIGHT + 8)
  const rz = load<f64>(camera, CAMERA_RIGHT + 16)
  const ux = load<f64>(camera, CAMERA_UP)
  const uy = load<f64>(camera, CAMERA_UP + 8)
  const uz = load<f64>(camera, CAMERA_UP + 16)
  const bx = load<f64>(camera, CAMERA_BACK)
  const by = load<f64>(camera, CAMERA_BACK + 8)
  const bz = load<f64>(camera, CAMERA_BACK + 16)
  ox = load<f64>(camera, CAMERA_EYE)
  oy = load<f64>(camera, CAMERA_EYE + 8)
  oz = load<f64>(camera, CAMERA_EYE + 16)
  if (load<f64>(camera, CAMERA_PARALLEL) != 0) {
    ox += sx * rx + sy * ux
    oy += sx * ry + sy * uy
    oz += sx * rz + sy * uz
    dx = -bx
    dy = -by
    dz = -bz
    return
  }
  dx = sx * rx + sy * ux - bx
  dy = sx * ry + sy * uy - by
  dz = sx * rz + sy * uz - bz
  const distance = load<f64>(camera, CAMERA_FOCUS)
  if (distance > 0) {
    // Begun anywhere on a thin lens (Cook, Porter & Carpenter 1984) and bent to where all rays of the place meet. The place on
    // the lens follows from the place in the picture, so that the same ray can be aimed twice.
    const key = hash32((<u32>(<i32>nearest(px * 1024)) * 0x9e3779b1) ^ hash32(<u32>(<i32>nearest(py * 1024))))
    const p = 2 * (<f64>key / 4294967296.0) - 1
    const q = 2 * (<f64>hash32(key) / 4294967296.0) - 1
    const isWide = abs(p) > abs(q)
    const spread = isWide ? p : q
    const angle: f32 = spread == 0 ? <f32>0 : <f32>(QUARTER * ((isWide ? q : p) / spread))
    const near = <f64>cosineOf(angle) * spread
    const side = <f64>sineOf(angle) * spread
    // A far point spreads over 2·radius where it is sharp, and the picture is 2·halfHeight·distance high there.
    const radius = load<f64>(camera, CAMERA_SPOT) * load<f64>(camera, CAMERA_HALF_HEIGHT) * distance
    const a = radius * (isWide ? near : side)
    const b = radius * (isWide ? side : near)
    const lx = a * rx + b * ux
    const ly = a * ry + b * uy
    const lz = a * rz + b * uz
    ox += lx
    oy += ly
    oz += lz
    dx = dx * distance - lx
    dy = dy * distance - ly
    dz = dz * distance - lz
  }
  const inverse = 1 / sqrt(dx * dx + dy * dy + dz * dz)
  dx *= inverse
  dy *= inverse
  dz *= inverse
}

/**
 * A hit's distance and weights in double precision (Möller & Trumbore 1997); left as they are where the triangle is seen
 * so flat that this tells nothing.
 */
function refine(slot: u32, ray: usize, sample: usize): void {
  const c = cornerOf(slot)
  const x = <f64>load<f32>(c)
  const y = <f64>load<f32>(c, 16)
  const z = <f64>load<f32>(c, 32)
  const ax = <f64>load<f32>(c, 48) - x
  const ay = <f64>load<f32>(c, 64) - y
  const az = <f64>load<f32>(c, 80) - z
  const bx = <f64>load<f32>(c, 96) - x
  const by = <f64>load<f32>(c, 112) - y
  const bz = <f64>load<f32>(c, 128) - z
  const ex = <f64>load<f32>(ray, 16)
  const ey = <f64>load<f32>(ray, 20)
  const ez = <f64>load<f32>(ray, 24)
  const px = ey * bz - ez * by
  const py = ez * bx - ex * bz
  const pz = ex * by - ey * bx
  const det = ax * px + ay * py + az * pz
  if (det == 0) return
  const sx = <f64>load<f32>(ray) - x
  const sy = <f64>load<f32>(ray, 4) - y
  const sz = <f64>load<f32>(ray, 8) - z
  const u = (sx * px + sy * py + sz * pz) / det
  const qx = sy * az - sz * ay
  const qy = sz * ax - sx * az
  const qz = sx * ay - sy * ax
  const v = (ex * qx + ey * qy + ez * qz) / det
  const t = (bx * qx + by * qy + bz * qz) / det
  // On the border rounding may have let it in: keep it on the triangle.
  if (!(u > -0.01 && v > -0.01 && u + v < 1.01 && t > 0)) return
  const u1 = max<f64>(0, u)
  const v1 = max<f64>(0, v)
  const over = max<f64>(1, u1 + v1)
  store<f64>(sample, t, SAMPLE_DISTANCE)
  store<f64>(sample, u1 / over, SAMPLE_WEIGHTS)
  store<f64>(sample, v1 / over, SAMPLE_WEIGHTS + 8)
}

/** Traces the rays at work and writes what they meet. */
function flush(count: u32, samples: usize, mask: u32, parts: usize, desk: usize): void {
  const rays: usize = load<u32>(desk, DESK_RAYS)
  const hits: usize = load<u32>(desk, DESK_HITS)
  closestHits(rays, hits, count, mask, parts, load<u32>(desk, DESK_STACK), false)
  for (let r: u32 = 0; r < count; r++) {
    const hit = hits + ((<usize>r) << 4)
    const sample = samples + <usize>r * SAMPLE_BYTES
    const slot = load<u32>(hit)
    store<u32>(sample, slot)
    store<f64>(sample, <f64>load<f32>(hit, 4), SAMPLE_DISTANCE)
    store<f64>(sample, <f64>load<f32>(hit, 8), SAMPLE_WEIGHTS)
    store<f64>(sample, <f64>load<f32>(hit, 12), SAMPLE_WEIGHTS + 8)
    if (slot != 0xffffffff) refine(slot, rays + ((<usize>r) << 5), sample)
  }
}

/**
 * What samples of pixels see.
 * @param places pixels, two i32 each, `count` of them.
 * @param pattern two f32 a sample: places within a pixel. @param from, to which of these are taken.
 * @param samples where they are written, all of a pixel after one another.
 */
export function see(
  camera: usize,
  places: usize,
  count: u32,
  pattern: usize,
  from: u32,
  to: u32,
  samples: usize,
  mask: u32,
  parts: usize,
  desk: usize,
): void {
  const rays: usize = load<u32>(desk, DESK_RAYS)
  let out = samples
  let held: u32 = 0
  for (let p: u32 = 0; p < count; p++) {
    const place = places + ((<usize>p) << 3)
    const x = <f64>load<i32>(place)
    const y = <f64>load<i32>(place, 4)
    for (let s = from; s < to; s++) {
      const at = pattern + ((<usize>s) << 3)
      aim(camera, x + <f64>load<f32>(at), y + <f64>load<f32>(at, 4))
      const ray = rays + ((<usize>held) << 5)
      store<f32>(ray, <f32>ox)
      store<f32>(ray, <f32>oy, 4)
      store<f32>(ray, <f32>oz, 8)
      store<f32>(ray, 0, 12)
      store<f32>(ray, <f32>dx, 16)
      store<f32>(ray, <f32>dy, 20)
      store<f32>(ray, <f32>dz, 24)
      store<f32>(ray, FAR, 28)
      if (++held < BATCH) continue
      flush(held, out, mask, parts, desk)
      out += <usize>held * SAMPLE_BYTES
      held = 0
    }
  }
  if (held > 0) flush(held, out, mask, parts, desk)
}

/** Samples by which pixels are told to be quiet or busy. */
const SCOUTS: u32 = 4
/** Bytes kept of each: surface u32 (and nothing), place and normal, f64 each. */
const LOOK_BYTES: usize = 56
const NOTHING: u32 = 0xffffffff
/** A surface of which no two places look alike. */
const TEXTURED: u32 = 0xfffffffe

/** Where a sample lies, and which way its surface faces there. */
function look(sample: usize, surfaces: usize, out: usize): void {
  const slot = load<u32>(sample)
  if (slot == NOTHING) {
    store<u32>(out, NOTHING)
    return
  }
  store<u32>(out, load<u32>(surfaces + ((<usize>slot) << 2)))
  const u = load<f64>(sample, SAMPLE_WEIGHTS)
  const v = load<f64>(sample, SAMPLE_WEIGHTS + 8)
  const w = 1 - u - v
  const c = cornerOf(slot)
  const n = normalsOf(triangleOf(slot))
  let length: f64 = 0
  for (let axis: usize = 0; axis < 3; axis++) {
    const a = c + 16 * axis
    store<f64>(
      out + 8 * axis,
      w * <f64>load<f32>(a) + u * <f64>load<f32>(a, 48) + v * <f64>load<f32>(a, 96),
      8,
    )
    const m = n + 4 * axis
    const normal = w * <f64>load<f32>(m) + u * <f64>load<f32>(m, 12) + v * <f64>load<f32>(m, 24)
    store<f64>(out + 8 * axis, normal, 32)
    length += normal * normal
  }
  length = sqrt(length)
  if (length == 0) return
  for (let axis: usize = 0; axis < 3; axis++)
    store<f64>(out + 8 * axis, load<f64>(out + 8 * axis, 32) / length, 32)
}

/** Whether two samples see one smooth surface: normals that are near, and a way between them that lies along it. */
function isSame(a: usize, b: usize, sameNormal: f64, samePlane: f64): bool {
  const surface = load<u32>(a)
  if (surface != load<u32>(b) || surface == TEXTURED) return false
  if (surface == NOTHING) return true
  const ax = load<f64>(a, 32)
  const ay = load<f64>(a, 40)
  const az = load<f64>(a, 48)
  const bx = load<f64>(b, 32)
  const by = load<f64>(b, 40)
  const bz = load<f64>(b, 48)
  if (ax * bx + ay * by + az * bz < sameNormal) return false
  const x = load<f64>(b, 8) - load<f64>(a, 8)
  const y = load<f64>(b, 16) - load<f64>(a, 16)
  const z = load<f64>(b, 24) - load<f64>(a, 24)
  const limit = samePlane * sqrt(x * x + y * y + z * z)
  return abs(x * ax + y * ay + z * az) <= limit && abs(x * bx + y * by + z * bz) <= limit
}

/**
 * Marks pixels that see, or whose neighbours see, more than one smooth surface, or a texture.
 * @param samples the first SCOUTS of every pixel of a rectangle, row by row.
 * @param surfaces one u32 a slot: equal ones are one surface; TEXTURED is none with itself.
 * @param looks room for LOOK_BYTES a sample.
 * @param busy one byte a pixel, 0 before.
 * @param sameNormal least cosine between normals. @param samePlane most sine of the way from the surface.
 */
export function busyOf(
  samples: usize,
  width: u32,
  height: u32,
  surfaces: usize,
  looks: usize,
  busy: usize,
  sameNormal: f64,
  samePlane: f64,
): void {
  const count = width * height
  for (let i: u32 = 0; i < SCOUTS * count; i++)
    look(samples + <usize>i * SAMPLE_BYTES, surfaces, looks + <usize>i * LOOK_BYTES)
  const stride = <usize>SCOUTS * LOOK_BYTES
  for (let p: u32 = 0; p < count; p++) {
    const own = looks + <usize>p * stride
    for (let s: usize = 1; s < SCOUTS; s++)
      if (!isSame(own, own + s * LOOK_BYTES, sameNormal, samePlane)) store<u8>(busy + <usize>p, 1)
    const column = p % width
    const hasRight = column + 1 < width
    const hasBelow = p + width < count
    for (let k: u32 = 0; k < 4; k++) {
      if (k == 0 ? !hasRight : !hasBelow || (k == 2 && !hasRight) || (k == 3 && column == 0)) continue
      const other: u32 = k == 0 ? p + 1 : k == 1 ? p + width : k == 2 ? p + width + 1 : p + width - 1
      if (isSame(own, looks + <usize>other * stride, sameNormal, samePlane)) continue
      store<u8>(busy + <usize>p, 1)
      store<u8>(busy + <usize>other, 1)
    }
  }
}

/** Spreads the low 10 bits of a number to the even places (src/core/math/sampling.ts). */
function spreadBits10(value: u32): u32 {
  let x = value & 1023
  x = (x | (x << 8)) & 0x00ff00ff
  x = (x | (x << 4)) & 0x0f0f0f0f
  x = (x | (x << 2)) & 0x33333333
  return (x | (x << 1)) & 0x55555555
}

function hashPair(a: u32, b: u32): u32 {
  return hash32((a * 0x9e3779b1) ^ hash32(b))
}

/**
 * Makes points of the samples that pixels see, complete, until a block is full.
 * @param slots, weights of the samples at work: one i32, two f64. @param starts one u32 a pixel and one more: its first sample,
 *   counted as `slots` is. @param pixels how many pixels there are.
 * @param x, y, width the tile that they are of, in the picture, and which pixel of it the first one is (`origin`).
 * @param first sample at which the first pixel begins: it may be half done.
 * @param shown one byte a part, 0 is left out; 0: all are in.
 * @param seed of the picture. @param least clearance near the origin.
 * @param took one u32 a point: its sample.
 * @returns how many points were made.
 */
export function takePoints(
  camera: usize,
  slots: usize,
  weights: usize,
  starts: usize,
  pixels: u32,
  x: i32,
  y: i32,
  width: u32,
  origin: u32,
  first: u32,
  shown: usize,
  pattern: usize,
  seed: u32,
  least: f64,
  block: usize,
  room: u32,
  took: usize,
): u32 {
  const tags: usize = load<u32>(HEAD + HEAD_TAGS)
  let made: u32 = 0
  for (let k: u32 = 0; k < pixels && made < room; k++) {
    const begin = load<u32>(starts + ((<usize>k) << 2))
    const end = load<u32>(starts + ((<usize>k) << 2), 4)
    let covered: u32 = 0
    for (let i = begin; i < end; i++) if (isIn(slots, i, shown, tags)) covered++
    if (covered == 0) continue
    const pixel = origin + k
    const px = x + <i32>(pixel % width)
    const py = y + <i32>(pixel / width)
    const share = <f32>(1 / <f64>covered)
    const own = hashPair(hashPair(<u32>(px >> 10), <u32>(py >> 10)), seed)
    const order = spreadBits10(<u32>px) | (spreadBits10(<u32>py) << 1)
    for (let i = k == 0 ? first : begin; i < end && made < room; i++) {
      if (!isIn(slots, i, shown, tags)) continue
      const s = i - begin
      const at = pattern + ((<usize>s) << 3)
      aim(camera, <f64>px + <f64>load<f32>(at), <f64>py + <f64>load<f32>(at, 4))
      const point = block + <usize>made * POINT_BYTES
      store<u32>(point, load<u32>(slots + ((<usize>i) << 2)), POINT_SLOT)
      store<f32>(point, share, POINT_SHARE)
      store<u32>(point, pixel, POINT_PIXEL)
      store<u32>(point, own, POINT_SEED)
      store<u32>(point, order, POINT_ORDER)
      store<u32>(point, s | ((end - begin) << 16), POINT_RUN)
      store<f32>(point, <f32>dx, POINT_VIEW)
      store<f32>(point, <f32>dy, POINT_VIEW + 4)
      store<f32>(point, <f32>dz, POINT_VIEW + 8)
      store<f64>(point, load<f64>(weights + ((<usize>i) << 4)), POINT_WEIGHTS)
      store<f64>(point, load<f64>(weights + ((<usize>i) << 4), 8), POINT_WEIGHTS + 8)
      store<u32>(took + ((<usize>made) << 2), i)
      loadPoint(point, least)
      made++
    }
  }
  return made
}

function isIn(slots: usize, i: u32, shown: usize, tags: usize): bool {
  const slot = load<u32>(slots + ((<usize>i) << 2))
  if (slot == NOTHING) return false
  return shown == 0 || load<u8>(shown + <usize>(load<u32>(tags + ((<usize>slot) << 2)) & 0xffffff)) != 0
}
