import fc from 'fast-check'
import { strToU8, zipSync } from 'fflate'
import { describe, expect, it } from 'vitest'
import { isModelFile } from './model-readers'
import { ARCHIVE_ZIP, bytesSource, fileSource, MODEL_ZIP, ZipFile } from './zip-file'

const open = (bytes: Uint8Array, limits = ARCHIVE_ZIP) => ZipFile.open(bytesSource(bytes), 'a.zip', limits)

/** A zip whose directory says something else of its first entry. @param at byte of the directory record. */
function forged(zip: Uint8Array, at: number, value: number): Uint8Array {
  const lie = zip.slice()
  const view = new DataView(lie.buffer)
  for (let i = 0; i + 46 < lie.length; i++) {
    if (view.getUint32(i, true) !== 0x02014b50) continue
    view.setUint32(i + at, value, true)
    break
  }
  return lie
}

describe('ZipFile', () => {
  it('gives back what another writer put in, whatever the names', async () => {
    const name = fc.stringMatching(/^[a-zåß字]{1,8}(\/[a-zåß字 .]{1,6}[a-z])?$/)
    const content = fc.uint8Array({ maxLength: 400 })
    await fc.assert(
      fc.asyncProperty(fc.dictionary(name, content, { minKeys: 1, maxKeys: 6 }), async (files) => {
        const zip = await open(zipSync(files))
        expect(zip.names.sort()).toEqual(Object.keys(files).sort())
        for (const [path, bytes] of Object.entries(files)) {
          expect(zip.sizeOf(path)).toBe(bytes.length)
          expect([...(await zip.read(path))]).toEqual([...bytes])
        }
      }),
      { numRuns: 60, seed: 5 },
    )
  })
  it('unfolds what is wanted, with a share that rises to 1', async () => {
    const files = {
      'shed/a.obj': strToU8('v 0 0 0\n'.repeat(9000)),
      'notes.txt': strToU8('x'),
      'b.png': strToU8('p'),
    }
    const told: number[] = []
    const zip = await ZipFile.open(fileSource(new Blob([zipSync(files)])), 'a.zip', MODEL_ZIP)
    const got = await zip.readAll(isModelFile, { onProgress: (share) => void told.push(share) })
    expect([...got.keys()].sort()).toEqual(['b.png', 'shed/a.obj'])
    expect(told.at(-1)).toBe(1)
    expect(told).toEqual([...told].sort((a, b) => a - b))
  })
  it('is refused where it is none or is cut short', async () => {
    await expect(open(strToU8('not a zip at all'))).rejects.toThrow('a.zip: it is not a zip file')
    const zip = zipSync({ 'a.obj': strToU8('v 0 0 0\n'.repeat(1000)) })
    await expect(open(zip.slice(0, zip.length / 2))).rejects.toThrow(/^a\.zip: it is not a zip file/)
  })
  it('is refused by name for sizes that cannot be, before a byte is unfolded', async () => {
    const zip = zipSync({ 'a.obj': strToU8('v 0 0 0\n'.repeat(1000)) })
    await expect(open(forged(zip, 24, 2 ** 31))).rejects.toThrow('a.obj claims a size that does not fit')
    // As large as deflate can make of it, which no honest file is.
    const bomb = zipSync({ 'x.exr': new Uint8Array(80 * 2 ** 20) }, { level: 9 })
    let unfolded = 0
    const watched = {
      size: bomb.length,
      read: async (start: number, length: number) => {
        unfolded += length
        return bomb.subarray(start, start + length)
      },
    }
    const refusal = ZipFile.open(watched, 'a.zip', ARCHIVE_ZIP)
    await expect(refusal).rejects.toThrow(/x\.exr would unfold from 8\d kB to 83\.9 MB: no honest file does/)
    expect(unfolded).toBeLessThan(70_000)
  })
  it('is refused for the sum of what it holds, and for too many files', async () => {
    const zip = zipSync({ a: new Uint8Array(9000), b: new Uint8Array(9000) }, { level: 0 })
    await expect(open(zip, { ...MODEL_ZIP, mostBytes: 12_000 })).rejects.toThrow(
      'it would unfold to 18 kB; 12 kB are the most',
    )
    await expect(open(zip, { ...MODEL_ZIP, mostEntries: 1 })).rejects.toThrow(/holds 2 files; 1 are the most/)
  })
  it.each(['../out.obj', 'a/../../out.obj', '/etc/out.obj', 'C:\\out.obj', '..\\out.obj'])(
    'refuses the path %s',
    async (path) => {
      await expect(open(zipSync({ [path]: strToU8('x') }))).rejects.toThrow(
        'is a path that leads out of the zip',
      )
    },
  )
  it('says which entry is locked, is missing or is damaged', async () => {
    const zip = zipSync({ 'a.obj': strToU8('v 0 0 0\n'.repeat(1000)) })
    // Bit 0 of the flags.
    await expect(open(forged(zip, 8, 1))).rejects.toThrow(/a\.obj is locked with a password/)
    await expect((await open(zip)).read('b.obj')).rejects.toThrow('a.zip: b.obj is missing from it')
    const spoilt = zip.slice()
    spoilt.fill(0xff, 40, 50)
    await expect((await open(spoilt)).read('a.obj')).rejects.toThrow('a.zip: a.obj is damaged')
    await expect((await open(forged(zip, 24, 7000))).read('a.obj')).rejects.toThrow('a.obj is damaged')
  })
})
