import { describe, expect, it } from 'vitest'
import { droppedFiles, pickedFiles } from './given-files'

/** Entries as browsers hand them out: a folder's a few at a time, until none is left. */
const fileEntry = (fullPath: string): FileSystemEntry =>
  ({
    isFile: true,
    isDirectory: false,
    fullPath,
    file: (take: (file: File) => void) => take(new File(['x'], fullPath.split('/').pop() ?? '')),
  }) as unknown as FileSystemEntry
const folderEntry = (fullPath: string, inside: readonly FileSystemEntry[]): FileSystemEntry =>
  ({
    isFile: false,
    isDirectory: true,
    fullPath,
    createReader: () => {
      let at = 0
      return {
        readEntries: (take: (entries: FileSystemEntry[]) => void) => take(inside.slice(at, (at += 2))),
      }
    },
  }) as unknown as FileSystemEntry
const drop = (entries: readonly (FileSystemEntry | null)[], files: readonly File[] = []): DataTransfer =>
  ({
    items: entries.map((entry) => ({ kind: 'file', webkitGetAsEntry: () => entry })),
    files,
  }) as unknown as DataTransfer

describe('dropped files', () => {
  it('of a folder come with their paths, however many and however deep', async () => {
    const shed = folderEntry('/shed', [
      fileEntry('/shed/a.obj'),
      folderEntry(
        '/shed/tex',
        ['1', '2', '3'].map((n) => fileEntry(`/shed/tex/${n}.png`)),
      ),
      fileEntry('/shed/a.mtl'),
    ])
    const found = await droppedFiles(drop([shed, fileEntry('/b.ply')]))
    expect(found.map((f) => f.path)).toEqual([
      'shed/a.obj',
      'shed/tex/1.png',
      'shed/tex/2.png',
      'shed/tex/3.png',
      'shed/a.mtl',
      'b.ply',
    ])
  })
  it('of a folder without a bottom end somewhere', async () => {
    const endless: FileSystemEntry = folderEntry('/x', [])
    Object.assign(endless, folderEntry('/x', [endless, fileEntry('/x/a.obj')]))
    expect((await droppedFiles(drop([endless]))).length).toBeLessThan(40)
  })
  it('come as a plain list where the browser knows no folders', async () => {
    const file = new File(['x'], 'a.obj')
    expect(await droppedFiles(drop([null], [file]))).toEqual([{ path: 'a.obj', file }])
    expect(pickedFiles([file])[0].path).toBe('a.obj')
  })
})
