/** Typed arrays in shared memory where the host offers it, in plain memory where not. */
const canShare = typeof SharedArrayBuffer !== 'undefined'

const buffer = (bytes: number): ArrayBufferLike =>
  canShare ? new SharedArrayBuffer(bytes) : new ArrayBuffer(bytes)

export const sharedFloat32 = (count: number): Float32Array => new Float32Array(buffer(4 * count))
export const sharedUint32 = (count: number): Uint32Array => new Uint32Array(buffer(4 * count))
export const sharedUint8 = (count: number): Uint8Array => new Uint8Array(buffer(count))
