/**
 * Sixty-four fixed sample points per pixel, one bit each: the union of any number of strokes is exact at that
 * resolution, so lines that meet or overlap never darken twice, and lines denser than the pixels add up to the share
 * they really cover. Points are a rank-1 lattice: each of 64 columns and each of 64 rows holds one.
 */
const SAMPLES = 64
const OFFSETS_X = new Float64Array(SAMPLES)
const OFFSETS_Y = new Float64Array(SAMPLES)
for (let i = 0; i < SAMPLES; i++) {
  OFFSETS_X[i] = (i + 0.5) / SAMPLES
  OFFSETS_Y[i] = (((i * 19) % SAMPLES) + 0.5) / SAMPLES
}

export class CoverageMask {
  private readonly low: Uint32Array
  private readonly high: Uint32Array

  /** A mask for the pixels x … x + width − 1, y … y + height − 1 of a picture. */
  constructor(
    readonly x: number,
    readonly y: number,
    readonly width: number,
    readonly height: number,
  ) {
    this.low = new Uint32Array(width * height)
    this.high = new Uint32Array(width * height)
  }

  /** Marks everything within `halfWidth` pixels of the segment from (x0, y0) to (x1, y1), ends round. */
  stroke(x0: number, y0: number, x1: number, y1: number, halfWidth: number): void {
    const left = Math.max(0, Math.floor(Math.min(x0, x1) - halfWidth - this.x))
    const right = Math.min(this.width - 1, Math.floor(Math.max(x0, x1) + halfWidth - this.x))
    const top = Math.max(0, Math.floor(Math.min(y0, y1) - halfWidth - this.y))
    const bottom = Math.min(this.height - 1, Math.floor(Math.max(y0, y1) + halfWidth - this.y))
    if (left > right || top > bottom) return
    const dx = x1 - x0
    const dy = y1 - y0
    const lengthSquared = dx * dx + dy * dy
    const inverse = lengthSquared > 0 ? 1 / lengthSquared : 0
    const limit = halfWidth * halfWidth
    // Past half a pixel's diagonal beyond the stroke, no sample of a pixel can be inside; that far within, all are.
    const outer = (halfWidth + 0.7072) ** 2
    const inner = halfWidth > 0.7072 ? (halfWidth - 0.7072) ** 2 : -1
    for (let row = top; row <= bottom; row++) {
      for (let column = left; column <= right; column++) {
        const p = row * this.width + column
        if (this.low[p] === 0xffffffff && this.high[p] === 0xffffffff) continue
        const px = this.x + column - x0
        const py = this.y + row - y0
        const centre = distanceSquared(px + 0.5, py + 0.5, dx, dy, inverse)
        if (centre > outer) continue
        if (centre < inner) {
          this.low[p] = this.high[p] = 0xffffffff
          continue
        }
        let low = 0
        let high = 0
        for (let s = 0; s < 32; s++) {
          if (distanceSquared(px + OFFSETS_X[s], py + OFFSETS_Y[s], dx, dy, inverse) <= limit) low |= 1 << s
          if (distanceSquared(px + OFFSETS_X[s + 32], py + OFFSETS_Y[s + 32], dx, dy, inverse) <= limit)
            high |= 1 << s
        }
        this.low[p] |= low
        this.high[p] |= high
      }
    }
  }

  /** Share of each pixel that is covered, 0…1. */
  coverage(): Float32Array {
    const out = new Float32Array(this.width * this.height)
    for (let p = 0; p < out.length; p++) out[p] = (bitCount(this.low[p]) + bitCount(this.high[p])) / SAMPLES
    return out
  }
}

function distanceSquared(px: number, py: number, dx: number, dy: number, inverse: number): number {
  let along = (px * dx + py * dy) * inverse
  if (along < 0) along = 0
  else if (along > 1) along = 1
  const x = px - along * dx
  const y = py - along * dy
  return x * x + y * y
}

function bitCount(bits: number): number {
  let x = bits - ((bits >>> 1) & 0x55555555)
  x = (x & 0x33333333) + ((x >>> 2) & 0x33333333)
  return Math.imul((x + (x >>> 4)) & 0x0f0f0f0f, 0x01010101) >>> 24
}
