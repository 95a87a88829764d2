import { existsSync } from 'node:fs'
import { readFile } from 'node:fs/promises'
import path from 'node:path'
import { UnreadableFileError } from '@/core/errors'
import type { ArchiveEntries } from '@/data/project-archive'

/** A folder that a project archive was unpacked to. Names lead nowhere but into it. */
export function unpackedProject(folder: string): ArchiveEntries {
  const root = path.resolve(folder)
  const within = (name: string): string => {
    const file = path.resolve(root, name)
    if (!file.startsWith(root + path.sep)) throw new UnreadableFileError(name, 'leads out of the project')
    return file
  }
  return {
    isPartial: true,
    has: (name) => existsSync(within(name)),
    read: async (name) => {
      try {
        return new Uint8Array(await readFile(within(name)))
      } catch (cause) {
        throw new UnreadableFileError(path.join(folder, name), 'cannot be read', { cause })
      }
    },
  }
}
