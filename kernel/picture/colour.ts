import { cubeRoot, decoded, encoded } from './pixels'
import { add, all, atLeast, clamp01, mul, sub } from './vectors'

/** Changes of each colour by itself, straight blocks of f32 in place. */

/** @inline Not so near 0 that a root of its bits goes wrong. */
function held(x: v128): v128 {
  return atLeast(all(1e-12), x)
}

/** @inline A row of a matrix times a column. */
function row(a: f32, x: v128, b: f32, y: v128, c: f32, z: v128): v128 {
  return add(add(mul(all(a), x), mul(all(b), y)), mul(all(c), z))
}

/** Display values to OKLab (Ottosson 2020): lightness, and its two axes of hue and chroma, in the places of red, green and blue. */
export function toOklab(blocks: usize, count: i32): void {
  const end = blocks + ((<usize>count) << 4)
  while (blocks < end) {
    const r = decoded(v128.load(blocks))
    const g = decoded(v128.load(blocks, 16))
    const b = decoded(v128.load(blocks, 32))
    const l = cubeRoot(held(row(0.4122214708, r, 0.5363325363, g, 0.0514459929, b)))
    const m = cubeRoot(held(row(0.2119034982, r, 0.6806995451, g, 0.1073969566, b)))
    const s = cubeRoot(held(row(0.0883024619, r, 0.2817188376, g, 0.6299787005, b)))
    v128.store(blocks, row(0.2104542553, l, 0.793617785, m, -0.0040720468, s))
    v128.store(blocks, row(1.9779984951, l, -2.428592205, m, 0.4505937099, s), 16)
    v128.store(blocks, row(0.0259040371, l, 0.7827717662, m, -0.808675766, s), 32)
    blocks += 64
  }
}

/** OKLab to display values, cut to what a display shows. */
export function fromOklab(blocks: usize, count: i32): void {
  const end = blocks + ((<usize>count) << 4)
  while (blocks < end) {
    const x = v128.load(blocks)
    const y = v128.load(blocks, 16)
    const z = v128.load(blocks, 32)
    const l1 = row(1, x, 0.3963377774, y, 0.2158037573, z)
    const m1 = row(1, x, -0.1055613458, y, -0.0638541728, z)
    const s1 = row(1, x, -0.0894841775, y, -1.291485548, z)
    const l = mul(mul(l1, l1), l1)
    const m = mul(mul(m1, m1), m1)
    const s = mul(mul(s1, s1), s1)
    v128.store(blocks, encoded(row(4.0767416621, l, -3.3077115913, m, 0.2309699292, s)))
    v128.store(blocks, encoded(row(-1.2684380046, l, 2.6097574011, m, -0.3413193965, s)), 16)
    v128.store(blocks, encoded(row(-0.0041960863, l, -0.7034186147, m, 1.707614701, s)), 32)
    blocks += 64
  }
}

/** Turns, stretches and lightens in OKLab, in place: `L + lightness`, the other two by a matrix of a turn and a scale. */
export function turnOklab(blocks: usize, count: i32, cos: f32, sin: f32, lightness: f32): void {
  const end = blocks + ((<usize>count) << 4)
  while (blocks < end) {
    const a = v128.load(blocks, 16)
    const b = v128.load(blocks, 32)
    v128.store(blocks, add(v128.load(blocks), all(lightness)))
    v128.store(blocks, sub(mul(all(cos), a), mul(all(sin), b)), 16)
    v128.store(blocks, add(mul(all(sin), a), mul(all(cos), b)), 32)
    blocks += 64
  }
}

/** @inline A colour of a cube between its four nearest corners, as a tetrahedron's (Kasson, Nin, Plouffe & Hafner 1995). */
function inCube(r: f32, g: f32, b: f32, cube: usize, n: i32): v128 {
  const most = n - 2
  const ri = min(<i32>r, most)
  const gi = min(<i32>g, most)
  const bi = min(<i32>b, most)
  const fr: f32 = r - <f32>ri
  const fg: f32 = g - <f32>gi
  const fb: f32 = b - <f32>bi
  const sr: usize = 16
  const sg = (<usize>n) << 4
  const sb = (<usize>(n * n)) << 4
  const at = cube + <usize>ri * sr + <usize>gi * sg + <usize>bi * sb
  // The way from the near corner to the far one, the longest step first.
  let high: f32, middle: f32, low: f32
  let first: usize, second: usize
  if (fr >= fg) {
    if (fg >= fb) {
      high = fr
      middle = fg
      low = fb
      first = sr
      second = sr + sg
    } else if (fr >= fb) {
      high = fr
      middle = fb
      low = fg
      first = sr
      second = sr + sb
    } else {
      high = fb
      middle = fr
      low = fg
      first = sb
      second = sb + sr
    }
  } else if (fr >= fb) {
    high = fg
    middle = fr
    low = fb
    first = sg
    second = sg + sr
  } else if (fg >= fb) {
    high = fg
    middle = fb
    low = fr
    first = sg
    second = sg + sb
  } else {
    high = fb
    middle = fg
    low = fr
    first = sb
    second = sb + sg
  }
  const near = mul(all(1 - high), v128.load(at))
  const one = mul(all(high - middle), v128.load(at + first))
  const two = mul(all(middle - low), v128.load(at + second))
  const far = mul(all(low), v128.load(at + sr + sg + sb))
  return add(add(near, one), add(two, far))
}

/**
 * Colours through a cube of them, mixed with what they were.
 * @param cube n³ colours of 4 f32, red fastest; n 2…129. @param strength 0…1.
 */
export function throughCube(blocks: usize, count: i32, cube: usize, n: i32, strength: f32): void {
  const end = blocks + ((<usize>count) << 4)
  const most = all(<f32>(n - 1))
  const share = all(strength)
  while (blocks < end) {
    const r = v128.load(blocks)
    const g = v128.load(blocks, 16)
    const b = v128.load(blocks, 32)
    const x = mul(clamp01(r), most)
    const y = mul(clamp01(g), most)
    const z = mul(clamp01(b), most)
    const p0 = inCube(f32x4.extract_lane(x, 0), f32x4.extract_lane(y, 0), f32x4.extract_lane(z, 0), cube, n)
    const p1 = inCube(f32x4.extract_lane(x, 1), f32x4.extract_lane(y, 1), f32x4.extract_lane(z, 1), cube, n)
    const p2 = inCube(f32x4.extract_lane(x, 2), f32x4.extract_lane(y, 2), f32x4.extract_lane(z, 2), cube, n)
    const p3 = inCube(f32x4.extract_lane(x, 3), f32x4.extract_lane(y, 3), f32x4.extract_lane(z, 3), cube, n)
    const rg0 = v128.shuffle<f32>(p0, p1, 0, 4, 1, 5)
    const rg1 = v128.shuffle<f32>(p2, p3, 0, 4, 1, 5)
    const b0 = v128.shuffle<f32>(p0, p1, 2, 6, 3, 7)
    const b1 = v128.shuffle<f32>(p2, p3, 2, 6, 3, 7)
    v128.store(blocks, add(r, mul(share, sub(v128.shuffle<f32>(rg0, rg1, 0, 1, 4, 5), r))))
    v128.store(blocks, add(g, mul(share, sub(v128.shuffle<f32>(rg0, rg1, 2, 3, 6, 7), g))), 16)
    v128.store(blocks, add(b, mul(share, sub(v128.shuffle<f32>(b0, b1, 0, 1, 4, 5), b))), 32)
    blocks += 64
  }
}

/** @inline A colour of a list, straight lines between them. */
function inList(at: f32, list: usize, most: i32): v128 {
  const i = min(<i32>at, most)
  const from = list + ((<usize>i) << 4)
  const a = v128.load(from)
  return add(a, mul(all(at - <f32>i), sub(v128.load(from, 16), a)))
}

/**
 * Each brightness as a colour of a list, mixed with what was there.
 * @param list n colours of 4 f32, from black to white. @param r, g, b the weights of brightness. @param strength 0…1.
 */
export function byBrightness(
  blocks: usize,
  count: i32,
  list: usize,
  n: i32,
  wr: f32,
  wg: f32,
  wb: f32,
  strength: f32,
): void {
  const end = blocks + ((<usize>count) << 4)
  const most = all(<f32>(n - 1))
  const share = all(strength)
  while (blocks < end) {
    const r = v128.load(blocks)
    const g = v128.load(blocks, 16)
    const b = v128.load(blocks, 32)
    const tone = add(add(mul(all(wr), r), mul(all(wg), g)), mul(all(wb), b))
    const at = mul(clamp01(tone), most)
    const p0 = inList(f32x4.extract_lane(at, 0), list, n - 2)
    const p1 = inList(f32x4.extract_lane(at, 1), list, n - 2)
    const p2 = inList(f32x4.extract_lane(at, 2), list, n - 2)
    const p3 = inList(f32x4.extract_lane(at, 3), list, n - 2)
    const rg0 = v128.shuffle<f32>(p0, p1, 0, 4, 1, 5)
    const rg1 = v128.shuffle<f32>(p2, p3, 0, 4, 1, 5)
    const b0 = v128.shuffle<f32>(p0, p1, 2, 6, 3, 7)
    const b1 = v128.shuffle<f32>(p2, p3, 2, 6, 3, 7)
    v128.store(blocks, add(r, mul(share, sub(v128.shuffle<f32>(rg0, rg1, 0, 1, 4, 5), r))))
    v128.store(blocks, add(g, mul(share, sub(v128.shuffle<f32>(rg0, rg1, 2, 3, 6, 7), g))), 16)
    v128.store(blocks, add(b, mul(share, sub(v128.shuffle<f32>(b0, b1, 0, 1, 4, 5), b))), 32)
    blocks += 64
  }
}
