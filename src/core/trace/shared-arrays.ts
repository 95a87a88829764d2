/** Typed arrays in shared memory where the host offers it, in plain memory where not. */
const canShare = typeof SharedArrayBuffer !== 'undefined'

const buffer = (bytes: number): ArrayBufferLike =>
  canShare ? new SharedArrayBuffer(bytes) : new ArrayBuffer(bytes)

/** A copy of an array in shared memory: it then crosses to other threads without being copied again. */
export function shareArray<T extends Float32Array | Uint32Array>(array: T): T {
  if (!canShare) return array
  const memory = new SharedArrayBuffer(array.byteLength)
  const copy = array instanceof Float32Array ? new Float32Array(memory) : new Uint32Array(memory)
  copy.set(array)
  return copy as T
}

export const sharedFloat32 = (count: number): Float32Array => new Float32Array(buffer(4 * count))
export const sharedUint32 = (count: number): Uint32Array => new Uint32Array(buffer(4 * count))
export const sharedUint8 = (count: number): Uint8Array => new Uint8Array(buffer(count))
