import { kernelMemory, kernelOver, type KernelExports } from '../trace/kernel-memory'

/** Nothing lies before this in a kernel's memory; see kernel/layout.ts. */
const START = 1024
/** Arrays begin at multiples of this, and so much behind each may be read. */
const APART = 16

interface Planned<T> {
  readonly at: number
  readonly view: (buffer: ArrayBufferLike) => T
}

/** Plans arrays that lie one behind the other in a memory of their own, which goes when nobody holds a view of it. */
export class KernelArrays {
  private end = START

  floats(length: number): Planned<Float32Array> {
    return this.plan(4 * length, (buffer, at) => new Float32Array(buffer, at, length))
  }
  doubles(length: number): Planned<Float64Array> {
    return this.plan(8 * length, (buffer, at) => new Float64Array(buffer, at, length))
  }
  words(length: number): Planned<Uint32Array> {
    return this.plan(4 * length, (buffer, at) => new Uint32Array(buffer, at, length))
  }
  bytes(length: number): Planned<Uint8Array> {
    return this.plan(length, (buffer, at) => new Uint8Array(buffer, at, length))
  }

  /** Where the next array would begin: what lies from there on is the kernel's own. */
  get rest(): number {
    return this.end
  }

  /** The kernel over a memory that holds what was planned, all of it zero. */
  open(): {
    readonly kernel: KernelExports
    /** An array as it is now; after a call that may grow the memory it is to be asked for again. */
    readonly view: <T>(planned: Planned<T>) => T
  } {
    const memory = kernelMemory(this.end, false)
    return { kernel: kernelOver(memory), view: ({ view }) => view(memory.buffer) }
  }

  private plan<T>(bytes: number, view: (buffer: ArrayBufferLike, at: number) => T): Planned<T> {
    const at = this.end
    this.end += Math.ceil((bytes + APART) / APART) * APART
    return { at, view: (buffer) => view(buffer, at) }
  }
}
