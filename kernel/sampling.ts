import { DESK_FIRST, DESK_SECOND } from './layout'

/**
 * The Sobol (0,2)-sequence with hash-based Owen scrambling, four numbers at a time; src/core/math/sampling.ts is the same
 * in double precision, and a test holds the two together.
 */

/** Mixes 32 bits (src/core/math/sampling.ts, hash32). */
export function hash32(value: u32): u32 {
  let x = value
  x = (x ^ (x >> 16)) * 0x21f0aaad
  x = (x ^ (x >> 15)) * 0x735a2d97
  return x ^ (x >> 15)
}

/** Reverses the bits of each lane: the bytes by shuffling, the bits within them by two tables of half a byte. */
function reverseBits(x: v128): v128 {
  const bytes = i8x16.shuffle(x, x, 3, 2, 1, 0, 7, 6, 5, 4, 11, 10, 9, 8, 15, 14, 13, 12)
  const low = i8x16(0, 8, 4, 12, 2, 10, 6, 14, 1, 9, 5, 13, 3, 11, 7, 15)
  const nibble = i8x16.splat(15)
  const upper = i8x16.shl(i8x16.swizzle(low, v128.and(bytes, nibble)), 4)
  return v128.or(upper, i8x16.swizzle(low, i8x16.shr_u(bytes, 4)))
}

/** An Owen scramble of numbers whose bits are reversed (Burley 2020). */
function scramble(reversed: v128, seed: u32): v128 {
  let x = v128.xor(reversed, i32x4.mul(reversed, i32x4.splat(0x3d20adea)))
  x = i32x4.add(x, i32x4.splat(seed))
  x = i32x4.mul(x, i32x4.splat((seed >> 16) | 1))
  x = v128.xor(x, i32x4.mul(x, i32x4.splat(0x05526c56)))
  return v128.xor(x, i32x4.mul(x, i32x4.splat(0x53a22864)))
}

/** The second dimension of indices with reversed bits: Pascal's triangle modulo 2. */
function sobolSecond(reversed: v128): v128 {
  let x = reversed
  x = v128.xor(x, v128.and(i32x4.shr_u(x, 1), i32x4.splat(0x55555555)))
  x = v128.xor(x, v128.and(i32x4.shr_u(x, 2), i32x4.splat(0x33333333)))
  x = v128.xor(x, v128.and(i32x4.shr_u(x, 4), i32x4.splat(0x0f0f0f0f)))
  x = v128.xor(x, v128.and(i32x4.shr_u(x, 8), i32x4.splat(0x00ff00ff)))
  return v128.xor(x, i32x4.shr_u(x, 16))
}

function toUnit(bits: v128): v128 {
  return f32x4.mul(f32x4.convert_i32x4_u(i32x4.shr_u(bits, 8)), f32x4.splat(<f32>(1.0 / 16777216.0)))
}

/** Numbers drawn at least: neighbouring pixels, and the samples of one, take neighbouring runs of one sequence. */
const DRAW_LEAST: u32 = 16

/** The run that lies in a thread's room: numbers, whether they are on the disc, and how many bytes into it one begins. */
let drawnSeed: u32 = 0
let drawnStart: u32 = 0
let drawnCount: u32 = 0
let drawnOnDisc: bool = false

/**
 * Draws `count` numbers, at most DRAW_MOST, beginning with number `start` of the sequence owned by `seed`: pairs in
 * [0, 1), or places on the unit disc. What the last call has drawn is not drawn again.
 * @returns how many bytes into DESK_FIRST and DESK_SECOND they begin.
 */
export function draw(start: u32, count: u32, seed: u32, onDisc: bool, desk: usize): usize {
  const skipped = start - drawnStart
  if (seed == drawnSeed && onDisc == drawnOnDisc && skipped < drawnCount && count <= drawnCount - skipped)
    return (<usize>skipped) << 2
  drawnSeed = seed
  drawnStart = start
  drawnCount = max(count, DRAW_LEAST)
  drawnOnDisc = onDisc
  const firsts: usize = load<u32>(desk, DESK_FIRST)
  const seconds: usize = load<u32>(desk, DESK_SECOND)
  drawPairs(start, drawnCount, seed, firsts, seconds)
  if (onDisc) toDiscs(drawnCount, firsts, seconds)
  return 0
}

/**
 * Numbers `start` … of the sequence owned by `seed`, in [0, 1).
 * @param firsts, seconds room for `count` f32 each, rounded up to four.
 */
function drawPairs(start: u32, count: u32, seed: u32, firsts: usize, seconds: usize): void {
  const seedX = hash32(seed ^ 0x68bc21eb)
  const seedY = hash32(seed ^ 0x02e5be93)
  let index = i32x4.add(i32x4.splat(start), i32x4(0, 1, 2, 3))
  const four = i32x4.splat(4)
  for (let at: usize = 0; at < (<usize>count) << 2; at += 16) {
    const shuffled = reverseBits(scramble(reverseBits(index), seed))
    v128.store(firsts + at, toUnit(reverseBits(scramble(shuffled, seedX))))
    v128.store(seconds + at, toUnit(reverseBits(scramble(sobolSecond(shuffled), seedY))))
    index = i32x4.add(index, four)
  }
}

/** Maps pairs in place to the unit disc, area-preserving (Shirley & Chiu 1997). */
function toDiscs(count: u32, firsts: usize, seconds: usize): void {
  const one = f32x4.splat(1)
  const zero = f32x4.splat(0)
  for (let at: usize = 0; at < (<usize>count) << 2; at += 16) {
    const u = v128.load(firsts + at)
    const v = v128.load(seconds + at)
    const a = f32x4.sub(f32x4.add(u, u), one)
    const b = f32x4.sub(f32x4.add(v, v), one)
    const wide = f32x4.gt(f32x4.abs(a), f32x4.abs(b))
    const radius = v128.bitselect(a, b, wide)
    const other = v128.bitselect(b, a, wide)
    const isMiddle = f32x4.eq(radius, zero)
    // The angle lies within an eighth of a turn, where these end within the rounding of 32 bits.
    const angle = f32x4.mul(
      f32x4.splat(<f32>0.78539816339),
      f32x4.div(other, v128.bitselect(one, radius, isMiddle)),
    )
    const s = f32x4.mul(angle, angle)
    let sine = f32x4.add(f32x4.mul(s, f32x4.splat(<f32>2.7557319e-6)), f32x4.splat(<f32>-1.984127e-4))
    sine = f32x4.add(f32x4.mul(s, sine), f32x4.splat(<f32>8.3333333e-3))
    sine = f32x4.add(f32x4.mul(s, sine), f32x4.splat(<f32>-0.16666667))
    sine = f32x4.mul(angle, f32x4.add(f32x4.mul(s, sine), one))
    let cosine = f32x4.add(f32x4.mul(s, f32x4.splat(<f32>2.4801587e-5)), f32x4.splat(<f32>-1.3888889e-3))
    cosine = f32x4.add(f32x4.mul(s, cosine), f32x4.splat(<f32>4.1666667e-2))
    cosine = f32x4.add(f32x4.mul(s, cosine), f32x4.splat(<f32>-0.5))
    cosine = f32x4.add(f32x4.mul(s, cosine), one)
    v128.store(firsts + at, f32x4.mul(radius, v128.bitselect(cosine, sine, wide)))
    v128.store(seconds + at, f32x4.mul(radius, v128.bitselect(sine, cosine, wide)))
  }
}
