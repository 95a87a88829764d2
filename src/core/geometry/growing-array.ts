/** A typed array that grows by doubling: what readers collect into without a JavaScript array per number. */
export class GrowingFloats {
  private store = new Float32Array(1024)
  length = 0

  push3(x: number, y: number, z: number): void {
    if (this.length + 3 > this.store.length) this.grow()
    this.store[this.length++] = x
    this.store[this.length++] = y
    this.store[this.length++] = z
  }

  push2(x: number, y: number): void {
    if (this.length + 2 > this.store.length) this.grow()
    this.store[this.length++] = x
    this.store[this.length++] = y
  }

  at(index: number): number {
    return this.store[index]
  }

  /** A copy of exactly what was pushed. */
  toArray(): Float32Array {
    return this.store.slice(0, this.length)
  }

  private grow(): void {
    const next = new Float32Array(this.store.length * 2)
    next.set(this.store)
    this.store = next
  }
}

/** The same for unsigned integers. */
export class GrowingUints {
  private store = new Uint32Array(1024)
  length = 0

  push(value: number): void {
    if (this.length === this.store.length) {
      const next = new Uint32Array(this.store.length * 2)
      next.set(this.store)
      this.store = next
    }
    this.store[this.length++] = value
  }

  at(index: number): number {
    return this.store[index]
  }

  toArray(): Uint32Array {
    return this.store.slice(0, this.length)
  }

  /** Forgets everything past `length`: a face given up half-way. */
  truncate(length: number): void {
    this.length = length
  }
}
