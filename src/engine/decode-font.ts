import { unzlibSync } from 'fflate'
import decompressWoff2 from 'woff2-encoder/decompress'
import { UnreadableFileError } from '@/core/errors'
import { openFont } from '@/core/type/shaper'

/** Larger files are refused before they are unfolded. */
const MOST_FONT_BYTES = 64 * 2 ** 20
/** TrueType, OpenType, and what older tools call TrueType. */
const PLAIN = new Set([0x00010000, 0x4f54544f, 0x74727565])
const [WOFF, WOFF2] = [0x774f4646, 0x774f4632]

/**
 * A font file as a TrueType or OpenType file: as it is, or unfolded from WOFF or WOFF2.
 * @throws {UnreadableFileError} naming the file and why it cannot be read.
 */
export async function decodeFont(bytes: Uint8Array, name: string): Promise<Uint8Array<ArrayBuffer>> {
  if (bytes.length < 12) throw new UnreadableFileError(name, 'is too short for a font')
  if (bytes.length > MOST_FONT_BYTES) throw new UnreadableFileError(name, 'is larger than a font may be (64 MB)')
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  const kind = view.getUint32(0)
  try {
    const font =
      kind === WOFF2
        ? new Uint8Array(await decompressWoff2(bytes))
        : kind === WOFF
          ? unfoldWoff(bytes, view)
          : PLAIN.has(kind)
            ? new Uint8Array(bytes)
            : null
    if (!font) throw new UnreadableFileError(name, 'is no TrueType, OpenType, WOFF or WOFF2 file')
    openFont(font)
    return font
  } catch (cause) {
    if (cause instanceof UnreadableFileError) throw cause
    const why = cause instanceof Error ? cause.message : String(cause)
    throw new UnreadableFileError(name, `cannot be read as a font: ${why}`, { cause })
  }
}

/** WOFF 1.0 (W3C recommendation 2012): tables deflated one by one. */
function unfoldWoff(bytes: Uint8Array, view: DataView): Uint8Array<ArrayBuffer> {
  const count = view.getUint16(12)
  const entries = Array.from({ length: count }, (_, i) => {
    const at = 44 + 20 * i
    const [tag, from, packed, length, sum] = [0, 4, 8, 12, 16].map((by) => view.getUint32(at + by))
    return { tag, from, packed, length, sum }
  })
  const head = 12 + 16 * count
  const total = entries.reduce((sum, { length }) => sum + ((length + 3) & ~3), head)
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
    to += (length + 3) & ~3
  })
  return out
}
