/**
 * Hashes that stay the same between machines, sessions and key orders. Not for security: for telling whether two
 * things are the same thing. FNV-1a folded over two 32-bit lanes.
 */

function fold(bytes: Uint8Array, seedA: number, seedB: number): string {
  let a = seedA | 0
  let b = seedB | 0
  for (let i = 0; i < bytes.length; i++) {
    a = Math.imul(a ^ bytes[i], 0x01000193)
    b = Math.imul(b ^ bytes[i], 0x85ebca6b)
    b ^= b >>> 13
  }
  a ^= a >>> 16
  b ^= b >>> 16
  return (a >>> 0).toString(16).padStart(8, '0') + (b >>> 0).toString(16).padStart(8, '0')
}

/** 16 hex digits for the bytes under a typed array. */
export function hashBytes(view: ArrayBufferView): string {
  return fold(
    new Uint8Array(view.buffer, view.byteOffset, view.byteLength),
    0x811c9dc5,
    view.byteLength ^ 0x9747b28c,
  )
}

/** JSON with object keys in order and `undefined` left out, so equal values give equal text. */
export function canonicalJson(value: unknown): string {
  if (value === null || typeof value !== 'object') return JSON.stringify(value) ?? 'null'
  if (Array.isArray(value)) return `[${value.map(canonicalJson).join(',')}]`
  const entries = Object.entries(value).filter(([, v]) => v !== undefined)
  entries.sort(([a], [b]) => (a < b ? -1 : 1))
  return `{${entries.map(([k, v]) => `${JSON.stringify(k)}:${canonicalJson(v)}`).join(',')}}`
}

/** 16 hex digits for any JSON value. */
export const hashJson = (value: unknown): string => hashText(canonicalJson(value))

/** 16 hex digits for a text. */
export function hashText(text: string): string {
  const bytes = new Uint8Array(text.length * 2)
  for (let i = 0; i < text.length; i++) {
    const code = text.charCodeAt(i)
    bytes[2 * i] = code & 255
    bytes[2 * i + 1] = code >>> 8
  }
  return fold(bytes, 0x811c9dc5, text.length ^ 0x3c6ef372)
}
