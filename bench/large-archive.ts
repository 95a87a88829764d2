import { createHash } from 'node:crypto'
import { createWriteStream, mkdtempSync, rmSync, statSync } from 'node:fs'
import { tmpdir } from 'node:os'
import path from 'node:path'
import { Writable } from 'node:stream'
import { newProject } from '@/data/new-project'
import { openProjectArchive, streamProjectArchive, type ProjectSource } from '@/data/project-archive'
import { testModel } from '@/data/testing/fixtures'
import { fileSourceOf } from '../cli/load-input'

/**
 * An archive beyond the 4 GB that 32 bits can tell (Zip64, APPNOTE.TXT 4.3.14), written to disk and read again: whether every
 * byte comes back, how long it takes, and the largest memory the process ever had. Its models do not compress.
 */
const MODELS = 6
const BYTES = 800e6

/** Bytes that no packing makes smaller, the same for a number. */
function noise(seed: number): Uint8Array {
  const words = new Uint32Array(BYTES / 4)
  let x = seed
  for (let i = 0; i < words.length; i++) {
    x ^= x << 13
    x ^= x >>> 17
    x ^= x << 5
    words[i] = x
  }
  return new Uint8Array(words.buffer)
}
const digest = (bytes: Uint8Array): string => createHash('sha256').update(bytes).digest('hex')
const seconds = (since: number): string => `${((performance.now() - since) / 1000).toFixed(0)} s`

export async function main(): Promise<void> {
  const folder = mkdtempSync(path.join(tmpdir(), 'large-archive-'))
  try {
    const file = path.join(folder, 'large.zip')
    const project = newProject('Large')
    const digests = new Map<string, string>()
    project.models = Array.from({ length: MODELS }, (_, i) => {
      const files = [{ name: `scan-${i}.stl`, fileId: `f${i}` }]
      return testModel({
        id: `m${i}`,
        name: `Scan ${i}`,
        source: { type: 'file', entry: files[0].name, files },
      })
    })
    const source: ProjectSource = {
      project,
      file: async (fileId) => {
        const bytes = noise(Number(fileId.slice(1)) + 1)
        digests.set(fileId, digest(bytes))
        return { name: `scan-${fileId.slice(1)}.stl`, bytes }
      },
      result: async () => null,
      paint: async () => null,
    }
    const writing = performance.now()
    await streamProjectArchive(source, Writable.toWeb(createWriteStream(file)))
    console.log(`${(statSync(file).size / 1e9).toFixed(2)} GB written in ${seconds(writing)}`)

    const opening = performance.now()
    const archive = await openProjectArchive(await fileSourceOf(file), 'large.zip')
    console.log(`directory and document judged in ${(performance.now() - opening).toFixed(0)} ms`)
    const reading = performance.now()
    for (const [fileId, before] of digests)
      if (digest((await archive.file(fileId)).bytes) !== before)
        throw new Error(`${fileId} came back otherwise`)
    console.log(`${digests.size} models read in ${seconds(reading)}, to the bit`)
    console.log(`largest memory ${(process.resourceUsage().maxRSS / 1e6).toFixed(1)} GB`)
  } finally {
    rmSync(folder, { recursive: true, force: true })
  }
}
