import { PAGE_BYTES, pagesFor } from '../wasm/linear-memory'
import { pictureKernelOver, pictureMemory, type PictureExports } from './picture-kernel'

/** Memory of this thread for work that is over when its caller returns: nothing in it is kept for the next. */
export interface Scratch {
  readonly kernel: PictureExports
  /** Numbers in it, until more room is asked for. @param count of numbers. */
  floats(address: number, count: number): Float32Array<ArrayBuffer>
  ints(address: number, count: number): Int32Array<ArrayBuffer>
}

/** Parts lie at multiples of so many bytes. */
const ALIGNED = 16

let own: (Scratch & { readonly roomFor: (bytes: number) => void }) | null = null
/** What is in use, from the beginning. Bytes. */
let used = ALIGNED

function begun(): NonNullable<typeof own> {
  const memory = pictureMemory(PAGE_BYTES, false)
  const buffer = () => memory.buffer as ArrayBuffer
  return {
    kernel: pictureKernelOver(memory),
    floats: (address, count) => new Float32Array(buffer(), address, count),
    ints: (address, count) => new Int32Array(buffer(), address, count),
    roomFor: (bytes) => {
      const missing = pagesFor(bytes) - memory.buffer.byteLength / PAGE_BYTES
      if (missing > 0) memory.grow(missing)
    },
  }
}

/**
 * Does work that needs room beside the numbers of JavaScript; work within it gets room of its own.
 * @param sizes bytes of each part. @param work told the address of each, a multiple of 16.
 * @throws {RangeError} where there is no such memory.
 */
export function withScratch<R>(
  sizes: readonly number[],
  work: (scratch: Scratch, at: readonly number[]) => R,
): R {
  own ??= begun()
  const before = used
  const at = sizes.map((bytes) => {
    const from = used
    used += Math.ceil(bytes / ALIGNED) * ALIGNED
    return from
  })
  try {
    own.roomFor(used)
    return work(own, at)
  } finally {
    used = before
  }
}
