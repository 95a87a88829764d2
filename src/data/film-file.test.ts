import { afterEach, describe, expect, it, vi } from 'vitest'
import { openFilmFile } from './film-file'

afterEach(() => vi.unstubAllGlobals())

/** The browser's disk as far as it is used: what lies in it, and how many bytes it has room for. */
function disk(room: number) {
  const files = new Map<string, Uint8Array>()
  const folderAt = (path: string): unknown => ({
    getDirectoryHandle: (name: string) => Promise.resolve(folderAt(`${path}${name}/`)),
    removeEntry: (name: string) =>
      files.delete(path + name)
        ? Promise.resolve()
        : Promise.reject(new DOMException('not there', 'NotFoundError')),
    getFileHandle: (name: string) => {
      files.set(path + name, new Uint8Array())
      return Promise.resolve({
        createSyncAccessHandle: () =>
          Promise.resolve({
            write(bytes: Uint8Array, { at }: { at: number }) {
              if (at + bytes.length > room) throw new DOMException('no space', 'QuotaExceededError')
              const longer = new Uint8Array(Math.max(at + bytes.length, files.get(path + name)?.length ?? 0))
              longer.set(files.get(path + name) ?? [])
              longer.set(bytes, at)
              files.set(path + name, longer)
              return bytes.length
            },
            flush: () => undefined,
            close: () => undefined,
          }),
        getFile: () => Promise.resolve(new Blob([new Uint8Array(files.get(path + name) ?? [])])),
      })
    },
  })
  vi.stubGlobal('navigator', { storage: { getDirectory: () => Promise.resolve(folderAt('')) } })
  return files
}

describe('openFilmFile', () => {
  const place = { tab: 'tab', name: 'film' }
  it('writes at places, and hands over what was written', async () => {
    const files = disk(100)
    const file = await openFilmFile(place, 'video/mp4')
    file.write(new Uint8Array([1, 2, 3]), 0)
    file.write(new Uint8Array([9]), 4)
    file.write(new Uint8Array([7]), 1)
    expect(file.length()).toBe(5)
    const made = await file.end()
    expect(made.type).toBe('video/mp4')
    expect([...new Uint8Array(await made.arrayBuffer())]).toEqual([1, 7, 3, 0, 9])
    expect([...files.keys()]).toEqual(['films/tab/film'])
  })
  it('says in words that there is no room, and leaves nothing', async () => {
    const files = disk(100)
    const file = await openFilmFile(place, '')
    file.write(new Uint8Array(90), 0)
    expect(() => file.write(new Uint8Array(20), 90)).toThrow('The browser has no room left for the film.')
    await file.drop()
    expect(files.size).toBe(0)
  })
  it('writes to memory where the browser gives no disk', async () => {
    vi.stubGlobal('navigator', {})
    const file = await openFilmFile(place, 'image/gif')
    file.write(new Uint8Array(3 * 2 ** 20).fill(5), 0)
    file.write(new Uint8Array([6]), 2)
    const bytes = new Uint8Array(await (await file.end()).arrayBuffer())
    expect([bytes.length, bytes[0], bytes[2], bytes[3 * 2 ** 20 - 1]]).toEqual([3 * 2 ** 20, 5, 6, 5])
  })
})
