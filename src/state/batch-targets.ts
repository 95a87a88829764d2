import { BlobReader, BlobWriter, ZipWriter } from '@zip.js/zip.js'

/** A file of that name is there, and stays as it is. */
export class IsThereError extends Error {
  constructor() {
    super('is there already')
  }
}

/** Where files of a batch go, one after the other. */
export interface BatchTarget {
  /** @param replaces whether a file of that name may be written over. */
  readonly write: (file: string, content: Blob, replaces: boolean) => Promise<void>
  /** Whether what was written stays though the rest is cancelled. */
  readonly isLasting: boolean
  /** After the last. @returns what is to be saved; null: it is where it belongs. */
  readonly finish: () => Promise<Blob | null>
}

/** All in one zip, which the browser keeps on disk while it grows. */
export function zipTarget(): BatchTarget {
  const zip = new ZipWriter(new BlobWriter('application/zip'), { useWebWorkers: false })
  return {
    isLasting: false,
    // Pictures are as small as they get already.
    write: async (file, content) => void (await zip.add(file, new BlobReader(content), { level: 0 })),
    finish: () => zip.close(),
  }
}

/** Into a folder of the person's. A file appears there when it is whole; what is there already stays as it is, unless it may be replaced. */
export function folderTarget(folder: FileSystemDirectoryHandle): BatchTarget {
  return {
    isLasting: true,
    write: async (file, content, replaces) => {
      const steps = file.split('/')
      let at = folder
      for (const step of steps.slice(0, -1)) at = await at.getDirectoryHandle(step, { create: true })
      const name = steps.at(-1) ?? file
      if (!replaces && (await isIn(at, name))) throw new IsThereError()
      const handle = await at.getFileHandle(name, { create: true })
      const writable = await handle.createWritable()
      try {
        await writable.write(content)
        await writable.close()
      } catch (error) {
        await writable.abort().catch(() => undefined)
        throw error
      }
    },
    finish: () => Promise.resolve(null),
  }
}

async function isIn(folder: FileSystemDirectoryHandle, name: string): Promise<boolean> {
  try {
    await folder.getFileHandle(name)
    return true
  } catch (error) {
    if (error instanceof DOMException && error.name === 'NotFoundError') return false
    throw error
  }
}

/** Names of files in a folder and below it, small letters. */
export async function filesIn(folder: FileSystemDirectoryHandle, before = ''): Promise<Set<string>> {
  const found = new Set<string>()
  for await (const [name, handle] of folder.entries()) {
    const own = `${before}${name}`.toLowerCase()
    if (handle.kind === 'file') found.add(own)
    else
      for (const file of await filesIn(handle as FileSystemDirectoryHandle, `${before}${name}/`))
        found.add(file)
  }
  return found
}
