import { unzlibSync } from 'fflate'

/** Larger fonts are refused before they are unfolded. */
export const MOST_FONT_BYTES = 64 * 2 ** 20

/**
 * A WOFF file (W3C recommendation of version 1.0, 2012: tables deflated one by one) as the font that was folded into it.
 * @throws {Error} where it is damaged, or unfolds to more than a font may be.
 */
export function unfoldWoff(bytes: Uint8Array): Uint8Array<ArrayBuffer> {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  const count = view.getUint16(12)
  const entries = Array.from({ length: count }, (_, i) => {
    const at = 44 + 20 * i
    const [tag, from, packed, length, sum] = [0, 4, 8, 12, 16].map((by) => view.getUint32(at + by))
    return { tag, from, packed, length, sum }
  })
  const head = 12 + 16 * count
  const total = entries.reduce((sum, { length }) => sum + padded(length), head)
  if (total > MOST_FONT_BYTES) throw new Error('it unfolds to more than 64 MB')
  const out = new Uint8Array(total)
  const write = new DataView(out.buffer)
  write.setUint32(0, view.getUint32(4))
  write.setUint16(4, count)
  const power = Math.floor(Math.log2(Math.max(1, count)))
  write.setUint16(6, 16 * 2 ** power)
  write.setUint16(8, power)
  write.setUint16(10, 16 * count - 16 * 2 ** power)
  let to = head
  entries.forEach(({ tag, from, packed, length, sum }, i) => {
    const data = bytes.subarray(from, from + packed)
    const table = packed < length ? unzlibSync(data, { out: new Uint8Array(length) }) : data
    if (table.length !== length) throw new Error('a table is shorter than it says')
    out.set(table, to)
    ;[tag, sum, to, length].forEach((value, k) => write.setUint32(12 + 16 * i + 4 * k, value))
    to += padded(length)
  })
  return out
}

/** Tables begin at multiples of four bytes. A length may be any that four bytes can say. */
const padded = (length: number): number => 4 * Math.ceil(length / 4)
