import { browserPort } from '@/core/workers/browser-port'
import type { SpawnWorker } from '@/core/workers/worker-channel'

/** A render worker in a browser tab. */
export const spawnBrowserWorker: SpawnWorker = (onMessage, onError) =>
  browserPort(
    new Worker(new URL('./browser-worker.ts', import.meta.url), { type: 'module' }),
    onMessage,
    onError,
    'a render worker stopped',
  )
