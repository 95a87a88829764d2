import type { WorkerPort } from './worker-channel'

/** The little of a browser's worker that is used here: the core is checked without the DOM's types. */
export interface BrowserWorker {
  addEventListener(type: 'message', listener: (event: { readonly data: unknown }) => void): void
  addEventListener(type: 'error', listener: (event: { readonly message?: string }) => void): void
  postMessage(message: unknown, options: { transfer: object[] }): void
  terminate(): void
}

/**
 * A worker of a browser tab as a channel's port.
 * @param whenBroken what is said where the browser says nothing.
 */
export function browserPort(
  worker: BrowserWorker,
  onMessage: (message: unknown) => void,
  onError: (reason: string) => void,
  whenBroken: string,
): WorkerPort {
  worker.addEventListener('message', (event) => onMessage(event.data))
  worker.addEventListener('error', (event) => onError(event.message || whenBroken))
  return {
    post: (message, transfer = []) => worker.postMessage(message, { transfer: [...transfer] }),
    close: () => worker.terminate(),
  }
}
