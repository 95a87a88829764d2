import {
  change,
  COLOR,
  COLOR_BURN,
  COLOR_DODGE,
  DARKEN,
  DIFFERENCE,
  DIVIDE,
  EXCLUSION,
  HARD_LIGHT,
  HUE,
  LIGHTEN,
  LUMINOSITY,
  MULTIPLY,
  NORMAL,
  OVERLAY,
  PLUS_DARKER,
  PLUS_LIGHTER,
  SATURATION,
  SCREEN,
  SOFT_LIGHT,
  SUBTRACT,
} from './modes'
import {
  add,
  all,
  atMost,
  div,
  divisor,
  greatest,
  least,
  load16,
  load8,
  luminosity,
  mul,
  sub,
} from './vectors'

/** What a layer's pixels are: blocks of four, r4 g4 b4 a4, straight; unorm16, 32 bytes, or f32, 64 bytes. */
const UNORM16 = 0
const FLOAT32 = 1
/** What weighs a layer's pixels besides its opacity: nothing, a byte or an f32 each. */
const UNWEIGHED = 0
const BYTES = 1
const FLOATS = 2

/**
 * @inline Puts a layer over a backdrop, in place; Compositing and Blending Level 1, section 5.1, and for plus lighter Level 2.
 * One loop, specialised by its first four arguments, which are constants: a test of the mode within it costs 6 to 10 %.
 * @param within the layer stays within the backdrop's alpha, which it leaves as it is.
 * @param backdrop blocks of f32, premultiplied; @param count pixels, a multiple of 4.
 */
function over(
  mode: i32,
  pixels: i32,
  weighed: i32,
  within: bool,
  backdrop: usize,
  layer: usize,
  weights: usize,
  count: i32,
  opacity: f32,
): void {
  const end = backdrop + ((<usize>count) << 4)
  const scale = all(weighed == BYTES ? opacity * <f32>(1.0 / 255.0) : opacity)
  const unit = all(<f32>(1.0 / 65535.0))
  while (backdrop < end) {
    let r: v128, g: v128, b: v128, a: v128
    if (pixels == UNORM16) {
      r = mul(load16(layer), unit)
      g = mul(load16(layer, 8), unit)
      b = mul(load16(layer, 16), unit)
      a = mul(load16(layer, 24), unit)
      layer += 32
    } else {
      r = v128.load(layer)
      g = v128.load(layer, 16)
      b = v128.load(layer, 32)
      a = v128.load(layer, 48)
      layer += 64
    }
    let k = scale
    if (weighed == BYTES) {
      k = mul(load8(weights), scale)
      weights += 4
    } else if (weighed == FLOATS) {
      k = mul(v128.load(weights), scale)
      weights += 16
    }
    a = mul(a, k)
    const br = v128.load(backdrop)
    const bg = v128.load(backdrop, 16)
    const bb = v128.load(backdrop, 32)
    const ab = v128.load(backdrop, 48)
    const alone = within ? all(0) : sub(all(1), ab)
    let alpha = within ? ab : add(ab, mul(a, alone))
    if (mode == PLUS_LIGHTER) {
      const most = within ? ab : all(1)
      const share = within ? mul(a, ab) : a
      r = f32x4.pmin(add(br, mul(share, r)), most)
      g = f32x4.pmin(add(bg, mul(share, g)), most)
      b = f32x4.pmin(add(bb, mul(share, b)), most)
      if (!within) alpha = f32x4.pmin(add(ab, a), all(1))
    } else if (mode >= HUE && mode <= LUMINOSITY) {
      // SetLum and SetSat of section 10.2, with all colours scaled by αb, and so clipped at αb.
      const sr = mul(r, ab)
      const sg = mul(g, ab)
      const sb = mul(b, ab)
      let cr: v128, cg: v128, cb: v128, l: v128
      if (mode == HUE || mode == SATURATION) {
        const lowS = least(sr, sg, sb)
        const lowB = least(br, bg, bb)
        const satS = sub(greatest(sr, sg, sb), lowS)
        const satB = sub(greatest(br, bg, bb), lowB)
        if (mode == HUE) {
          const q = div(satB, divisor(satS))
          cr = mul(sub(sr, lowS), q)
          cg = mul(sub(sg, lowS), q)
          cb = mul(sub(sb, lowS), q)
        } else {
          const q = div(satS, divisor(satB))
          cr = mul(sub(br, lowB), q)
          cg = mul(sub(bg, lowB), q)
          cb = mul(sub(bb, lowB), q)
        }
        l = luminosity(br, bg, bb)
      } else if (mode == COLOR) {
        cr = sr
        cg = sg
        cb = sb
        l = luminosity(br, bg, bb)
      } else {
        cr = br
        cg = bg
        cb = bb
        l = luminosity(sr, sg, sb)
      }
      const d = luminosity(cr, cg, cb)
      cr = sub(cr, d)
      cg = sub(cg, d)
      cb = sub(cb, d)
      // ClipColor: as much of the colour as lies between 0 and αb with the luminosity kept.
      const down = div(l, divisor(f32x4.neg(least(cr, cg, cb))))
      const up = div(sub(ab, l), divisor(greatest(cr, cg, cb)))
      const kept = atMost(all(1), f32x4.pmin(down, up))
      cr = add(l, mul(cr, kept))
      cg = add(l, mul(cg, kept))
      cb = add(l, mul(cb, kept))
      r = add(br, mul(a, sub(add(mul(alone, r), cr), br)))
      g = add(bg, mul(a, sub(add(mul(alone, g), cg), bg)))
      b = add(bb, mul(a, sub(add(mul(alone, b), cb), bb)))
    } else {
      const rab = mode == SOFT_LIGHT ? div(all(1), divisor(ab)) : alone
      r = add(br, mul(a, change(mode, br, ab, alone, rab, r)))
      g = add(bg, mul(a, change(mode, bg, ab, alone, rab, g)))
      b = add(bb, mul(a, change(mode, bb, ab, alone, rab, b)))
    }
    v128.store(backdrop, r)
    v128.store(backdrop, g, 16)
    v128.store(backdrop, b, 32)
    v128.store(backdrop, alpha, 48)
    backdrop += 64
  }
}

/** @inline One of the loops, by number of the mode. */
function overIn(
  mode: i32,
  pixels: i32,
  weighed: i32,
  within: bool,
  backdrop: usize,
  layer: usize,
  weights: usize,
  count: i32,
  opacity: f32,
): void {
  switch (mode) {
    case NORMAL:
      return over(NORMAL, pixels, weighed, within, backdrop, layer, weights, count, opacity)
    case MULTIPLY:
      return over(MULTIPLY, pixels, weighed, within, backdrop, layer, weights, count, opacity)
    case SCREEN:
      return over(SCREEN, pixels, weighed, within, backdrop, layer, weights, count, opacity)
    case OVERLAY:
      return over(OVERLAY, pixels, weighed, within, backdrop, layer, weights, count, opacity)
    case DARKEN:
      return over(DARKEN, pixels, weighed, within, backdrop, layer, weights, count, opacity)
    case LIGHTEN:
      return over(LIGHTEN, pixels, weighed, within, backdrop, layer, weights, count, opacity)
    case COLOR_DODGE:
      return over(COLOR_DODGE, pixels, weighed, within, backdrop, layer, weights, count, opacity)
    case COLOR_BURN:
      return over(COLOR_BURN, pixels, weighed, within, backdrop, layer, weights, count, opacity)
    case HARD_LIGHT:
      return over(HARD_LIGHT, pixels, weighed, within, backdrop, layer, weights, count, opacity)
    case SOFT_LIGHT:
      return over(SOFT_LIGHT, pixels, weighed, within, backdrop, layer, weights, count, opacity)
    case DIFFERENCE:
      return over(DIFFERENCE, pixels, weighed, within, backdrop, layer, weights, count, opacity)
    case EXCLUSION:
      return over(EXCLUSION, pixels, weighed, within, backdrop, layer, weights, count, opacity)
    case HUE:
      return over(HUE, pixels, weighed, within, backdrop, layer, weights, count, opacity)
    case SATURATION:
      return over(SATURATION, pixels, weighed, within, backdrop, layer, weights, count, opacity)
    case COLOR:
      return over(COLOR, pixels, weighed, within, backdrop, layer, weights, count, opacity)
    case LUMINOSITY:
      return over(LUMINOSITY, pixels, weighed, within, backdrop, layer, weights, count, opacity)
    case PLUS_LIGHTER:
      return over(PLUS_LIGHTER, pixels, weighed, within, backdrop, layer, weights, count, opacity)
    case PLUS_DARKER:
      return over(PLUS_DARKER, pixels, weighed, within, backdrop, layer, weights, count, opacity)
    case SUBTRACT:
      return over(SUBTRACT, pixels, weighed, within, backdrop, layer, weights, count, opacity)
    case DIVIDE:
      return over(DIVIDE, pixels, weighed, within, backdrop, layer, weights, count, opacity)
  }
}

/**
 * A kept layer over a backdrop.
 * @param mode see modes.ts.
 * @param backdrop blocks of f32, premultiplied; changed. @param layer blocks of unorm16, straight.
 * @param count pixels, a multiple of 4. @param opacity 0…1.
 */
export function overKept(mode: i32, backdrop: usize, layer: usize, count: i32, opacity: f32): void {
  overIn(mode, UNORM16, UNWEIGHED, false, backdrop, layer, 0, count, opacity)
}
/** The same, weighed by a mask. @param mask a byte a pixel; 255 shows. */
export function overKeptMasked(
  mode: i32,
  backdrop: usize,
  layer: usize,
  mask: usize,
  count: i32,
  opacity: f32,
): void {
  overIn(mode, UNORM16, BYTES, false, backdrop, layer, mask, count, opacity)
}
/** The same, weighed by numbers. @param weights an f32 a pixel. */
export function overKeptWeighed(
  mode: i32,
  backdrop: usize,
  layer: usize,
  weights: usize,
  count: i32,
  opacity: f32,
): void {
  overIn(mode, UNORM16, FLOATS, false, backdrop, layer, weights, count, opacity)
}
/** A layer in f32 over a backdrop. @param weights an f32 a pixel. */
export function overWeighed(
  mode: i32,
  backdrop: usize,
  layer: usize,
  weights: usize,
  count: i32,
  opacity: f32,
): void {
  overIn(mode, FLOAT32, FLOATS, false, backdrop, layer, weights, count, opacity)
}
/** A layer in f32 within the alpha of a backdrop: what a wash does. Its own alpha counts, the backdrop's stays. */
export function withinWeighed(
  mode: i32,
  backdrop: usize,
  layer: usize,
  weights: usize,
  count: i32,
  opacity: f32,
): void {
  overIn(mode, FLOAT32, FLOATS, true, backdrop, layer, weights, count, opacity)
}
