/** Whole numbers that threads share; null where they cannot. */
export const sharedNumbers = (count: number): Int32Array | null =>
  typeof SharedArrayBuffer === 'undefined' ? null : new Int32Array(new SharedArrayBuffer(4 * count))
