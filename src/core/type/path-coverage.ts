import type { Tile } from '../passes/tile'
import type { Contours } from './type-outlines'

/**
 * How much of each pixel of a window closed outlines cover: exact areas, by what each side of them adds to the pixels at its right
 * (signed areas, summed along rows). What lies within several outlines that turn the same way is covered once.
 * @returns Float32Array, width·height of the window, 0…1; null where nothing of them is there.
 */
export function pathCoverage({ points, starts }: Contours, window: Tile): Float32Array | null {
  const { x: left, y: top, width, height } = window
  const stride = width + 1
  let sums: Float64Array | null = null
  for (let c = 0; c + 1 < starts.length; c++) {
    const [from, to] = [starts[c], starts[c + 1]]
    for (let i = from, before = to - 1; i < to; before = i++) {
      const [x0, y0] = [points[2 * before] - left, points[2 * before + 1] - top]
      const [x1, y1] = [points[2 * i] - left, points[2 * i + 1] - top]
      if (y0 === y1 || Math.max(y0, y1) <= 0 || Math.min(y0, y1) >= height) continue
      // What lies wholly at the right of the window covers nothing of it.
      if (x0 >= width && x1 >= width) continue
      sums ??= new Float64Array(stride * height)
      addSide(sums, stride, width, height, x0, y0, x1, y1)
    }
  }
  if (!sums) return null
  const out = new Float32Array(width * height)
  let isEmpty = true
  for (let y = 0; y < height; y++)
    for (let x = 0, sum = 0; x < width; x++) {
      sum += sums[y * stride + x]
      // In steps: sums that were begun elsewhere give the same bits.
      const covered = Math.round(STEPS * Math.abs(sum)) / STEPS
      if (covered > 0) {
        isEmpty = false
        out[y * width + x] = covered > 1 ? 1 : covered
      }
    }
  return isEmpty ? null : out
}

/** As fine as kept layers are. */
const STEPS = 65536

/** Adds what one side covers: in each row it crosses, its share of the pixels at its right. */
function addSide(
  sums: Float64Array,
  stride: number,
  width: number,
  height: number,
  xa: number,
  ya: number,
  xb: number,
  yb: number,
): void {
  const sign = ya < yb ? 1 : -1
  const [x0, y0, x1, y1] = sign > 0 ? [xa, ya, xb, yb] : [xb, yb, xa, ya]
  const slope = (x1 - x0) / (y1 - y0)
  const first = Math.max(0, Math.floor(y0))
  const last = Math.min(height, Math.ceil(y1))
  for (let row = first; row < last; row++) {
    const upper = Math.max(row, y0)
    const lower = Math.min(row + 1, y1)
    const down = lower - upper
    if (down <= 0) continue
    const xu = x0 + (upper - y0) * slope
    const xl = x0 + (lower - y0) * slope
    addPiece(sums, row * stride, width, Math.min(xu, xl), Math.max(xu, xl), sign * down)
  }
}

/** A side within one row, from left to right; what lies beside the window is put at its borders. */
function addPiece(
  sums: Float64Array,
  at: number,
  width: number,
  from: number,
  to: number,
  down: number,
): void {
  if (to <= 0) {
    sums[at] += down
    return
  }
  if (from >= width) return
  if (from < 0 || to > width) {
    // 1. Shares of it beside the window at either side, …
    const across = to - from
    const before = Math.max(0, -from) / across
    const after = Math.max(0, to - width) / across
    if (before > 0) sums[at] += down * before
    const inside = 1 - before - after
    if (inside > 0) addPiece(sums, at, width, Math.max(0, from), Math.min(width, to), down * inside)
    return
  }
  // 2. … the rest pixel by pixel.
  const first = Math.floor(from)
  const last = Math.min(width - 1, Math.ceil(to) - 1)
  if (last <= first) {
    const covered = 1 - ((from + to) / 2 - first)
    sums[at + first] += down * covered
    sums[at + first + 1] += down * (1 - covered)
    return
  }
  const per = down / (to - from)
  let held = 0
  for (let x = first; x <= last; x++) {
    const a = Math.max(from, x)
    const b = Math.min(to, x + 1)
    const own = (b - a) * per
    const covered = own * (1 - ((a + b) / 2 - x))
    // What crosses this pixel covers a part of it, and all that lies at its right.
    sums[at + x] += covered + held
    held = own - covered
  }
  sums[at + last + 1] += held
}
