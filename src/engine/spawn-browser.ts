import type { FromWorker } from './messages'
import type { SpawnWorker } from './render-pool'

/** A render worker in a browser tab. */
export const spawnBrowserWorker: SpawnWorker = (onMessage, onError) => {
  const worker = new Worker(new URL('./browser-worker.ts', import.meta.url), { type: 'module' })
  worker.onmessage = (event: MessageEvent<FromWorker>) => onMessage(event.data)
  worker.onerror = (event) => onError(event.message || 'a render worker stopped')
  return { post: (message) => worker.postMessage(message), close: () => worker.terminate() }
}
