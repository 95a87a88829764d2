import { add, all, mul, sub } from './vectors'

/**
 * A gaussian of any width by way of a smaller picture: means of d × d pixels (cells), a short filter over the cells, and straight
 * lines between them. d is a power of two from 1 to 128, so that a tile of 128 × 128 pixels is a whole number of cells and
 * every tile can be done by itself. A cell is r g b a, premultiplied, 16 bytes; tiles are blocks (see pixels.ts), 128 wide.
 * The host takes the variances of the mean and of the straight lines off (gaussian.ts).
 */
const TILE: i32 = 128
/** Bytes of one row of a tile. */
const ROW: usize = 2048

/** @inline The sum of a vector's four lanes, in every lane. */
function sumOf(v: v128): v128 {
  const pairs = add(v, v128.shuffle<f32>(v, v, 2, 3, 0, 1))
  return add(pairs, v128.shuffle<f32>(pairs, pairs, 1, 0, 3, 2))
}

/** @inline One lane of each of four vectors as one. */
function cellOf(r: v128, g: v128, b: v128, a: v128): v128 {
  return v128.shuffle<f32>(
    v128.shuffle<f32>(r, g, 0, 4, 0, 4),
    v128.shuffle<f32>(b, a, 0, 4, 0, 4),
    0,
    1,
    4,
    5,
  )
}

/** A tile's cells, (128 / d)², row after row. */
export function shrink(tile: usize, cells: usize, d: i32): void {
  const across = TILE / d
  const scale = all(<f32>1 / <f32>(d * d))
  for (let cy = 0; cy < across; cy++) {
    const top = tile + <usize>(cy * d) * ROW
    if (d == 1) {
      // Blocks to cells: a transposition.
      for (let x = 0; x < TILE; x += 4) {
        const at = top + ((<usize>x) << 4)
        const r = v128.load(at)
        const g = v128.load(at, 16)
        const b = v128.load(at, 32)
        const a = v128.load(at, 48)
        const rg0 = v128.shuffle<f32>(r, g, 0, 4, 1, 5)
        const rg1 = v128.shuffle<f32>(r, g, 2, 6, 3, 7)
        const ba0 = v128.shuffle<f32>(b, a, 0, 4, 1, 5)
        const ba1 = v128.shuffle<f32>(b, a, 2, 6, 3, 7)
        v128.store(cells, v128.shuffle<f32>(rg0, ba0, 0, 1, 4, 5))
        v128.store(cells, v128.shuffle<f32>(rg0, ba0, 2, 3, 6, 7), 16)
        v128.store(cells, v128.shuffle<f32>(rg1, ba1, 0, 1, 4, 5), 32)
        v128.store(cells, v128.shuffle<f32>(rg1, ba1, 2, 3, 6, 7), 48)
        cells += 64
      }
    } else if (d == 2) {
      for (let x = 0; x < TILE; x += 4) {
        const at = top + ((<usize>x) << 4)
        const r = add(v128.load(at), v128.load(at + ROW))
        const g = add(v128.load(at, 16), v128.load(at + ROW, 16))
        const b = add(v128.load(at, 32), v128.load(at + ROW, 32))
        const a = add(v128.load(at, 48), v128.load(at + ROW, 48))
        const rs = add(r, v128.shuffle<f32>(r, r, 1, 0, 3, 2))
        const gs = add(g, v128.shuffle<f32>(g, g, 1, 0, 3, 2))
        const bs = add(b, v128.shuffle<f32>(b, b, 1, 0, 3, 2))
        const as = add(a, v128.shuffle<f32>(a, a, 1, 0, 3, 2))
        const rg = v128.shuffle<f32>(rs, gs, 0, 4, 2, 6)
        const ba = v128.shuffle<f32>(bs, as, 0, 4, 2, 6)
        v128.store(cells, mul(scale, v128.shuffle<f32>(rg, ba, 0, 1, 4, 5)))
        v128.store(cells, mul(scale, v128.shuffle<f32>(rg, ba, 2, 3, 6, 7)), 16)
        cells += 32
      }
    } else {
      for (let cx = 0; cx < across; cx++) {
        let r = all(0)
        let g = all(0)
        let b = all(0)
        let a = all(0)
        for (let y = 0; y < d; y++) {
          let at = top + <usize>y * ROW + ((<usize>(cx * d)) << 4)
          const end = at + ((<usize>d) << 4)
          while (at < end) {
            r = add(r, v128.load(at))
            g = add(g, v128.load(at, 16))
            b = add(b, v128.load(at, 32))
            a = add(a, v128.load(at, 48))
            at += 64
          }
        }
        v128.store(cells, mul(scale, cellOf(sumOf(r), sumOf(g), sumOf(b), sumOf(a))))
        cells += 16
      }
    }
  }
}

/**
 * Filters rows of cells along them: `width` cells out of `width + 2 · radius`.
 * @param weights 2 · radius + 1 f32.
 */
export function filterAcross(
  cells: usize,
  out: usize,
  width: i32,
  height: i32,
  radius: i32,
  weights: usize,
): void {
  const taps = 2 * radius + 1
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      let at = cells + ((<usize>(y * (width + 2 * radius) + x)) << 4)
      let even = all(0)
      let odd = all(0)
      let w = weights
      for (let k = 1; k < taps; k += 2) {
        even = add(even, mul(v128.load32_splat(w), v128.load(at)))
        odd = add(odd, mul(v128.load32_splat(w, 4), v128.load(at, 16)))
        at += 32
        w += 8
      }
      v128.store(out, add(add(even, odd), mul(v128.load32_splat(w), v128.load(at))))
      out += 16
    }
  }
}

/** Filters columns of cells: `height` rows out of `height + 2 · radius`. */
export function filterDown(
  cells: usize,
  out: usize,
  width: i32,
  height: i32,
  radius: i32,
  weights: usize,
): void {
  const taps = 2 * radius + 1
  const row = (<usize>width) << 4
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      let at = cells + <usize>y * row + ((<usize>x) << 4)
      let even = all(0)
      let odd = all(0)
      let w = weights
      for (let k = 1; k < taps; k += 2) {
        even = add(even, mul(v128.load32_splat(w), v128.load(at)))
        odd = add(odd, mul(v128.load32_splat(w, 4), v128.load(at + row)))
        at += 2 * row
        w += 8
      }
      v128.store(out, add(add(even, odd), mul(v128.load32_splat(w), v128.load(at))))
      out += 16
    }
  }
}

/** @inline Four pixels of four channels each, as a block. */
function storeBlock(at: usize, p0: v128, p1: v128, p2: v128, p3: v128): void {
  const rg0 = v128.shuffle<f32>(p0, p1, 0, 4, 1, 5)
  const rg1 = v128.shuffle<f32>(p2, p3, 0, 4, 1, 5)
  const ba0 = v128.shuffle<f32>(p0, p1, 2, 6, 3, 7)
  const ba1 = v128.shuffle<f32>(p2, p3, 2, 6, 3, 7)
  v128.store(at, v128.shuffle<f32>(rg0, rg1, 0, 1, 4, 5))
  v128.store(at, v128.shuffle<f32>(rg0, rg1, 2, 3, 6, 7), 16)
  v128.store(at, v128.shuffle<f32>(ba0, ba1, 0, 1, 4, 5), 32)
  v128.store(at, v128.shuffle<f32>(ba0, ba1, 2, 3, 6, 7), 48)
}

/** @inline The colour at pixel x of a row of cells that begins half a cell before pixel 0. */
function between(line: usize, x: i32, d: i32, inverse: f32): v128 {
  const along: f32 = (<f32>x + 0.5) * inverse + 0.5
  const cell = <i32>along
  const at = line + ((<usize>cell) << 4)
  const a = v128.load(at)
  return add(a, mul(all(along - <f32>cell), sub(v128.load(at, 16), a)))
}

/**
 * A tile out of its cells and one more on every side, (128 / d + 2)²: straight lines between the cells' middles.
 * @param line room for one row of cells.
 */
export function grow(cells: usize, tile: usize, d: i32, line: usize): void {
  const across = TILE / d + 2
  const row = (<usize>across) << 4
  const inverse: f32 = <f32>1 / <f32>d
  for (let y = 0; y < TILE; y++) {
    const along: f32 = (<f32>y + 0.5) * inverse + 0.5
    const cy = <i32>along
    const t = all(along - <f32>cy)
    const from = cells + <usize>cy * row
    for (let o: usize = 0; o < row; o += 16) {
      const a = v128.load(from + o)
      v128.store(line + o, add(a, mul(t, sub(v128.load(from + row + o), a))))
    }
    if (d < 8) {
      for (let x = 0; x < TILE; x += 4) {
        storeBlock(
          tile,
          between(line, x, d, inverse),
          between(line, x + 1, d, inverse),
          between(line, x + 2, d, inverse),
          between(line, x + 3, d, inverse),
        )
        tile += 64
      }
    } else {
      // Four pixels lie between the same two cells.
      const step = mul(f32x4(0, 1, 2, 3), all(inverse))
      for (let x = 0; x < TILE; x += 4) {
        const first: f32 = (<f32>x + 0.5) * inverse + 0.5
        const cell = <i32>first
        const at = line + ((<usize>cell) << 4)
        const a = v128.load(at)
        const e = sub(v128.load(at, 16), a)
        const k = add(all(first - <f32>cell), step)
        v128.store(
          tile,
          add(v128.shuffle<f32>(a, a, 0, 0, 0, 0), mul(k, v128.shuffle<f32>(e, e, 0, 0, 0, 0))),
        )
        v128.store(
          tile,
          add(v128.shuffle<f32>(a, a, 1, 1, 1, 1), mul(k, v128.shuffle<f32>(e, e, 1, 1, 1, 1))),
          16,
        )
        v128.store(
          tile,
          add(v128.shuffle<f32>(a, a, 2, 2, 2, 2), mul(k, v128.shuffle<f32>(e, e, 2, 2, 2, 2))),
          32,
        )
        v128.store(
          tile,
          add(v128.shuffle<f32>(a, a, 3, 3, 3, 3), mul(k, v128.shuffle<f32>(e, e, 3, 3, 3, 3))),
          48,
        )
        tile += 64
      }
    }
  }
}

/**
 * A tile at or beyond the picture's border, with the border's pixels repeated.
 * @param from the nearest tile of the picture; may not be `to`.
 * @param offsetX how far `to` lies to its right in pixels; @param lastX its last column within the picture.
 */
export function repeatBorder(
  from: usize,
  to: usize,
  offsetX: i32,
  offsetY: i32,
  lastX: i32,
  lastY: i32,
): void {
  for (let y = 0; y < TILE; y++) {
    const line = from + <usize>min(max(y + offsetY, 0), lastY) * ROW
    for (let x = 0; x < TILE; x++) {
      const sx = min(max(x + offsetX, 0), lastX)
      const source = line + ((<usize>(sx >> 2)) << 6) + ((<usize>(sx & 3)) << 2)
      const target = to + <usize>y * ROW + ((<usize>(x >> 2)) << 6) + ((<usize>(x & 3)) << 2)
      store<f32>(target, load<f32>(source))
      store<f32>(target, load<f32>(source, 16), 16)
      store<f32>(target, load<f32>(source, 32), 32)
      store<f32>(target, load<f32>(source, 48), 48)
    }
  }
}
