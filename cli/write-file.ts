import { mkdir, rename, rm, stat, writeFile } from 'node:fs/promises'
import path from 'node:path'
import { UnreadableFileError } from '@/core/errors'

/** Refuses before any work when a file is there and may not be replaced. */
export async function refuseExisting(file: string, overwrite: boolean): Promise<void> {
  if (overwrite) return
  const there = await stat(file).catch(() => null)
  if (there) throw new UnreadableFileError(file, 'is already there; give --overwrite to replace it')
}

/** Writes whole or not at all: to a name of its own first, then renamed. */
export async function writeWhole(file: string, bytes: Uint8Array | string): Promise<void> {
  const partial = `${file}.${process.pid}.partial`
  try {
    await mkdir(path.dirname(file), { recursive: true })
    await writeFile(partial, bytes)
    await rename(partial, file)
  } catch (cause) {
    await rm(partial, { force: true }).catch(() => undefined)
    const reason = cause instanceof Error && 'code' in cause ? String(cause.code) : 'unknown reason'
    throw new UnreadableFileError(file, `could not be written (${reason})`, { cause })
  }
}
