/** Room of one that is pushed to number by number. */
const LEAST = 1024

/** Typed arrays that grow by doubling: what readers collect into without a JavaScript array per number. */
abstract class Growing<T extends Float32Array | Uint32Array | Uint8Array> {
  protected store: T
  length = 0

  constructor(private readonly make: (count: number) => T) {
    this.store = make(0)
  }

  /** Makes room for that many more. @returns the array to write them to, beginning at `length`. */
  reserve(count: number): T {
    const wanted = this.length + count
    if (wanted > this.store.length) {
      // The first large batch is often all there is: it gets room of just its size.
      const next = this.make(Math.max(wanted, this.store.length * 2, wanted < LEAST ? LEAST : 0))
      next.set(this.store.length > this.length ? this.store.subarray(0, this.length) : this.store)
      this.store = next
    }
    return this.store
  }
  push(value: number): void {
    this.reserve(1)[this.length++] = value
  }
  push2(x: number, y: number): void {
    const store = this.reserve(2)
    store[this.length++] = x
    store[this.length++] = y
  }
  push3(x: number, y: number, z: number): void {
    const store = this.reserve(3)
    store[this.length++] = x
    store[this.length++] = y
    store[this.length++] = z
  }
  /** Adds many at once. */
  append(values: ArrayLike<number>): void {
    this.reserve(values.length).set(values, this.length)
    this.length += values.length
  }
  at(index: number): number {
    return this.store[index]
  }
  /** What was pushed, without a copy: holds until the next push. */
  view(): T {
    return this.store.subarray(0, this.length) as T
  }
  /** Exactly what was pushed: the array itself where it is full, else a copy. Nothing more may be pushed. */
  toArray(): T {
    return (this.length === this.store.length ? this.store : this.store.slice(0, this.length)) as T
  }
  /** Lengthens with zeros. What was reserved and not filled is zero as it was made, and costs nothing until it is touched. */
  padTo(length: number): void {
    if (length <= this.length) return
    this.reserve(length - this.length)
    this.length = length
  }
}

export class GrowingFloats extends Growing<Float32Array> {
  constructor() {
    super((count) => new Float32Array(count))
  }
}
export class GrowingUints extends Growing<Uint32Array> {
  constructor() {
    super((count) => new Uint32Array(count))
  }
}
export class GrowingBytes extends Growing<Uint8Array> {
  constructor() {
    super((count) => new Uint8Array(count))
  }
}
