import { CancelledError } from '@/core/errors'
import type { FileBundle } from '@/core/formats/file-bundle'
import type { ImportReply, LoadedModel } from './import-worker'

/**
 * Reads a model off the main thread; the worker lives for one file, so a hopeless one can always be given up.
 * @throws {Error} with a message that names the file and the reason; {CancelledError} when aborted.
 */
export function readModelInWorker(
  files: FileBundle,
  entry: string,
  signal?: AbortSignal,
): Promise<LoadedModel> {
  const worker = new Worker(new URL('./import-worker.ts', import.meta.url), { type: 'module' })
  return new Promise<LoadedModel>((resolve, reject) => {
    signal?.addEventListener('abort', () => reject(new CancelledError(`Reading ${entry}`)))
    worker.onmessage = (event: MessageEvent<ImportReply>) =>
      'model' in event.data ? resolve(event.data.model) : reject(new Error(event.data.problem))
    worker.onerror = () => reject(new Error(`${entry}: reading it used up the memory of this tab`))
    worker.postMessage({ entry, files: new Map(files) })
  }).finally(() => worker.terminate())
}
