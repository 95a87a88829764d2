import { closeSync, mkdtempSync, openSync, rmSync, statSync, writeSync } from 'node:fs'
import { tmpdir } from 'node:os'
import path from 'node:path'
import { newProject } from '@/data/new-project'
import { streamProjectArchive, type ProjectSource } from '@/data/project-archive'
import { testModel } from '@/data/testing/fixtures'

/** An export of five gigabytes in files of fifty megabytes that do not compress, streamed to disk: the largest memory of the process. */
const FILES = 100
const BYTES = 50e6

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

export async function main(): Promise<void> {
  const folder = mkdtempSync(path.join(tmpdir(), 'large-export-'))
  try {
    const file = path.join(folder, 'large.zip')
    const project = newProject('Large')
    project.models = Array.from({ length: FILES }, (_, i) => {
      const files = [{ name: `scan-${i}.stl`, fileId: `f${i}` }]
      return testModel({
        id: `m${i}`,
        name: `Scan ${i}`,
        source: { type: 'file', entry: files[0].name, files },
      })
    })
    const source: ProjectSource = {
      project,
      file: (fileId) => {
        const number = Number(fileId.slice(1))
        return Promise.resolve({ name: `scan-${number}.stl`, bytes: noise(number + 1) })
      },
      result: () => Promise.resolve(null),
      paint: () => Promise.resolve(null),
    }
    const began = performance.now()
    const handle = openSync(file, 'w')
    // A stream that waits for the disk: one that takes all that comes would hold it in memory.
    const out = new WritableStream<Uint8Array>({ write: (bytes) => void writeSync(handle, bytes) })
    await streamProjectArchive(source, out)
    closeSync(handle)
    console.log(
      `${(statSync(file).size / 1e9).toFixed(2)} GB in ${((performance.now() - began) / 1000).toFixed(0)} s, largest memory ${(process.resourceUsage().maxRSS / 1e3).toFixed(0)} MB`,
    )
  } finally {
    rmSync(folder, { recursive: true, force: true })
  }
}
