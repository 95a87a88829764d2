import { UnreadableFileError } from '@/core/errors'
import { MOST_FONT_BYTES, unfoldWoff } from '@/core/formats/woff'
import { openFont } from '@/core/type/shaper'

/** TrueType, OpenType, and what older tools call TrueType. */
const PLAIN = new Set([0x00010000, 0x4f54544f, 0x74727565])
const [WOFF, WOFF2] = [0x774f4646, 0x774f4632]

/** Unfolds a WOFF2 file: what does that is not for every thread. */
export type UnfoldWoff2 = (bytes: Uint8Array) => Promise<Uint8Array>

/**
 * A font file as a TrueType or OpenType file: as it is, or unfolded from WOFF or WOFF2.
 * @throws {UnreadableFileError} naming the file and why it cannot be read.
 */
export async function decodeFont(
  bytes: Uint8Array,
  name: string,
  unfoldWoff2: UnfoldWoff2,
): Promise<Uint8Array<ArrayBuffer>> {
  if (bytes.length < 12) throw new UnreadableFileError(name, 'is too short for a font')
  if (bytes.length > MOST_FONT_BYTES)
    throw new UnreadableFileError(name, 'is larger than a font may be (64 MB)')
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  const kind = view.getUint32(0)
  try {
    const font =
      kind === WOFF2
        ? new Uint8Array(await unfoldWoff2(bytes))
        : kind === WOFF
          ? unfoldWoff(bytes)
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
