import { unzipSync } from 'fflate'
import { UnreadableFileError } from '../errors'

/** Most bytes taken out of one zip: what a tab can hold beside the meshes made of it. */
const MOST_BYTES = 3 * 2 ** 30
/** Deflate cannot make more of a byte than this (RFC 1951: 258 bytes of one bit pair). */
const MOST_PER_BYTE = 1032

/**
 * The files of a zip, by path, for those whose ending is wanted.
 * @throws {UnreadableFileError} where it is no zip, is damaged, is locked with a password, or claims sizes that cannot
 * be true; nothing is unpacked before its claims were looked at.
 */
export function readZip(
  bytes: Uint8Array,
  fileName: string,
  wanted: (path: string) => boolean,
): Map<string, Uint8Array> {
  let total = 0
  let entries: Record<string, Uint8Array>
  try {
    entries = unzipSync(bytes, {
      filter: ({ name, size, originalSize }) => {
        if (name.endsWith('/') || !wanted(name)) return false
        if (originalSize > MOST_PER_BYTE * (size + 1) || size > bytes.length)
          throw new UnreadableFileError(fileName, `${name} claims a size that does not fit the file`)
        total += originalSize
        if (total > MOST_BYTES) throw new UnreadableFileError(fileName, 'it holds more than 3 GB of models')
        return true
      },
    })
  } catch (cause) {
    if (cause instanceof UnreadableFileError) throw cause
    throw new UnreadableFileError(fileName, 'it is not a zip file, is damaged or is locked with a password', {
      cause,
    })
  }
  return new Map(Object.entries(entries))
}
