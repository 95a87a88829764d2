import { add, all, atLeast, atMost, choose, clamp01, div, divisor, load16, mul, sub, toInt } from './vectors'

/**
 * Pixels from one form to another. Blocks are four pixels: r4 g4 b4 a4, in f32 (64 bytes) or unorm16 (32 bytes); rows of
 * pixels are r g b a each. Counts are of pixels and multiples of 4. What is no number becomes 0, what lies outside 0…1 is cut
 * where the form asks for it.
 */

/** @inline Rows of f32 as blocks, four pixels: written to `to`, 64 bytes. */
function transpose(from: usize, to: usize): void {
  const p0 = v128.load(from)
  const p1 = v128.load(from, 16)
  const p2 = v128.load(from, 32)
  const p3 = v128.load(from, 48)
  const rg0 = v128.shuffle<f32>(p0, p1, 0, 4, 1, 5)
  const rg1 = v128.shuffle<f32>(p2, p3, 0, 4, 1, 5)
  const ba0 = v128.shuffle<f32>(p0, p1, 2, 6, 3, 7)
  const ba1 = v128.shuffle<f32>(p2, p3, 2, 6, 3, 7)
  v128.store(to, v128.shuffle<f32>(rg0, rg1, 0, 1, 4, 5))
  v128.store(to, v128.shuffle<f32>(rg0, rg1, 2, 3, 6, 7), 16)
  v128.store(to, v128.shuffle<f32>(ba0, ba1, 0, 1, 4, 5), 32)
  v128.store(to, v128.shuffle<f32>(ba0, ba1, 2, 3, 6, 7), 48)
}

/** Rows of f32 to blocks of f32. The two must not overlap. */
export function rowsToBlocks(rows: usize, blocks: usize, count: i32): void {
  const end = rows + ((<usize>count) << 4)
  while (rows < end) {
    transpose(rows, blocks)
    rows += 64
    blocks += 64
  }
}

/** Blocks of f32 to rows of f32: a transposition is its own inverse. */
export function blocksToRows(blocks: usize, rows: usize, count: i32): void {
  rowsToBlocks(blocks, rows, count)
}

/** Straight blocks of f32 to blocks of unorm16; may be the same place. */
export function keep(pixels: usize, kept: usize, count: i32): void {
  const end = pixels + ((<usize>count) << 4)
  const most = all(65535)
  while (pixels < end) {
    const r = toInt(mul(clamp01(v128.load(pixels)), most))
    const g = toInt(mul(clamp01(v128.load(pixels, 16)), most))
    const b = toInt(mul(clamp01(v128.load(pixels, 32)), most))
    const a = toInt(mul(clamp01(v128.load(pixels, 48)), most))
    v128.store(kept, i16x8.narrow_i32x4_u(r, g))
    v128.store(kept, i16x8.narrow_i32x4_u(b, a), 16)
    pixels += 64
    kept += 32
  }
}

/** Blocks of unorm16 to straight blocks of f32. */
export function open(kept: usize, pixels: usize, count: i32): void {
  const end = pixels + ((<usize>count) << 4)
  const unit = all(<f32>(1.0 / 65535.0))
  while (pixels < end) {
    v128.store(pixels, mul(load16(kept), unit))
    v128.store(pixels, mul(load16(kept, 8), unit), 16)
    v128.store(pixels, mul(load16(kept, 16), unit), 32)
    v128.store(pixels, mul(load16(kept, 24), unit), 48)
    pixels += 64
    kept += 32
  }
}

/** Premultiplied blocks of f32 to straight ones; colours of what is wholly clear become 0. May be the same place. */
export function straighten(from: usize, to: usize, count: i32): void {
  const end = from + ((<usize>count) << 4)
  while (from < end) {
    const a = v128.load(from, 48)
    const k = v128.and(div(all(1), divisor(a)), f32x4.gt(a, all(0)))
    v128.store(to, mul(v128.load(from), k))
    v128.store(to, mul(v128.load(from, 16), k), 16)
    v128.store(to, mul(v128.load(from, 32), k), 32)
    v128.store(to, a, 48)
    from += 64
    to += 64
  }
}

/** Straight blocks of f32 to premultiplied ones. May be the same place. */
export function premultiply(from: usize, to: usize, count: i32): void {
  const end = from + ((<usize>count) << 4)
  while (from < end) {
    const a = v128.load(from, 48)
    v128.store(to, mul(v128.load(from), a))
    v128.store(to, mul(v128.load(from, 16), a), 16)
    v128.store(to, mul(v128.load(from, 32), a), 32)
    v128.store(to, a, 48)
    from += 64
    to += 64
  }
}

/** Cuts colours to 0…1, in place; what is no number becomes 0. */
export function clampColours(blocks: usize, count: i32): void {
  const end = blocks + ((<usize>count) << 4)
  while (blocks < end) {
    v128.store(blocks, clamp01(v128.load(blocks)))
    v128.store(blocks, clamp01(v128.load(blocks, 16)), 16)
    v128.store(blocks, clamp01(v128.load(blocks, 32)), 32)
    blocks += 64
  }
}

/** Makes blocks of f32 wholly opaque, in place. */
export function makeOpaque(blocks: usize, count: i32): void {
  const end = blocks + ((<usize>count) << 4)
  while (blocks < end) {
    v128.store(blocks, all(1), 48)
    blocks += 64
  }
}

/** Copies blocks of f32. */
export function copy(from: usize, to: usize, count: i32): void {
  memory.copy(to, from, (<usize>count) << 4)
}

/** The same premultiplied colour everywhere. */
export function fill(blocks: usize, count: i32, r: f32, g: f32, b: f32, a: f32): void {
  const end = blocks + ((<usize>count) << 4)
  while (blocks < end) {
    v128.store(blocks, all(r))
    v128.store(blocks, all(g), 16)
    v128.store(blocks, all(b), 32)
    v128.store(blocks, all(a), 48)
    blocks += 64
  }
}

/** @inline A first guess of a root from a number's bits, then Newton's steps; x > 0. */
export function cubeRoot(x: v128): v128 {
  const guess = f32x4.convert_i32x4_s(x)
  let y = i32x4.trunc_sat_f32x4_s(add(mul(guess, all(0.3333333333)), all(709921077)))
  // Halley: three times as many right digits each.
  for (let i = 0; i < 2; i++) {
    const y3 = mul(mul(y, y), y)
    y = mul(y, div(add(y3, add(x, x)), add(add(y3, y3), x)))
  }
  return y
}

/** @inline Fifth root, x > 0: Newton from the bits. */
function fifthRoot(x: v128): v128 {
  const guess = f32x4.convert_i32x4_s(x)
  let y = i32x4.trunc_sat_f32x4_s(add(mul(guess, all(0.2)), all(852_282_000)))
  for (let i = 0; i < 3; i++) {
    const y2 = mul(y, y)
    const y4 = mul(y2, y2)
    y = mul(all(0.2), add(mul(all(4), y), div(x, y4)))
  }
  return y
}

/** @inline Linear light to the sRGB curve, IEC 61966-2-1: x^(1/2.4) as the root of the root's product with a cube root. */
export function encoded(linear: v128): v128 {
  const x = clamp01(linear)
  const held = atLeast(all(1e-9), x)
  const power = f32x4.sqrt(mul(f32x4.sqrt(held), cubeRoot(held)))
  return choose(mul(all(12.92), x), sub(mul(all(1.055), power), all(0.055)), f32x4.le(x, all(0.0031308)))
}

/** @inline The sRGB curve to linear light: y^2.4 as y² times the fifth root's square. */
export function decoded(display: v128): v128 {
  const x = clamp01(display)
  const y = mul(add(x, all(0.055)), all(<f32>(1.0 / 1.055)))
  const root = fifthRoot(y)
  const power = mul(mul(y, y), mul(root, root))
  return choose(mul(x, all(<f32>(1.0 / 12.92))), power, f32x4.le(x, all(0.04045)))
}

/** Straight blocks of f32 from linear light to display values, in place. */
export function encode(blocks: usize, count: i32): void {
  const end = blocks + ((<usize>count) << 4)
  while (blocks < end) {
    v128.store(blocks, encoded(v128.load(blocks)))
    v128.store(blocks, encoded(v128.load(blocks, 16)), 16)
    v128.store(blocks, encoded(v128.load(blocks, 32)), 32)
    blocks += 64
  }
}

/** Straight blocks of f32 from display values to linear light, in place. */
export function decode(blocks: usize, count: i32): void {
  const end = blocks + ((<usize>count) << 4)
  while (blocks < end) {
    v128.store(blocks, decoded(v128.load(blocks)))
    v128.store(blocks, decoded(v128.load(blocks, 16)), 16)
    v128.store(blocks, decoded(v128.load(blocks, 32)), 32)
    blocks += 64
  }
}

/** @inline 255 or 65535 over an alpha, for colours that are to be divided by it. */
function unpremultiplier(a: v128, most: f32): v128 {
  return div(all(most), divisor(a))
}

/** Premultiplied blocks of f32 to rows of straight bytes, 4 a pixel. */
export function toBytes(blocks: usize, rows: usize, count: i32): void {
  const end = blocks + ((<usize>count) << 4)
  const most = all(255)
  while (blocks < end) {
    const a = atMost(all(1), v128.load(blocks, 48))
    const k = unpremultiplier(a, 255)
    // Narrowing cuts what lies outside.
    const r = toInt(atMost(most, mul(v128.load(blocks), k)))
    const g = toInt(atMost(most, mul(v128.load(blocks, 16), k)))
    const b = toInt(atMost(most, mul(v128.load(blocks, 32), k)))
    const rg = i16x8.narrow_i32x4_s(r, g)
    const ba = i16x8.narrow_i32x4_s(b, toInt(mul(a, most)))
    const q = i8x16.narrow_i16x8_u(rg, ba)
    v128.store(rows, v128.shuffle<u8>(q, q, 0, 4, 8, 12, 1, 5, 9, 13, 2, 6, 10, 14, 3, 7, 11, 15))
    blocks += 64
    rows += 16
  }
}

/** Premultiplied blocks of f32 to rows of straight unorm16 in the order of bytes that files have: the higher first. */
export function toWords(blocks: usize, rows: usize, count: i32): void {
  const end = blocks + ((<usize>count) << 4)
  const most = all(65535)
  while (blocks < end) {
    const a = atMost(all(1), v128.load(blocks, 48))
    const k = unpremultiplier(a, 65535)
    const r = toInt(atMost(most, mul(v128.load(blocks), k)))
    const g = toInt(atMost(most, mul(v128.load(blocks, 16), k)))
    const b = toInt(atMost(most, mul(v128.load(blocks, 32), k)))
    const rg = i16x8.narrow_i32x4_u(r, g)
    const ba = i16x8.narrow_i32x4_u(b, toInt(mul(a, most)))
    v128.store(rows, v128.shuffle<u8>(rg, ba, 1, 0, 9, 8, 17, 16, 25, 24, 3, 2, 11, 10, 19, 18, 27, 26))
    v128.store(rows, v128.shuffle<u8>(rg, ba, 5, 4, 13, 12, 21, 20, 29, 28, 7, 6, 15, 14, 23, 22, 31, 30), 16)
    blocks += 64
    rows += 32
  }
}

/** What {@link keptFlags} and `maskFlags` tell: nothing is to be seen; nothing shows through. */
const EMPTY: i32 = 1
const FULL: i32 = 2

/** Whether a kept layer's pixels are all clear (1) or all opaque (2). */
export function keptFlags(kept: usize, count: i32): i32 {
  const end = kept + ((<usize>count) << 3)
  const first = load<u64>(kept, 24)
  if (first != 0 && first != 0xffffffffffffffff) return 0
  for (let at = kept; at < end; at += 32) if (load<u64>(at, 24) != first) return 0
  return first == 0 ? EMPTY : FULL
}

/**
 * A kept tile of 128 × 128 pixels at half its size, as one quarter of another: means of 2 × 2, colours as far as they are there.
 * @param to the tile. @param x, y which quarter, 0 or 1 each.
 */
export function halve(from: usize, to: usize, x: i32, y: i32): void {
  const sum = all(<f32>0.25)
  const most = all(65535)
  for (let row = 0; row < 64; row++) {
    // 32 blocks of 32 bytes to a row.
    let upper = from + ((<usize>row) << 11)
    let out = to + ((<usize>(64 * y + row)) << 10) + ((<usize>x) << 9)
    for (let block = 0; block < 16; block++) {
      const lower = upper + 1024
      const a0 = load16(upper, 24)
      const a1 = load16(upper, 56)
      const a2 = load16(lower, 24)
      const a3 = load16(lower, 56)
      const a = pairs(add(a0, a2), add(a1, a3))
      const k = v128.and(div(all(1), divisor(a)), f32x4.gt(a, all(0)))
      const r = mul(meansOf(upper, 0, a0, a1, a2, a3), k)
      const g = mul(meansOf(upper, 8, a0, a1, a2, a3), k)
      const b = mul(meansOf(upper, 16, a0, a1, a2, a3), k)
      v128.store(out, i16x8.narrow_i32x4_u(toInt(atMost(most, r)), toInt(atMost(most, g))))
      v128.store(out, i16x8.narrow_i32x4_u(toInt(atMost(most, b)), toInt(mul(a, sum))), 16)
      upper += 64
      out += 32
    }
  }
}

/** @inline Sums of neighbours of eight numbers. */
function pairs(left: v128, right: v128): v128 {
  return add(v128.shuffle<f32>(left, right, 0, 2, 4, 6), v128.shuffle<f32>(left, right, 1, 3, 5, 7))
}

/** @inline Sums of a channel over 2 × 2 pixels, weighed by their alpha. */
function meansOf(upper: usize, channel: usize, a0: v128, a1: v128, a2: v128, a3: v128): v128 {
  const left = add(mul(load16(upper + channel), a0), mul(load16(upper + 1024 + channel), a2))
  const right = add(mul(load16(upper + 32 + channel), a1), mul(load16(upper + 1056 + channel), a3))
  return pairs(left, right)
}

/** Whether a mask's bytes are all 0 (1) or all 255 (2). */
export function maskFlags(mask: usize, count: i32): i32 {
  const end = mask + <usize>count
  const first = load<u64>(mask)
  if (first != 0 && first != 0xffffffffffffffff) return 0
  for (let at = mask; at < end; at += 8) if (load<u64>(at) != first) return 0
  return first == 0 ? EMPTY : FULL
}

/**
 * @inline Four display values through a table. Its places cross to ordinary registers and its entries back as one number of 64
 * bits each: a lane at a time takes four times as long.
 */
function fromTable(values: v128, table: usize): v128 {
  const places = toInt(mul(clamp01(values), all(65535)))
  const packed = i64x2.extract_lane(i16x8.narrow_i32x4_u(places, places), 0)
  const a = <u64>load<u16>(table + <usize>(((<u32>packed) & 0xffff) << 1))
  const b = <u64>load<u16>(table + <usize>((((<u32>packed) >> 16) & 0xffff) << 1))
  const high = <u32>((<u64>packed) >> 32)
  const c = <u64>load<u16>(table + <usize>((high & 0xffff) << 1))
  const d = <u64>load<u16>(table + <usize>((high >> 16) << 1))
  const entries = i64x2.splat(<i64>(a | (b << 16) | (c << 32) | (d << 48)))
  return mul(f32x4.convert_i32x4_s(i32x4.extend_low_i16x8_u(entries)), all(<f32>(1.0 / 65535.0)))
}

/**
 * Red, green and blue through a table each, straight blocks of f32 in place.
 * @param red 65,536 u16: what 0…1 becomes, in steps of 1 / 65535; green and blue likewise, perhaps the same.
 */
export function throughTables(blocks: usize, count: i32, red: usize, green: usize, blue: usize): void {
  const end = blocks + ((<usize>count) << 4)
  while (blocks < end) {
    v128.store(blocks, fromTable(v128.load(blocks), red))
    v128.store(blocks, fromTable(v128.load(blocks, 16), green), 16)
    v128.store(blocks, fromTable(v128.load(blocks, 32), blue), 32)
    blocks += 64
  }
}
