import { add, all, atLeast, choose, div, divisor, mul, sub } from './vectors'

/**
 * Pictures from what lies about each pixel. Inputs are rows of premultiplied RGBA in f32, 16 bytes a pixel, that go `reach` pixels
 * beyond what is made on every side; so do planes of one f32 a pixel.
 */

/** @inline Where the pixel of an output place lies in its input. */
function at(input: usize, across: i32, x: i32, y: i32, reach: i32): usize {
  return input + ((<usize>((y + reach) * across + x + reach)) << 4)
}

/**
 * Sums of shifted pictures: any filter of fixed weights.
 * @param taps n pairs: how many pixels off in memory (i32), weight (f32).
 */
export function sumShifted(
  input: usize,
  out: usize,
  width: i32,
  height: i32,
  reach: i32,
  taps: usize,
  n: i32,
): void {
  const across = width + 2 * reach
  const last = taps + ((<usize>n) << 3)
  for (let y = 0; y < height; y++) {
    let from = at(input, across, 0, y, reach)
    for (let x = 0; x < width; x++) {
      let sum = all(0)
      for (let tap = taps; tap < last; tap += 8)
        sum = add(sum, mul(v128.load32_splat(tap + 4), v128.load(from + ((<usize>load<i32>(tap)) << 4))))
      v128.store(out, sum)
      from += 16
      out += 16
    }
  }
}

/** The greatest, or least, of each channel among shifted pictures. @param taps n numbers: pixels off in memory (i32). */
export function extremeShifted(
  input: usize,
  out: usize,
  width: i32,
  height: i32,
  reach: i32,
  taps: usize,
  n: i32,
  isGreatest: i32,
): void {
  const across = width + 2 * reach
  const last = taps + ((<usize>n) << 2)
  for (let y = 0; y < height; y++) {
    let from = at(input, across, 0, y, reach)
    for (let x = 0; x < width; x++) {
      let most = v128.load(from)
      if (isGreatest)
        for (let tap = taps; tap < last; tap += 4)
          most = f32x4.pmax(most, v128.load(from + ((<usize>load<i32>(tap)) << 4)))
      else
        for (let tap = taps; tap < last; tap += 4)
          most = f32x4.pmin(most, v128.load(from + ((<usize>load<i32>(tap)) << 4)))
      v128.store(out, most)
      from += 16
      out += 16
    }
  }
}

/** @inline Between the four pixels about a place of an input; beyond its border the last ones. */
function bilinear(input: usize, across: i32, down: i32, x: f32, y: f32): v128 {
  const px: f32 = min(max(x, 0), <f32>(across - 1))
  const py: f32 = min(max(y, 0), <f32>(down - 1))
  const ix = min(<i32>px, across - 2)
  const iy = min(<i32>py, down - 2)
  const u = all(px - <f32>ix)
  const v = all(py - <f32>iy)
  const from = input + ((<usize>(iy * across + ix)) << 4)
  const row = (<usize>across) << 4
  const a = v128.load(from)
  const b = v128.load(from + row)
  const top = add(a, mul(u, sub(v128.load(from, 16), a)))
  const low = add(b, mul(u, sub(v128.load(from + row, 16), b)))
  return add(top, mul(v, sub(low, top)))
}

/**
 * Pixels from places of their own.
 * @param offsets two f32 a pixel of the output: how far from its own place. @param weight of what is found.
 * @param isMore adds it to what is in `out` instead of replacing it.
 */
export function gatherOffset(
  input: usize,
  out: usize,
  width: i32,
  height: i32,
  reach: i32,
  offsets: usize,
  weight: f32,
  isMore: i32,
): void {
  const across = width + 2 * reach
  const down = height + 2 * reach
  const share = all(weight)
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const fx = <f32>(x + reach) + load<f32>(offsets)
      const fy = <f32>(y + reach) + load<f32>(offsets, 4)
      const found = mul(share, bilinear(input, across, down, fx, fy))
      v128.store(out, isMore ? add(v128.load(out), found) : found)
      offsets += 8
      out += 16
    }
  }
}

/**
 * A blur by depth: each pixel gathers those whose discs reach it. What lies behind it reaches no farther than its own disc, so
 * that a sharp subject does not bleed into blurred ground nor the ground into it.
 * @param discs radius of each pixel's disc in pixels, f32; @param depths how far away, f32: planes as large as the input.
 * @param taps n times x, y, distance (f32), over the largest disc. @param bloom how much brighter bright points count, 0 for none.
 */
export function blurByDepth(
  input: usize,
  discs: usize,
  depths: usize,
  out: usize,
  width: i32,
  height: i32,
  reach: i32,
  taps: usize,
  n: i32,
  bloom: f32,
): void {
  const across = width + 2 * reach
  const last = taps + <usize>(n * 12)
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const own = (y + reach) * across + x + reach
      const disc = load<f32>(discs + ((<usize>own) << 2))
      const depth = load<f32>(depths + ((<usize>own) << 2))
      const area: f32 = max(disc, 0.5)
      const own4 = v128.load(input + ((<usize>own) << 4))
      let weight: f32 = <f32>1 / (area * area)
      let sum = mul(all(weight), own4)
      let total = weight
      for (let tap = taps; tap < last; tap += 12) {
        const away = load<f32>(tap, 8)
        const place = own + <i32>nearest<f32>(load<f32>(tap, 4)) * across + <i32>nearest<f32>(load<f32>(tap))
        let theirs = load<f32>(discs + ((<usize>place) << 2))
        const behind = load<f32>(depths + ((<usize>place) << 2)) > depth
        if (behind) theirs = min(theirs, disc)
        // How much of their disc's edge has passed this place.
        const reached: f32 = min(max(theirs - away + 0.5, 0), 1)
        if (reached > 0) {
          const other = v128.load(input + ((<usize>place) << 4))
          const spread: f32 = max(theirs, 0.5)
          weight = reached / (spread * spread)
          if (bloom > 0) {
            const light: f32 = max(
              max(f32x4.extract_lane(other, 0), f32x4.extract_lane(other, 1)),
              f32x4.extract_lane(other, 2),
            )
            const high: f32 = max(light - 0.7, 0) * 3.3333333
            weight *= 1 + bloom * high * high
          }
          sum = add(sum, mul(all(weight), other))
          total += weight
        }
      }
      v128.store(out, mul(sum, all(<f32>1 / total)))
      out += 16
    }
  }
}

/** @inline The sum of four numbers. */
function sumOf(v: v128): f32 {
  return (
    f32x4.extract_lane(v, 0) + f32x4.extract_lane(v, 1) + f32x4.extract_lane(v, 2) + f32x4.extract_lane(v, 3)
  )
}

/**
 * Smoothing that keeps edges: eight sectors about each pixel, the even ones count (Kyprianidis, Semmo, Kang & Döllner 2010,
 * "Anisotropic Kuwahara filtering with polynomial weighting functions").
 * @param flow of each pixel of the output cos, sin of the direction along edges, and the axes of the ellipse: along, across (f32
 * each), within reach. @param zeta, bend of the sectors' polynomials. @param sharpness how much evener sectors count more.
 */
export function smoothPainterly(
  input: usize,
  flow: usize,
  out: usize,
  width: i32,
  height: i32,
  reach: i32,
  zeta: f32,
  bend: f32,
  sharpness: f32,
): void {
  const acrossInput = width + 2 * reach
  const signs = f32x4(1, -1, -1, 1)
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const cos = load<f32>(flow)
      const sin = load<f32>(flow, 4)
      const long: f32 = max(load<f32>(flow, 8), 0.5)
      const short: f32 = max(load<f32>(flow, 12), 0.5)
      flow += 16
      const maxX = <i32>sqrt<f32>(long * long * cos * cos + short * short * sin * sin)
      const maxY = <i32>sqrt<f32>(long * long * sin * sin + short * short * cos * cos)
      const kx: f32 = <f32>1 / long
      const ky: f32 = <f32>1 / short
      let w0 = all(0)
      let r0 = all(0)
      let g0 = all(0)
      let b0 = all(0)
      let a0 = all(0)
      let q0 = all(0)
      let w1 = all(0)
      let r1 = all(0)
      let g1 = all(0)
      let b1 = all(0)
      let a1 = all(0)
      let q1 = all(0)
      for (let j = -maxY; j <= maxY; j++) {
        let from = at(input, acrossInput, x - maxX, y + j, reach)
        for (let i = -maxX; i <= maxX; i++) {
          const vx: f32 = (cos * <f32>i + sin * <f32>j) * kx
          const vy: f32 = (cos * <f32>j - sin * <f32>i) * ky
          const far: f32 = vx * vx + vy * vy
          if (far <= 1) {
            const c = v128.load(from)
            // Polynomials instead of sectors cut out: along both axes, then along both between them.
            const xx: f32 = zeta - bend * vx * vx
            const yy: f32 = zeta - bend * vy * vy
            let z = atLeast(all(0), add(mul(f32x4(vy, vx, vy, vx), signs), f32x4(xx, yy, xx, yy)))
            const even = mul(z, z)
            const ux: f32 = 0.70710678 * (vx - vy)
            const uy: f32 = 0.70710678 * (vx + vy)
            const uxx: f32 = zeta - bend * ux * ux
            const uyy: f32 = zeta - bend * uy * uy
            z = atLeast(all(0), add(mul(f32x4(uy, ux, uy, ux), signs), f32x4(uxx, uyy, uxx, uyy)))
            const odd = mul(z, z)
            // A gaussian's tail, as (1 − r²)²: what e^(−3.1 r²) is nearly.
            const near: f32 = 1.02 - far
            const g = all((near * near) / max(sumOf(add(even, odd)), 1e-9))
            const e = mul(even, g)
            const o = mul(odd, g)
            const r = v128.shuffle<f32>(c, c, 0, 0, 0, 0)
            const gr = v128.shuffle<f32>(c, c, 1, 1, 1, 1)
            const b = v128.shuffle<f32>(c, c, 2, 2, 2, 2)
            const al = v128.shuffle<f32>(c, c, 3, 3, 3, 3)
            const square = add(add(mul(r, r), mul(gr, gr)), mul(b, b))
            w0 = add(w0, e)
            r0 = add(r0, mul(e, r))
            g0 = add(g0, mul(e, gr))
            b0 = add(b0, mul(e, b))
            a0 = add(a0, mul(e, al))
            q0 = add(q0, mul(e, square))
            w1 = add(w1, o)
            r1 = add(r1, mul(o, r))
            g1 = add(g1, mul(o, gr))
            b1 = add(b1, mul(o, b))
            a1 = add(a1, mul(o, al))
            q1 = add(q1, mul(o, square))
          }
          from += 16
        }
      }
      const k0 = evenness(w0, r0, g0, b0, q0, sharpness)
      const k1 = evenness(w1, r1, g1, b1, q1, sharpness)
      const n0 = mul(k0, div(all(1), divisor(w0)))
      const n1 = mul(k1, div(all(1), divisor(w1)))
      const total: f32 = max(sumOf(add(k0, k1)), 1e-20)
      store<f32>(out, sumOf(add(mul(n0, r0), mul(n1, r1))) / total)
      store<f32>(out, sumOf(add(mul(n0, g0), mul(n1, g1))) / total, 4)
      store<f32>(out, sumOf(add(mul(n0, b0), mul(n1, b1))) / total, 8)
      store<f32>(out, sumOf(add(mul(n0, a0), mul(n1, a1))) / total, 12)
      out += 16
    }
  }
}

/** @inline How much sectors count by how little their colours vary: 1 / (1 + (k · variance)^4). */
function evenness(w: v128, r: v128, g: v128, b: v128, square: v128, sharpness: f32): v128 {
  const inverse = div(all(1), divisor(w))
  const mr = mul(r, inverse)
  const mg = mul(g, inverse)
  const mb = mul(b, inverse)
  const variance = f32x4.abs(sub(mul(square, inverse), add(add(mul(mr, mr), mul(mg, mg)), mul(mb, mb))))
  const k = mul(all(sharpness), variance)
  const k2 = mul(k, k)
  const counts = div(all(1), add(all(1), mul(k2, k2)))
  return choose(counts, all(0), f32x4.gt(w, all(1e-9)))
}
