/** Where a film goes while it is written: a file of the browser's own, on disk, so that it is never in memory as a whole. */
const FOLDER = 'films'

/** What a worker writes a file with: the file system standard's, which the language's own types of pages leave out. */
interface SyncAccess {
  readonly write: (bytes: Uint8Array, options: { readonly at: number }) => number
  readonly flush: () => void
  readonly close: () => void
}
type OwnFile = FileSystemFileHandle & { readonly createSyncAccessHandle: () => Promise<SyncAccess> }

/** Bytes at places of a file. */
export interface FilmFile {
  /** How long it is. */
  readonly length: () => number
  readonly write: (bytes: Uint8Array, position: number) => void
  /** @returns what was written. */
  readonly end: () => Promise<Blob>
  /** Leaves nothing behind. */
  readonly drop: () => Promise<void>
}

/** Written to memory where the browser gives no disk. */
function inMemory(media: string): FilmFile {
  let bytes = new Uint8Array(2 ** 20)
  let length = 0
  return {
    length: () => length,
    write(more, position) {
      const end = position + more.length
      if (end > bytes.length) {
        const wider = new Uint8Array(Math.max(end, 2 * bytes.length))
        wider.set(bytes.subarray(0, length))
        bytes = wider
      }
      bytes.set(more, position)
      length = Math.max(length, end)
    },
    end: () => Promise.resolve(new Blob([bytes.subarray(0, length)], { type: media })),
    drop: () => Promise.resolve(),
  }
}

/** Opens a file for a film, in a worker. */
export async function openFilmFile(media: string): Promise<FilmFile> {
  try {
    const root = await navigator.storage.getDirectory()
    const folder = await root.getDirectoryHandle(FOLDER, { create: true })
    const name = `${Date.now()}-${Math.random().toString(36).slice(2)}`
    const handle = (await folder.getFileHandle(name, { create: true })) as OwnFile
    const access = await handle.createSyncAccessHandle()
    let length = 0
    let isOpen = true
    const close = () => {
      if (isOpen) access.close()
      isOpen = false
    }
    return {
      length: () => length,
      write(bytes, position) {
        const written = access.write(bytes, { at: position })
        if (written < bytes.length) throw new Error('The browser has no room left for the film.')
        length = Math.max(length, position + bytes.length)
      },
      async end() {
        access.flush()
        close()
        const file = await handle.getFile()
        return file.slice(0, file.size, media)
      },
      async drop() {
        close()
        await folder.removeEntry(name).catch(() => undefined)
      },
    }
  } catch (error) {
    if (error instanceof Error && error.name === 'QuotaExceededError') throw error
    return inMemory(media)
  }
}

/** Films of before, that were handed over or broken off, make room. */
export async function dropFilms(): Promise<void> {
  try {
    const root = await navigator.storage.getDirectory()
    await root.removeEntry(FOLDER, { recursive: true })
  } catch {
    // There are none.
  }
}
