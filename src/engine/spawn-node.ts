import { Worker } from 'node:worker_threads'
import type { FromWorker } from './messages'
import type { SpawnWorker } from './render-pool'

/** Render workers as Node threads, from a bundled worker file. */
export const spawnNodeWorkers =
  (workerFile: URL): SpawnWorker =>
  (onMessage, onError) => {
    const worker = new Worker(workerFile)
    worker.on('message', (message: FromWorker) => onMessage(message))
    worker.on('error', (error) => onError(error.message))
    return { post: (message) => worker.postMessage(message), close: () => void worker.terminate() }
  }
