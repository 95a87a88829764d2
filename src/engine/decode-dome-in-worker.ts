import type { DomeRaster } from '@/core/passes/dome-picture'
import type { DomeReply } from './dome-worker'

/** Decodes a picture of the surroundings off the main thread. @throws {Error} naming the file and the reason. */
export function decodeDomeInWorker(bytes: Uint8Array, name: string): Promise<DomeRaster> {
  const worker = new Worker(new URL('./dome-worker.ts', import.meta.url), { type: 'module' })
  return new Promise<DomeRaster>((resolve, reject) => {
    worker.onmessage = ({ data }: MessageEvent<DomeReply>) =>
      'raster' in data ? resolve(data.raster) : reject(new Error(data.problem))
    worker.onerror = () => reject(new Error(`${name}: reading it used up the memory of this tab`))
    worker.postMessage({ bytes, name })
  }).finally(() => worker.terminate())
}
