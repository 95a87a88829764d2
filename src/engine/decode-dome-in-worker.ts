import type { DomeRaster } from '@/core/passes/dome-picture'
import type { DomeReply } from './dome-worker'

/** A damaged picture may keep a decoder busy for ever. */
const LONGEST_MS = 60_000

/** Decodes a picture of the surroundings off the main thread. @throws {Error} naming the file and the reason. */
export function decodeDomeInWorker(bytes: Uint8Array, name: string): Promise<DomeRaster> {
  const worker = new Worker(new URL('./dome-worker.ts', import.meta.url), { type: 'module' })
  let limit: ReturnType<typeof setTimeout> | undefined
  return new Promise<DomeRaster>((resolve, reject) => {
    limit = setTimeout(
      () => reject(new Error(`${name}: reading it takes too long; it is damaged`)),
      LONGEST_MS,
    )
    worker.onmessage = ({ data }: MessageEvent<DomeReply>) =>
      'raster' in data ? resolve(data.raster) : reject(new Error(data.problem))
    worker.onerror = () => reject(new Error(`${name}: reading it used up the memory of this tab`))
    worker.postMessage({ bytes, name })
  }).finally(() => {
    clearTimeout(limit)
    worker.terminate()
  })
}
