import { add, all, atLeast, atMost, choose, clamp01, div, luminosity, mul, sub } from './vectors'

/**
 * What effects of each pixel do, four pixels at once: straight blocks of f32 in place, and planes of an f32 a pixel. Planes
 * that come from a shot hold no number where nothing is: such places are left as they are.
 */

/** @inline 0 up to `from`, 1 from `to` on, smooth between (Hermite); 0 for what is no number. @param k 1 / (to − from). */
function smoothStep(x: v128, from: f32, k: f32): v128 {
  const t = clamp01(mul(sub(x, all(from)), all(k)))
  return mul(mul(t, t), sub(all(3), add(t, t)))
}

/** @inline One over the width of a range, never of nothing. */
function overWidth(from: f32, to: f32): f32 {
  return <f32>1 / max<f32>(1e-9, to - from)
}

/** @inline Brightness of a block. */
function toneOf(block: usize): v128 {
  return luminosity(v128.load(block), v128.load(block, 16), v128.load(block, 32))
}

/** Colours towards one, by weights. */
export function mixTowards(blocks: usize, weights: usize, count: i32, r: f32, g: f32, b: f32): void {
  const end = blocks + ((<usize>count) << 4)
  for (; blocks < end; blocks += 64, weights += 16) {
    const w = v128.load(weights)
    mixChannel(blocks, w, r)
    mixChannel(blocks + 16, w, g)
    mixChannel(blocks + 32, w, b)
  }
}
/** @inline */
function mixChannel(at: usize, w: v128, value: f32): void {
  const c = v128.load(at)
  v128.store(at, add(c, mul(w, sub(all(value), c))))
}

/** A colour's light over others, by weights: screened. */
export function screenTowards(blocks: usize, weights: usize, count: i32, r: f32, g: f32, b: f32): void {
  const end = blocks + ((<usize>count) << 4)
  for (; blocks < end; blocks += 64, weights += 16) {
    const w = v128.load(weights)
    screenChannel(blocks, mul(w, all(r)))
    screenChannel(blocks + 16, mul(w, all(g)))
    screenChannel(blocks + 32, mul(w, all(b)))
  }
}
/** @inline */
function screenChannel(at: usize, light: v128): void {
  const c = v128.load(at)
  v128.store(at, add(c, mul(atMost(all(1), light), sub(all(1), c))))
}

/** Takes a colour out again that was mixed in, by weights 0…1; no more than nine tenths of it. */
export function mixAway(blocks: usize, weights: usize, count: i32, r: f32, g: f32, b: f32): void {
  const end = blocks + ((<usize>count) << 4)
  for (; blocks < end; blocks += 64, weights += 16) {
    const k = div(all(1), atLeast(all(0.1), sub(all(1), v128.load(weights))))
    awayChannel(blocks, k, r)
    awayChannel(blocks + 16, k, g)
    awayChannel(blocks + 32, k, b)
  }
}
/** @inline */
function awayChannel(at: usize, k: v128, value: f32): void {
  const own = all(value)
  v128.store(at, add(own, mul(sub(v128.load(at), own), k)))
}

/** The light of another picture over this one, each channel times a factor: screened. */
export function screenOver(blocks: usize, other: usize, count: i32, r: f32, g: f32, b: f32): void {
  const end = blocks + ((<usize>count) << 4)
  for (; blocks < end; blocks += 64, other += 64) {
    const a = v128.load(other, 48)
    screenChannel(blocks, mul(mul(v128.load(other), all(r)), a))
    screenChannel(blocks + 16, mul(mul(v128.load(other, 16), all(g)), a))
    screenChannel(blocks + 32, mul(mul(v128.load(other, 32), all(b)), a))
  }
}

/** Weights from the middle of an ellipse outwards. @param side pixels a row. @param x0, y0, step as `noiseSquare`'s. */
export function weighByEllipse(
  weights: usize,
  side: i32,
  x0: f32,
  y0: f32,
  step: f32,
  cx: f32,
  cy: f32,
  rx: f32,
  ry: f32,
  from: f32,
  to: f32,
  amount: f32,
): void {
  const k = overWidth(from, to)
  const lanes = mul(f32x4(0, 1, 2, 3), all(step / rx))
  for (let y = 0; y < side; y++) {
    const dy = (y0 + <f32>y * step - cy) / ry
    const dy2 = all(dy * dy)
    for (let x = 0; x < side; x += 4, weights += 16) {
      const dx = add(all((x0 + <f32>x * step - cx) / rx), lanes)
      const far = f32x4.sqrt(add(mul(dx, dx), dy2))
      v128.store(weights, mul(all(amount), smoothStep(far, from, k)))
    }
  }
}

/** Weights by a range of a plane. */
export function weighByRange(
  weights: usize,
  plane: usize,
  count: i32,
  from: f32,
  to: f32,
  amount: f32,
): void {
  const end = weights + ((<usize>count) << 2)
  const k = overWidth(from, to)
  for (; weights < end; weights += 16, plane += 16)
    v128.store(weights, mul(all(amount), smoothStep(v128.load(plane), from, k)))
}

/** Weights by how dark a pixel is: all of it in black, none from `upTo` on. */
export function weighByDarks(weights: usize, blocks: usize, count: i32, upTo: f32, amount: f32): void {
  const end = weights + ((<usize>count) << 2)
  const k = overWidth(0, upTo)
  for (; weights < end; weights += 16, blocks += 64)
    v128.store(weights, mul(all(amount), sub(all(1), smoothStep(toneOf(blocks), 0, k))))
}

/** Weights by how far a surface turns away: (1 − facing)^narrow; none where nothing is. */
export function weighByTurn(weights: usize, facing: usize, count: i32, narrow: f32, amount: f32): void {
  const end = weights + ((<usize>count) << 2)
  for (; weights < end; weights += 16, facing += 16) {
    const f = v128.load(facing)
    const own = mul(all(amount), power(sub(all(1), clamp01(f)), narrow))
    v128.store(weights, v128.and(own, f32x4.eq(f, f)))
  }
}

/** Weights times a plane, where it holds a number. */
export function weighByNumbers(weights: usize, plane: usize, count: i32): void {
  const end = weights + ((<usize>count) << 2)
  for (; weights < end; weights += 16, plane += 16) {
    const p = v128.load(plane)
    v128.store(weights, mul(v128.load(weights), choose(p, all(1), f32x4.eq(p, p))))
  }
}

/** Weights times how much a surface faces a side of the sheet, where there is one. @param cos, sin of the side's angle. */
export function weighBySide(weights: usize, nx: usize, ny: usize, count: i32, cos: f32, sin: f32): void {
  const end = weights + ((<usize>count) << 2)
  for (; weights < end; weights += 16, nx += 16, ny += 16) {
    const x = v128.load(nx)
    const side = atLeast(all(0), sub(mul(x, all(cos)), mul(v128.load(ny), all(sin))))
    v128.store(weights, mul(v128.load(weights), choose(side, all(1), f32x4.eq(x, x))))
  }
}

/** Weights of paper that shows through ink: by its tooth, most where there is much ink. */
export function weighByTooth(
  weights: usize,
  blocks: usize,
  tooth: usize,
  one: usize,
  other: usize,
  count: i32,
  amount: f32,
): void {
  const end = weights + ((<usize>count) << 2)
  for (; weights < end; weights += 16, blocks += 64, tooth += 16, one += 16, other += 16) {
    const fibres = mul(all(0.25), add(v128.load(one), v128.load(other)))
    const rough = add(mul(all(0.5), v128.load(tooth)), fibres)
    const ink = add(all(0.1), mul(all(0.6), sub(all(1), toneOf(blocks))))
    const shown = clamp01(mul(all(3), sub(rough, all(0.36))))
    v128.store(weights, mul(mul(all(amount), ink), shown))
  }
}

/**
 * Hue and chroma of darks, middles and lights towards one each, in OKLab.
 * @param da, db, ma, mb, la, lb the two axes of each. @param dark, middle, light how much.
 */
export function tintRanges(
  blocks: usize,
  count: i32,
  da: f32,
  db: f32,
  dark: f32,
  ma: f32,
  mb: f32,
  middle: f32,
  la: f32,
  lb: f32,
  light: f32,
): void {
  const end = blocks + ((<usize>count) << 4)
  const kd = overWidth(0.2, 0.6)
  const kl = overWidth(0.6, 0.95)
  for (; blocks < end; blocks += 64) {
    const l = v128.load(blocks)
    const isDark = sub(all(1), smoothStep(l, 0.2, kd))
    const isLight = smoothStep(l, 0.6, kl)
    const d = mul(isDark, all(dark))
    const m = mul(sub(sub(all(1), isDark), isLight), all(middle))
    const h = mul(isLight, all(light))
    const stays = sub(sub(sub(all(1), d), m), h)
    const a = add(mul(d, all(da)), add(mul(m, all(ma)), mul(h, all(la))))
    const b = add(mul(d, all(db)), add(mul(m, all(mb)), mul(h, all(lb))))
    v128.store(blocks, add(mul(stays, v128.load(blocks, 16)), a), 16)
    v128.store(blocks, add(mul(stays, v128.load(blocks, 32)), b), 32)
  }
}

/** Chroma by the turn of a surface, and its hue along the axis from blue to yellow by what faces up, in OKLab. */
export function turnByNormal(
  blocks: usize,
  up: usize,
  towards: usize,
  count: i32,
  chroma: f32,
  warm: f32,
): void {
  const end = blocks + ((<usize>count) << 4)
  for (; blocks < end; blocks += 64, up += 16, towards += 16) {
    const y = v128.load(up)
    const z = v128.load(towards)
    const isThere = v128.and(f32x4.eq(y, y), v128.or(f32x4.ne(y, all(0)), f32x4.ne(z, all(0))))
    const k = add(all(1), mul(all(chroma), sub(all(1), atLeast(all(0), z))))
    const a = v128.load(blocks, 16)
    const b = v128.load(blocks, 32)
    v128.store(blocks, choose(mul(a, k), a, isThere), 16)
    v128.store(blocks, choose(sub(mul(b, k), mul(all(<f32>0.08 * warm), y)), b, isThere), 32)
  }
}

/** @inline Two sizes of noise about nothing. */
function grainOf(one: usize, two: usize): v128 {
  return sub(add(mul(all(0.65), v128.load(one)), mul(all(0.35), v128.load(two))), all(0.5))
}

/**
 * Grain, most in the middle tones.
 * @param noise, finer planes of grey grain. @param colour how much each channel has of its own, of its two planes.
 */
export function addGrain(
  blocks: usize,
  count: i32,
  amount: f32,
  noise: usize,
  finer: usize,
  colour: f32,
  r0: usize,
  r1: usize,
  g0: usize,
  g1: usize,
  b0: usize,
  b1: usize,
): void {
  const end = blocks + ((<usize>count) << 4)
  const grey = all(<f32>1 - colour)
  const own = all(colour)
  for (let at: usize = 0; blocks < end; blocks += 64, at += 16) {
    const tone = toneOf(blocks)
    const much = mul(all(amount * <f32>2.4), f32x4.sqrt(atLeast(all(0), mul(tone, sub(all(1), tone)))))
    const base = mul(grey, grainOf(noise + at, finer + at))
    grainChannel(blocks, much, colour > 0 ? add(base, mul(own, grainOf(r0 + at, r1 + at))) : base)
    grainChannel(blocks + 16, much, colour > 0 ? add(base, mul(own, grainOf(g0 + at, g1 + at))) : base)
    grainChannel(blocks + 32, much, colour > 0 ? add(base, mul(own, grainOf(b0 + at, b1 + at))) : base)
  }
}
/** @inline */
function grainChannel(at: usize, much: v128, value: v128): void {
  v128.store(at, add(v128.load(at), mul(much, value)))
}

/** Tones apart from those of another picture, most in the middle. */
export function standOut(blocks: usize, other: usize, count: i32, amount: f32): void {
  const end = blocks + ((<usize>count) << 4)
  for (; blocks < end; blocks += 64, other += 64) {
    const tone = toneOf(blocks)
    const much = mul(all(amount * 4), mul(tone, sub(all(1), tone)))
    const off = mul(much, sub(tone, toneOf(other)))
    v128.store(blocks, add(v128.load(blocks), off))
    v128.store(blocks, add(v128.load(blocks, 16), off), 16)
    v128.store(blocks, add(v128.load(blocks, 32), off), 32)
  }
}

/** Channels apart from those of another picture, the more the farther they are from `threshold` on. */
export function sharpen(blocks: usize, other: usize, count: i32, amount: f32, threshold: f32): void {
  const end = blocks + ((<usize>count) << 4)
  const from: f32 = threshold * 0.5
  const k = overWidth(from, threshold * 1.5)
  for (; blocks < end; blocks += 64, other += 64) {
    sharpChannel(blocks, other, amount, from, k)
    sharpChannel(blocks + 16, other + 16, amount, from, k)
    sharpChannel(blocks + 32, other + 32, amount, from, k)
  }
}
/** @inline */
function sharpChannel(at: usize, other: usize, amount: f32, from: f32, k: f32): void {
  const c = v128.load(at)
  const off = sub(c, v128.load(other))
  v128.store(at, add(c, mul(mul(all(amount), off), smoothStep(f32x4.abs(off), from, k))))
}

/** Alpha worn off in flakes, most at the edges of shapes. @param other the picture blurred. @param soft of a flake's edge. */
export function wearOff(blocks: usize, other: usize, noise: usize, count: i32, amount: f32, soft: f32): void {
  const end = blocks + ((<usize>count) << 4)
  const inner = overWidth(0.45, 1)
  const from: f32 = <f32>0.5 - soft
  const to: f32 = <f32>0.5 + soft
  const k = overWidth(from, to)
  for (; blocks < end; blocks += 64, other += 64, noise += 16) {
    const inside = smoothStep(v128.load(other, 48), 0.45, inner)
    const worn = mul(all(amount), add(all(0.12), mul(all(0.88), sub(all(1), inside))))
    const flaked = mul(
      atMost(all(1), mul(all(1.6), worn)),
      sub(all(1), smoothStep(v128.load(noise), from, k)),
    )
    v128.store(blocks, mul(v128.load(blocks, 48), sub(all(1), flaked)), 48)
  }
}

/**
 * @inline x^n for 0 ≤ x ≤ 1 and n > 0, by way of powers of two. The logarithm of the mantissa, between √½ and √2, as
 * 2/ln 2 · artanh((m − 1)/(m + 1)); the power of what lies behind the point by its series. Errs by less than 1e-5.
 */
function power(x: v128, n: f32): v128 {
  const held = atLeast(all(1e-30), x)
  const bits = i32x4.sub(held, i32x4.splat(0x3f3504f3))
  const exponent = i32x4.shr_s(bits, 23)
  const m = i32x4.sub(held, i32x4.shl(exponent, 23))
  const s = div(sub(m, all(1)), add(m, all(1)))
  const s2 = mul(s, s)
  const series = add(
    all(2.8853901),
    mul(s2, add(all(0.96179669), mul(s2, add(all(0.57707802), mul(s2, all(0.4121986)))))),
  )
  const log = add(f32x4.convert_i32x4_s(exponent), mul(s, series))
  const e = atLeast(all(-126), mul(log, all(n)))
  const whole = f32x4.nearest(e)
  const f = sub(e, whole)
  const p = add(
    all(1),
    mul(
      f,
      add(
        all(0.69314718),
        mul(
          f,
          add(
            all(0.24022651),
            mul(f, add(all(0.0555041), mul(f, add(all(0.00961813), mul(f, all(0.00133336)))))),
          ),
        ),
      ),
    ),
  )
  const scale = i32x4.shl(i32x4.add(i32x4.trunc_sat_f32x4_s(whole), i32x4.splat(127)), 23)
  return v128.and(mul(p, scale), f32x4.gt(x, all(1e-30)))
}
