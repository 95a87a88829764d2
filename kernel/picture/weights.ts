import { encoded } from './pixels'
import {
  add,
  all,
  choose,
  clamp01,
  div,
  divisor,
  load16,
  load8,
  luminosity,
  mul,
  sub,
  toInt,
} from './vectors'

/** What a layer's pixels count for: an f32 a pixel, 0…1. Counts are of pixels, multiples of 4. */

/** The same everywhere. */
export function weighAll(weights: usize, count: i32, weight: f32): void {
  const end = weights + ((<usize>count) << 2)
  while (weights < end) {
    v128.store(weights, all(weight))
    weights += 16
  }
}

/** A mask's bytes, 255 for 1, times what the weights are. */
export function weighByMask(weights: usize, mask: usize, count: i32): void {
  const end = weights + ((<usize>count) << 2)
  const unit = all(<f32>(1.0 / 255.0))
  while (weights < end) {
    v128.store(weights, mul(v128.load(weights), mul(load8(mask), unit)))
    weights += 16
    mask += 4
  }
}

/** Weights to a mask's bytes. */
export function toMask(weights: usize, mask: usize, count: i32): void {
  const end = weights + ((<usize>count) << 2)
  while (weights < end) {
    const q = i16x8.narrow_i32x4_s(toInt(mul(clamp01(v128.load(weights)), all(255))), i32x4.splat(0))
    v128.store32_lane(mask, i8x16.narrow_i16x8_u(q, q), 0)
    weights += 16
    mask += 4
  }
}

/** The alpha of a kept layer, blocks of unorm16, times an opacity, times what the weights are. */
export function weighByKeptAlpha(weights: usize, layer: usize, count: i32, opacity: f32): void {
  const end = weights + ((<usize>count) << 2)
  const scale = all(opacity * <f32>(1.0 / 65535.0))
  while (weights < end) {
    v128.store(weights, mul(v128.load(weights), mul(load16(layer, 24), scale)))
    weights += 16
    layer += 32
  }
}

/** The alpha of blocks of f32 times an opacity, times what the weights are. */
export function weighByAlpha(weights: usize, blocks: usize, count: i32, opacity: f32): void {
  const end = weights + ((<usize>count) << 2)
  while (weights < end) {
    v128.store(weights, mul(v128.load(weights), mul(v128.load(blocks, 48), all(opacity))))
    weights += 16
    blocks += 64
  }
}

/** @inline See weighByTone. */
function toneWeights(
  isLinear: bool,
  isPremultiplied: bool,
  weights: usize,
  blocks: usize,
  count: i32,
  black0: f32,
  black1: f32,
  white0: f32,
  white1: f32,
): void {
  const end = weights + ((<usize>count) << 2)
  const rise = all(<f32>1.0 / max<f32>(black1 - black0, 1e-30))
  const fall = all(<f32>1.0 / max<f32>(white1 - white0, 1e-30))
  while (weights < end) {
    let r = v128.load(blocks)
    let g = v128.load(blocks, 16)
    let b = v128.load(blocks, 32)
    if (isPremultiplied) {
      const a = v128.load(blocks, 48)
      const k = v128.and(div(all(1), divisor(a)), f32x4.gt(a, all(0)))
      r = mul(r, k)
      g = mul(g, k)
      b = mul(b, k)
    }
    if (isLinear) {
      r = encoded(r)
      g = encoded(g)
      b = encoded(b)
    }
    const tone = luminosity(r, g, b)
    const up = choose(
      all(1),
      clamp01(mul(sub(tone, all(black0)), rise)),
      // What lies beside 1 by no more than the sum's own rounding is 1.
      f32x4.ge(add(tone, all(1e-6)), all(black1)),
    )
    const down = choose(
      all(1),
      clamp01(mul(sub(all(white1), tone), fall)),
      f32x4.le(sub(tone, all(1e-6)), all(white0)),
    )
    v128.store(weights, mul(v128.load(weights), mul(up, down)))
    weights += 16
    blocks += 64
  }
}

/**
 * A tone gate: W3C luminosity of display values, nothing up to black0, all from black1 to white0, nothing from white1 on,
 * straight ramps between; times what the weights are. What is wholly clear counts as black.
 * @param blocks f32. @param isLinear whether they are linear light. @param isPremultiplied whether colours are times alpha.
 */
export function weighByTone(
  weights: usize,
  blocks: usize,
  count: i32,
  isLinear: i32,
  isPremultiplied: i32,
  black0: f32,
  black1: f32,
  white0: f32,
  white1: f32,
): void {
  if (isLinear != 0) {
    if (isPremultiplied != 0) toneWeights(true, true, weights, blocks, count, black0, black1, white0, white1)
    else toneWeights(true, false, weights, blocks, count, black0, black1, white0, white1)
  } else if (isPremultiplied != 0)
    toneWeights(false, true, weights, blocks, count, black0, black1, white0, white1)
  else toneWeights(false, false, weights, blocks, count, black0, black1, white0, white1)
}

/** Premultiplied blocks of f32 taken back towards what was there before: before + weight · opacity · (now − before). */
export function mixBack(blocks: usize, before: usize, weights: usize, count: i32, opacity: f32): void {
  const end = weights + ((<usize>count) << 2)
  while (weights < end) {
    const k = mul(v128.load(weights), all(opacity))
    for (let c: usize = 0; c < 64; c += 16) {
      const was = v128.load(before + c)
      v128.store(blocks + c, add(was, mul(k, sub(v128.load(blocks + c), was))))
    }
    weights += 16
    blocks += 64
    before += 64
  }
}

/** A mask's bytes as blocks of f32, all four channels alike: what a mask is blurred as. */
export function maskToBlocks(mask: usize, blocks: usize, count: i32): void {
  const end = blocks + ((<usize>count) << 4)
  const unit = all(<f32>(1.0 / 255.0))
  while (blocks < end) {
    const v = mul(load8(mask), unit)
    v128.store(blocks, v)
    v128.store(blocks, v, 16)
    v128.store(blocks, v, 32)
    v128.store(blocks, v, 48)
    mask += 4
    blocks += 64
  }
}
