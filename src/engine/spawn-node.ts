import { Worker } from 'node:worker_threads'
import type { SpawnWorker } from '@/core/workers/worker-channel'

/** Render workers as Node threads, from a bundled worker file. */
export const spawnNodeWorkers =
  (workerFile: URL): SpawnWorker =>
  (onMessage, onError) => {
    const worker = new Worker(workerFile)
    worker.on('message', (message: unknown) => onMessage(message))
    worker.on('error', (error) => onError(error.message))
    return {
      post: (message, transfer = []) => worker.postMessage(message, [...transfer] as ArrayBuffer[]),
      close: () => void worker.terminate(),
    }
  }
