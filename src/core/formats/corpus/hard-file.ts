import { strToU8 } from 'fflate'

/** A file as it may come from anywhere, and what a reader must make of it. */
export interface HardFile {
  readonly name: string
  readonly entry: string
  readonly files: ReadonlyMap<string, Uint8Array>
  /** Polygons it holds, or how it is refused. */
  readonly want: number | RegExp
  /** Size of the box round it, where it matters. */
  readonly size?: readonly [number, number, number]
  /** Codes that must be among the warnings. */
  readonly warns?: readonly string[]
}

export const utf8 = (text: string): Uint8Array => strToU8(text)

/** Text as bytes of another encoding. */
export function encoded(
  text: string,
  as: 'utf8' | 'utf8 mark' | 'utf16le' | 'utf16be',
  mark = true,
): Uint8Array {
  if (as === 'utf8') return utf8(text)
  if (as === 'utf8 mark') return Uint8Array.of(0xef, 0xbb, 0xbf, ...utf8(text))
  const units = mark ? `\ufeff${text}` : text
  const view = new DataView(new ArrayBuffer(2 * units.length))
  for (let i = 0; i < units.length; i++) view.setUint16(2 * i, units.charCodeAt(i), as === 'utf16le')
  return new Uint8Array(view.buffer)
}

/** Bytes one after the other. */
export function joined(...pieces: readonly Uint8Array[]): Uint8Array {
  const out = new Uint8Array(pieces.reduce((sum, piece) => sum + piece.length, 0))
  let at = 0
  for (const piece of pieces) {
    out.set(piece, at)
    at += piece.length
  }
  return out
}
