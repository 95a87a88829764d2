import type { DomeRaster } from '@/core/passes/dome-picture'
import { browserPort } from '@/core/workers/browser-port'
import { WorkerChannel } from '@/core/workers/worker-channel'
import type { DomeReply, DomeRequest } from './dome-worker'

/** A damaged picture may keep a decoder busy for ever. */
const LONGEST_MS = 60_000

/** Decodes a picture of the surroundings off the main thread. @throws {Error} naming the file and the reason. */
export async function decodeDomeInWorker(bytes: Uint8Array, name: string): Promise<DomeRaster> {
  const channel = new WorkerChannel<DomeRequest, DomeReply>((onMessage, onError) =>
    browserPort(
      new Worker(new URL('./dome-worker.ts', import.meta.url), { type: 'module' }),
      onMessage,
      () => onError(`${name}: reading it used up the memory of this tab`),
      '',
    ),
  )
  const limit = setTimeout(
    () => channel.close(new Error(`${name}: reading it takes too long; it is damaged`)),
    LONGEST_MS,
  )
  try {
    return (await channel.ask({ type: 'decode', bytes, name }, 'raster')).raster
  } finally {
    clearTimeout(limit)
    channel.close()
  }
}
