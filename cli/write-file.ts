import { mkdir, rename, rm, rmdir, stat, writeFile } from 'node:fs/promises'
import { rmSync } from 'node:fs'
import path from 'node:path'
import { UnreadableFileError } from '@/core/errors'

/** Refuses before any work when a file is there and may not be replaced. */
export async function refuseExisting(file: string, overwrite: boolean): Promise<void> {
  if (overwrite) return
  const there = await stat(file).catch(() => null)
  if (there) throw new UnreadableFileError(file, 'is already there; give --overwrite to replace it')
}

const reasonOf = (cause: unknown): string =>
  cause instanceof Error && 'code' in cause ? String(cause.code) : 'unknown reason'

/**
 * Makes folders where they are missing, one step at a time: asked for all of a path at once, some file systems never answer.
 * @returns those that were made, outermost first.
 * @throws {UnreadableFileError} naming the folder; what was made so far is removed.
 */
async function makeFolders(folders: readonly string[]): Promise<string[]> {
  const made: string[] = []
  for (const folder of new Set(folders.map((f) => path.resolve(f)))) {
    const missing: string[] = []
    for (let at = folder; !(await stat(at).catch(() => null)); at = path.dirname(at)) missing.unshift(at)
    for (const step of missing) {
      try {
        await mkdir(step)
        made.push(step)
      } catch (cause) {
        await removeEmpty(made)
        throw new UnreadableFileError(folder, `the folder could not be made (${reasonOf(cause)})`, { cause })
      }
    }
  }
  return made
}

/**
 * Makes the folders that files are to go to, before the work, so that what cannot be written is refused at once; where the
 * work fails they go again.
 */
export async function withFolders<T>(files: readonly string[], work: () => Promise<T>): Promise<T> {
  const made = await makeFolders(files.map((file) => path.dirname(file)))
  try {
    return await work()
  } catch (error) {
    await removeEmpty(made)
    throw error
  }
}

/** Removes those of the folders that hold nothing. */
async function removeEmpty(folders: readonly string[]): Promise<void> {
  for (const folder of [...folders].reverse()) await rmdir(folder).catch(() => undefined)
}

/**
 * Writes whole or not at all: to a name of its own first, then renamed.
 * @param bytes or pieces of them; what fails while they are made fails as it is.
 */
export async function writeWhole(
  file: string,
  bytes: Uint8Array | string | Iterable<Uint8Array>,
): Promise<void> {
  const partial = `${file}.${process.pid}.partial`
  unfinished.add(partial)
  try {
    await makeFolders([path.dirname(file)])
    await writeFile(partial, bytes)
    await rename(partial, file)
  } catch (cause) {
    await rm(partial, { force: true }).catch(() => undefined)
    const isOfTheFile = cause instanceof Error && 'code' in cause
    if (cause instanceof UnreadableFileError || !isOfTheFile) throw cause
    throw new UnreadableFileError(file, `could not be written (${reasonOf(cause)})`, { cause })
  } finally {
    unfinished.delete(partial)
  }
}

/** Files that are being written. */
const unfinished = new Set<string>()

/** Removes what is half written, for a command that is interrupted. */
export function removeUnfinished(): void {
  for (const file of unfinished) rmSync(file, { force: true })
}
