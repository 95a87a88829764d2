import { realpath } from 'node:fs/promises'
import path from 'node:path'
import { UnreadableFileError } from '@/core/errors'

/**
 * The file that a name means inside a folder, links followed.
 * @param owner the file that names it.
 * @throws {UnreadableFileError} naming what leads out of the folder, or is not there.
 */
export async function insideFolder(folder: string, name: string, owner: string): Promise<string> {
  const full = path.resolve(folder, name)
  const refuse = (): never => {
    throw new UnreadableFileError(owner, `names ${name}, which does not lie in its folder`)
  }
  const isInside = (from: string, to: string): boolean => {
    const way = path.relative(from, to)
    return way !== '' && !way.startsWith('..') && !path.isAbsolute(way)
  }
  if (!isInside(path.resolve(folder), full)) refuse()
  let real: string
  try {
    real = await realpath(full)
  } catch (cause) {
    throw new UnreadableFileError(full, 'there is no such file', { cause })
  }
  if (!isInside(await realpath(folder), real)) refuse()
  return real
}
