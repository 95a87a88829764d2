import { add, all, div, mul } from './vectors'

/**
 * Pictures at another size, by a filter across and one down; src/core/picture/resample.ts says which. A filter is `taps` weights
 * (f32) for each place of the target, and where they begin in the source (i32, in pixels or rows): all within it.
 */

/** @inline What has no weight counts for nothing, were it no number. */
function weighed(share: v128, numbers: v128): v128 {
  return v128.and(f32x4.ne(share, all(0)), mul(share, numbers))
}

/** Rows of straight RGBA in f32 become premultiplied, where they are. */
export function premultiplyRows(rows: usize, count: i32): void {
  const end = rows + ((<usize>count) << 4)
  while (rows < end) {
    const pixel = v128.load(rows)
    const alpha = v128.shuffle<f32>(pixel, pixel, 3, 3, 3, 3)
    v128.store(rows, f32x4.replace_lane(mul(pixel, alpha), 3, f32x4.extract_lane(pixel, 3)))
    rows += 16
  }
}

/** The other way round; what is clear becomes 0. */
export function straightenRows(rows: usize, count: i32): void {
  const end = rows + ((<usize>count) << 4)
  while (rows < end) {
    const pixel = v128.load(rows)
    const alpha = v128.shuffle<f32>(pixel, pixel, 3, 3, 3, 3)
    const share = v128.and(f32x4.gt(alpha, all(0)), div(all(1), alpha))
    v128.store(rows, f32x4.replace_lane(mul(pixel, share), 3, f32x4.extract_lane(pixel, 3)))
    rows += 16
  }
}

/** Rows of RGBA through a filter across. @param length pixels of a source row. @param width pixels of a target row. */
export function resizeAcross4(
  source: usize,
  length: i32,
  target: usize,
  width: i32,
  height: i32,
  starts: usize,
  weights: usize,
  taps: i32,
): void {
  for (let y = 0; y < height; y++) {
    let weight = weights
    for (let x = 0; x < width; x++) {
      let from = source + ((<usize>load<i32>(starts + ((<usize>x) << 2))) << 4)
      const end = weight + ((<usize>taps) << 2)
      let sum = all(0)
      while (weight < end) {
        sum = add(sum, weighed(v128.load32_splat(weight), v128.load(from)))
        weight += 4
        from += 16
      }
      v128.store(target, sum)
      target += 16
    }
    source += (<usize>length) << 4
  }
}

/**
 * The same of rows of single numbers. What has no weight is not read: it may be no number.
 * @param row numbers from one target row to the next; what lies between is 0.
 */
export function resizeAcross1(
  source: usize,
  length: i32,
  target: usize,
  width: i32,
  row: i32,
  height: i32,
  starts: usize,
  weights: usize,
  taps: i32,
): void {
  for (let y = 0; y < height; y++) {
    let weight = weights
    for (let x = 0; x < width; x++) {
      let from = source + ((<usize>load<i32>(starts + ((<usize>x) << 2))) << 2)
      const end = weight + ((<usize>taps) << 2)
      let sum: f32 = 0
      while (weight < end) {
        const share = load<f32>(weight)
        if (share != 0) sum += share * load<f32>(from)
        weight += 4
        from += 4
      }
      store<f32>(target, sum)
      target += 4
    }
    for (let x = width; x < row; x++) {
      store<f32>(target, 0)
      target += 4
    }
    source += (<usize>length) << 2
  }
}

/** Rows through a filter down. @param length numbers of a row, a multiple of 4. */
export function resizeDown(
  source: usize,
  target: usize,
  length: i32,
  height: i32,
  starts: usize,
  weights: usize,
  taps: i32,
): void {
  const row = (<usize>length) << 2
  for (let y = 0; y < height; y++) {
    const first = source + <usize>load<i32>(starts + ((<usize>y) << 2)) * row
    const end = weights + ((<usize>taps) << 2)
    for (let x: usize = 0; x < row; x += 16) {
      let from = first + x
      let sum = all(0)
      for (let weight = weights; weight < end; weight += 4) {
        sum = add(sum, weighed(v128.load32_splat(weight), v128.load(from)))
        from += row
      }
      v128.store(target, sum)
      target += 16
    }
    weights = end
  }
}
