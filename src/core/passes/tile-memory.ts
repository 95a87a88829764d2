/** Room at first, bytes. */
const FIRST = 1 << 20
/** Arrays begin at multiples of so many bytes. */
const STEP = 8

/**
 * Room for what rendering a tile needs on the way, taken again for the next tile. Arrays of its own for every tile would be
 * hundreds of megabytes for a picture, and who collects them is busy for as long as who renders.
 */
export class TileMemory {
  private buffer = new ArrayBuffer(FIRST)
  private used = 0

  /** Takes all room again: what was given before holds something else from now on. */
  begin(): void {
    // What had no room lay elsewhere: next time it has.
    if (this.used > this.buffer.byteLength) this.buffer = new ArrayBuffer(2 * this.used)
    this.used = 0
  }

  private take(bytes: number): { readonly buffer: ArrayBuffer; readonly at: number } {
    const at = this.used
    this.used += Math.ceil(bytes / STEP) * STEP
    return this.used <= this.buffer.byteLength
      ? { buffer: this.buffer, at }
      : { buffer: new ArrayBuffer(bytes), at: 0 }
  }

  /** Numbers, all 0, good until {@link begin}. */
  floats(count: number): Float32Array {
    const { buffer, at } = this.take(4 * count)
    return new Float32Array(buffer, at, count).fill(0)
  }

  doubles(count: number): Float64Array {
    const { buffer, at } = this.take(8 * count)
    return new Float64Array(buffer, at, count).fill(0)
  }

  ints(count: number): Int32Array {
    const { buffer, at } = this.take(4 * count)
    return new Int32Array(buffer, at, count).fill(0)
  }

  unsigned(count: number): Uint32Array {
    const { buffer, at } = this.take(4 * count)
    return new Uint32Array(buffer, at, count).fill(0)
  }

  bytes(count: number): Uint8Array {
    const { buffer, at } = this.take(count)
    return new Uint8Array(buffer, at, count).fill(0)
  }
}
