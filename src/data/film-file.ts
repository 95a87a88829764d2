import { dropFilm, filmFolder, type FilmPlace } from './film-place'

/** What a worker writes a file with: the file system standard's, which the language's own types of pages leave out. */
interface SyncAccess {
  readonly write: (bytes: Uint8Array, options: { readonly at: number }) => number
  readonly flush: () => void
  readonly close: () => void
}
type OwnFile = FileSystemFileHandle & { readonly createSyncAccessHandle: () => Promise<SyncAccess> }

/** Bytes at places of a file, on disk, so that a film is never in memory as a whole. */
export interface FilmFile {
  /** How long it is. */
  readonly length: () => number
  /** @throws {Error} in words where there is no room. */
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

const isQuota = (error: unknown): boolean => error instanceof Error && error.name === 'QuotaExceededError'
const noRoom = (cause?: unknown): Error => new Error('The browser has no room left for the film.', { cause })

/** Opens a file for a film, in a worker. @throws {Error} in words where there is no room. */
export async function openFilmFile(place: FilmPlace, media: string): Promise<FilmFile> {
  try {
    const folder = await filmFolder(place.tab, true)
    const handle = (await folder.getFileHandle(place.name, { create: true })) as OwnFile
    const access = await handle.createSyncAccessHandle()
    let length = 0
    let isOpen = true
    const close = () => {
      if (isOpen) access.close()
      isOpen = false
    }
    const written = (bytes: Uint8Array, at: number): number => {
      try {
        return access.write(bytes, { at })
      } catch (error) {
        throw isQuota(error) ? noRoom(error) : error
      }
    }
    return {
      length: () => length,
      write(bytes, position) {
        if (written(bytes, position) < bytes.length) throw noRoom()
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
        await dropFilm(place)
      },
    }
  } catch (error) {
    if (isQuota(error)) throw noRoom(error)
    return inMemory(media)
  }
}
