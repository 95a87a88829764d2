import { expect } from 'vitest'

/**
 * Arrays of numbers are compared as bytes: number by number, as the runner does it by itself, half a million take four seconds.
 * Where bytes differ, numbers of a float array may still be the same.
 */
function sameNumbers(a: unknown, b: unknown): boolean | undefined {
  if (!ArrayBuffer.isView(a) || !ArrayBuffer.isView(b)) return undefined
  if (a.constructor !== b.constructor || a.byteLength !== b.byteLength) return false
  const [x, y] = [a, b].map(({ buffer, byteOffset, byteLength }) =>
    Buffer.from(buffer as ArrayBuffer, byteOffset, byteLength),
  )
  if (x.equals(y)) return true
  if (!(a instanceof Float32Array || a instanceof Float64Array)) return false
  return a.every((v, i) => Object.is(v, (b as Float32Array)[i]))
}

expect.addEqualityTesters([sameNumbers])
