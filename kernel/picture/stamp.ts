// One file: one loop over a stamp’s pixels in every form of tile it can fall on.
import {
  add,
  all,
  atMost,
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

/**
 * Strokes of a brush. A stroke gathers in a plane of its own what its tip has covered, tile by tile of 128 × 128 pixels in f32, 0
 * to 1 row by row; from that and from what lay there before the stroke the tile is made that is seen. So a stroke that crosses itself
 * never covers more than it may.
 */

const SIDE: i32 = 128

/** @inline A place of a plane of numbers between its four neighbours. @param stride numbers to a row. */
function between(plane: usize, stride: i32, x: f32, y: f32): f32 {
  const ix = <i32>x
  const iy = <i32>y
  const fx: f32 = x - <f32>ix
  const fy: f32 = y - <f32>iy
  const at = plane + ((<usize>(iy * stride + ix)) << 2)
  const low = at + ((<usize>stride) << 2)
  const a = load<f32>(at)
  const b = load<f32>(low)
  const upper: f32 = a + fx * (load<f32>(at, 4) - a)
  const lower: f32 = b + fx * (load<f32>(low, 4) - b)
  return upper + fy * (lower - upper)
}

/**
 * Presses a tip once.
 * @param cover the stroke's plane of a tile. @param x, y the tip's middle, in pixels of that tile.
 * @param ax, ay, bx, by make the tip's own places, −1…1 each, of places about its middle.
 * @param tip (side + 2)² numbers 0…1: the tip with a border of one; @param side its pixels.
 * @param grain (grainSide + 1)² numbers 0…1, a texture that repeats, its first row and column again at its end; 0 for none.
 * @param gx, gy where in the texture the tile's first pixel lies, in its pixels, not negative; @param step of it from pixel to pixel.
 * @param bite how much of the texture counts, 0…1.
 * @returns 1 where something was covered.
 */
export function pressTip(
  cover: usize,
  x: f32,
  y: f32,
  ax: f32,
  ay: f32,
  bx: f32,
  by: f32,
  tip: usize,
  side: i32,
  flow: f32,
  grain: usize,
  grainSide: i32,
  gx: f32,
  gy: f32,
  step: f32,
  bite: f32,
): i32 {
  // How far the tip reaches along both axes: |A⁻¹| applied to the square −1…1.
  const det: f32 = ax * by - ay * bx
  if (!(Mathf.abs(det) > 1e-20)) return 0
  const reachX: f32 = (Mathf.abs(by) + Mathf.abs(ay)) / Mathf.abs(det)
  const reachY: f32 = (Mathf.abs(bx) + Mathf.abs(ax)) / Mathf.abs(det)
  const left = max<i32>(0, <i32>Mathf.floor(x - reachX - 0.5))
  const right = min<i32>(SIDE - 1, <i32>Mathf.ceil(x + reachX - 0.5))
  const top = max<i32>(0, <i32>Mathf.floor(y - reachY - 0.5))
  const bottom = min<i32>(SIDE - 1, <i32>Mathf.ceil(y + reachY - 0.5))
  if (left > right || top > bottom) return 0
  const half: f32 = <f32>side * 0.5
  const most: f32 = <f32>(side + 1) - <f32>0.001
  const stride = side + 2
  const wrap: f32 = <f32>grainSide
  const plain: f32 = <f32>1 - bite
  let touched = 0
  for (let row = top; row <= bottom; row++) {
    const dy: f32 = <f32>row + <f32>0.5 - y
    let at = cover + ((<usize>(row * SIDE + left)) << 2)
    // Places in the tip's plane: its border begins at half a pixel before −1.
    const u0: f32 = (ay * dy + <f32>1) * half + <f32>0.5
    const v0: f32 = (by * dy + <f32>1) * half + <f32>0.5
    let gRow: f32 = gy + <f32>row * step
    gRow = gRow - Mathf.floor(gRow / wrap) * wrap
    for (let column = left; column <= right; column++, at += 4) {
      const dx: f32 = <f32>column + <f32>0.5 - x
      const u: f32 = u0 + ax * dx * half
      const v: f32 = v0 + bx * dx * half
      if (!(u > 0 && v > 0 && u < most && v < most)) continue
      let own = between(tip, stride, u, v)
      if (own <= 0) continue
      if (grain != 0) {
        let gColumn: f32 = gx + <f32>column * step
        gColumn = gColumn - Mathf.floor(gColumn / wrap) * wrap
        own *= plain + bite * between(grain, grainSide + 1, gColumn, gRow)
      }
      const before = load<f32>(at)
      store<f32>(at, min<f32>(1, before + flow * own * (<f32>1 - before)))
      touched = 1
    }
  }
  return touched
}

/** @inline What a stroke weighs at four pixels. @param within a byte a pixel; 0 for all. */
function weightOf(cover: usize, within: usize, opacity: f32): v128 {
  const w = mul(clamp01(v128.load(cover)), all(opacity))
  return within == 0 ? w : mul(w, mul(load8(within), all(<f32>(1.0 / 255.0))))
}

/** @inline Stores a kept block of straight colours 0…1. */
function keepBlock(to: usize, r: v128, g: v128, b: v128, a: v128): void {
  const most = all(65535)
  v128.store(to, i16x8.narrow_i32x4_u(toInt(mul(clamp01(r), most)), toInt(mul(clamp01(g), most))))
  v128.store(to, i16x8.narrow_i32x4_u(toInt(mul(clamp01(b), most)), toInt(mul(clamp01(a), most))), 16)
}

/**
 * A kept tile with a stroke of one colour over it.
 * @param base the tile before the stroke; 0 for a clear one. @param cover the stroke's plane. @param within a mask tile that the
 * stroke stays in; 0 for everywhere. @param to may be `base`.
 */
export function layColour(
  base: usize,
  cover: usize,
  within: usize,
  to: usize,
  count: i32,
  r: f32,
  g: f32,
  b: f32,
  opacity: f32,
): void {
  const end = cover + ((<usize>count) << 2)
  const unit = all(<f32>(1.0 / 65535.0))
  for (; cover < end; cover += 16, to += 32) {
    const w = weightOf(cover, within, opacity)
    let a = all(0)
    let br = a
    let bg = a
    let bb = a
    if (base != 0) {
      br = mul(load16(base), unit)
      bg = mul(load16(base, 8), unit)
      bb = mul(load16(base, 16), unit)
      a = mul(load16(base, 24), unit)
      base += 32
    }
    const stays = mul(a, sub(all(1), w))
    const made = add(w, stays)
    const k = div(all(1), divisor(made))
    keepBlock(
      to,
      mul(add(mul(all(r), w), mul(br, stays)), k),
      mul(add(mul(all(g), w), mul(bg, stays)), k),
      mul(add(mul(all(b), w), mul(bb, stays)), k),
      made,
    )
    if (within != 0) within += 4
  }
}

/**
 * A kept tile with a stroke of a picture over it.
 * @param source what is painted with, in the places where it is painted: premultiplied, blocks of f32. See {@link layColour}.
 */
export function layPicture(
  base: usize,
  cover: usize,
  within: usize,
  source: usize,
  to: usize,
  count: i32,
  opacity: f32,
): void {
  const end = cover + ((<usize>count) << 2)
  const unit = all(<f32>(1.0 / 65535.0))
  for (; cover < end; cover += 16, to += 32, source += 64) {
    const w = weightOf(cover, within, opacity)
    let a = all(0)
    let br = a
    let bg = a
    let bb = a
    if (base != 0) {
      br = mul(load16(base), unit)
      bg = mul(load16(base, 8), unit)
      bb = mul(load16(base, 16), unit)
      a = mul(load16(base, 24), unit)
      base += 32
    }
    const over = mul(w, v128.load(source, 48))
    const stays = mul(a, sub(all(1), over))
    const made = add(over, stays)
    const k = div(all(1), divisor(made))
    keepBlock(
      to,
      mul(add(mul(v128.load(source), w), mul(br, stays)), k),
      mul(add(mul(v128.load(source, 16), w), mul(bg, stays)), k),
      mul(add(mul(v128.load(source, 32), w), mul(bb, stays)), k),
      made,
    )
    if (within != 0) within += 4
  }
}

/** A kept tile of which a stroke takes away. See {@link layColour}. */
export function takeAway(
  base: usize,
  cover: usize,
  within: usize,
  to: usize,
  count: i32,
  opacity: f32,
): void {
  const end = cover + ((<usize>count) << 2)
  const unit = all(<f32>(1.0 / 65535.0))
  for (; cover < end; cover += 16, to += 32, base += 32) {
    const a = mul(mul(load16(base, 24), unit), sub(all(1), weightOf(cover, within, opacity)))
    // Colours stay under what is gone; those of nothing are black.
    const is = f32x4.gt(a, all(0))
    keepBlock(
      to,
      v128.and(mul(load16(base), unit), is),
      v128.and(mul(load16(base, 8), unit), is),
      v128.and(mul(load16(base, 16), unit), is),
      a,
    )
    if (within != 0) within += 4
  }
}

/**
 * A kept tile whose tones a stroke changes, where they lie in a range; alpha stays. See {@link layColour}.
 * @param towards 0 lightens: screens with the colour; 1 darkens: multiplies by it; 2 tints: its hue and chroma at the tone that is there.
 * @param from, full, last, to4 the range of brightness: none at `from`, all from `full` to `last`, none from `to4` on.
 */
export function turnTone(
  base: usize,
  cover: usize,
  within: usize,
  to: usize,
  count: i32,
  towards: i32,
  r: f32,
  g: f32,
  b: f32,
  opacity: f32,
  from: f32,
  full: f32,
  last: f32,
  to4: f32,
): void {
  const end = cover + ((<usize>count) << 2)
  const unit = all(<f32>(1.0 / 65535.0))
  const rise = all(<f32>1 / max<f32>(1e-6, full - from))
  const fall = all(<f32>1 / max<f32>(1e-6, to4 - last))
  const own = all(<f32>0.3 * r + <f32>0.59 * g + <f32>0.11 * b)
  for (; cover < end; cover += 16, to += 32, base += 32) {
    const br = mul(load16(base), unit)
    const bg = mul(load16(base, 8), unit)
    const bb = mul(load16(base, 16), unit)
    const a = mul(load16(base, 24), unit)
    const tone = luminosity(br, bg, bb)
    const up = from >= full ? all(1) : clamp01(mul(sub(tone, all(from)), rise))
    const down = last >= to4 ? all(1) : clamp01(mul(sub(all(to4), tone), fall))
    const w = mul(weightOf(cover, within, opacity), atMost(up, down))
    let nr: v128
    let ng: v128
    let nb: v128
    if (towards == 0) {
      nr = sub(all(1), mul(sub(all(1), br), all(<f32>1 - r)))
      ng = sub(all(1), mul(sub(all(1), bg), all(<f32>1 - g)))
      nb = sub(all(1), mul(sub(all(1), bb), all(<f32>1 - b)))
    } else if (towards == 1) {
      nr = mul(br, all(r))
      ng = mul(bg, all(g))
      nb = mul(bb, all(b))
    } else {
      const shift = sub(tone, own)
      nr = clamp01(add(all(r), shift))
      ng = clamp01(add(all(g), shift))
      nb = clamp01(add(all(b), shift))
    }
    keepBlock(to, add(br, mul(w, sub(nr, br))), add(bg, mul(w, sub(ng, bg))), add(bb, mul(w, sub(nb, bb))), a)
    if (within != 0) within += 4
  }
}

/**
 * A painted mask's tile, an unorm16 a pixel row by row, towards a value. See {@link layColour}.
 * @param base 0 for one that is `empty` everywhere.
 */
export function layMask(
  base: usize,
  empty: f32,
  cover: usize,
  within: usize,
  to: usize,
  count: i32,
  value: f32,
  opacity: f32,
): void {
  const end = cover + ((<usize>count) << 2)
  const unit = all(<f32>(1.0 / 65535.0))
  const most = all(65535)
  for (; cover < end; cover += 16, to += 8) {
    const w = weightOf(cover, within, opacity)
    const v = base == 0 ? all(empty) : mul(load16(base), unit)
    if (base != 0) base += 8
    const made = toInt(mul(clamp01(add(v, mul(w, sub(all(value), v)))), most))
    v128.store64_lane(to, i16x8.narrow_i32x4_u(made, made), 0)
    if (within != 0) within += 4
  }
}

/**
 * A tile of a picture at another size, straight lines between its pixels.
 * @param rows premultiplied RGBA in f32, `width` × `height` row by row. @param out blocks of f32, premultiplied, side × side.
 * @param x0, y0 where the tile's first pixel's middle lies, counted from the middle of the first of the rows; @param stepX, stepY from pixel to pixel.
 */
export function sampleRows(
  rows: usize,
  width: i32,
  height: i32,
  out: usize,
  side: i32,
  x0: f32,
  y0: f32,
  stepX: f32,
  stepY: f32,
): void {
  const right: f32 = <f32>(width - 1)
  const bottom: f32 = <f32>(height - 1)
  for (let row = 0; row < side; row++) {
    const y: f32 = min<f32>(bottom, max<f32>(0, y0 + <f32>row * stepY))
    const iy = min<i32>(<i32>y, max<i32>(0, height - 2))
    const fy = all(y - <f32>iy)
    const upper = rows + ((<usize>(iy * width)) << 4)
    const lower = height > 1 ? upper + ((<usize>width) << 4) : upper
    for (let column = 0; column < side; column++) {
      const x: f32 = min<f32>(right, max<f32>(0, x0 + <f32>column * stepX))
      const ix = min<i32>(<i32>x, max<i32>(0, width - 2))
      const fx = all(x - <f32>ix)
      const at = (<usize>ix) << 4
      const next: usize = width > 1 ? 16 : 0
      const a = v128.load(upper + at)
      const b = v128.load(lower + at)
      const top = add(a, mul(fx, sub(v128.load(upper + at + next), a)))
      const low = add(b, mul(fx, sub(v128.load(lower + at + next), b)))
      const p = add(top, mul(fy, sub(low, top)))
      const to = out + ((<usize>(column >> 2)) << 6) + ((<usize>(column & 3)) << 2)
      f32.store(to, f32x4.extract_lane(p, 0))
      f32.store(to, f32x4.extract_lane(p, 1), 16)
      f32.store(to, f32x4.extract_lane(p, 2), 32)
      f32.store(to, f32x4.extract_lane(p, 3), 48)
    }
    out += (<usize>side) << 4
  }
}

/**
 * What of a kept tile lies in a region of a picture, as premultiplied RGBA in f32, row by row.
 * @param kept 0 for a clear tile. @param left, top where the tile's first pixel lies in the region.
 */
export function gatherKept(kept: usize, region: usize, width: i32, height: i32, left: i32, top: i32): void {
  const x0 = max<i32>(0, left)
  const x1 = min<i32>(width, left + SIDE)
  const y0 = max<i32>(0, top)
  const y1 = min<i32>(height, top + SIDE)
  const unit: f32 = 1.0 / 65535.0
  for (let y = y0; y < y1; y++) {
    let to = region + ((<usize>(y * width + x0)) << 4)
    for (let x = x0; x < x1; x++, to += 16) {
      if (kept == 0) {
        v128.store(to, all(0))
        continue
      }
      const i = (y - top) * SIDE + x - left
      const from = kept + ((<usize>(i >> 2)) << 5) + ((<usize>(i & 3)) << 1)
      const a: f32 = f32(load<u16>(from, 24)) * unit
      const k: f32 = a * unit
      store<f32>(to, f32(load<u16>(from)) * k)
      store<f32>(to, f32(load<u16>(from, 8)) * k, 4)
      store<f32>(to, f32(load<u16>(from, 16)) * k, 8)
      store<f32>(to, a, 12)
    }
  }
}

/** @inline A pixel of a region; its border repeats. */
function regionAt(region: usize, width: i32, height: i32, x: i32, y: i32): v128 {
  const cx = min<i32>(width - 1, max<i32>(0, x))
  const cy = min<i32>(height - 1, max<i32>(0, y))
  return v128.load(region + ((<usize>(cy * width + cx)) << 4))
}

/**
 * Works on a kept tile from the picture about it, as far as a tip covers it.
 * @param cover how much of each pixel the tip covers. @param within, opacity as of `layColour`.
 * @param region the picture as it was: see `gatherKept`; `left`, `top` where the tile's first pixel lies in it.
 * @param kind 0 drags it along by (dx, dy) pixels; 1 brings each pixel towards the mean of those within `dx` pixels; 2 away from it.
 */
export function workOver(
  made: usize,
  cover: usize,
  within: usize,
  region: usize,
  width: i32,
  height: i32,
  left: i32,
  top: i32,
  kind: i32,
  dx: f32,
  dy: f32,
  opacity: f32,
): void {
  const radius = <i32>dx
  const across = 2 * radius + 1
  const count = across * across
  const share = all(<f32>1 / <f32>count)
  const most: f32 = 65535
  for (let i = 0; i < SIDE * SIDE; i++, cover += 4) {
    let w: f32 = load<f32>(cover) * opacity
    if (within != 0) w *= f32(load<u8>(within + <usize>i)) * <f32>(1.0 / 255.0)
    if (w <= 0) continue
    const x = (i & 127) + left
    const y = (i >> 7) + top
    const own = regionAt(region, width, height, x, y)
    let target: v128
    if (kind == 0) {
      const sx: f32 = <f32>x - dx
      const sy: f32 = <f32>y - dy
      const ix = <i32>Mathf.floor(sx)
      const iy = <i32>Mathf.floor(sy)
      const fx = all(sx - <f32>ix)
      const fy = all(sy - <f32>iy)
      const a = regionAt(region, width, height, ix, iy)
      const b = regionAt(region, width, height, ix, iy + 1)
      const upper = add(a, mul(fx, sub(regionAt(region, width, height, ix + 1, iy), a)))
      const lower = add(b, mul(fx, sub(regionAt(region, width, height, ix + 1, iy + 1), b)))
      target = add(upper, mul(fy, sub(lower, upper)))
    } else {
      let sum = all(0)
      for (let v = -radius; v <= radius; v++)
        for (let u = -radius; u <= radius; u++) sum = add(sum, regionAt(region, width, height, x + u, y + v))
      const mean = mul(sum, share)
      target = kind == 1 ? mean : add(own, sub(own, mean))
    }
    const p = clamp01(add(own, mul(all(w), sub(target, own))))
    const alpha = f32x4.extract_lane(p, 3)
    const to = made + ((<usize>(i >> 2)) << 5) + ((<usize>(i & 3)) << 1)
    const k: f32 = alpha > 0 ? most / alpha : 0
    store<u16>(to, <u16>min<f32>(most, f32x4.extract_lane(p, 0) * k + <f32>0.5))
    store<u16>(to, <u16>min<f32>(most, f32x4.extract_lane(p, 1) * k + <f32>0.5), 8)
    store<u16>(to, <u16>min<f32>(most, f32x4.extract_lane(p, 2) * k + <f32>0.5), 16)
    store<u16>(to, <u16>(alpha * most + <f32>0.5), 24)
  }
}
