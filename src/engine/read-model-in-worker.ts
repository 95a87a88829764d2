import { CancelledError } from '@/core/errors'
import type { z } from 'zod'
import type {
  ImportReply,
  ImportRequest,
  ImportStage,
  LoadedModel,
  unzipRequestSchema,
} from './import-worker'

type UnzipRequest = z.infer<typeof unzipRequestSchema>

/** One errand of an import worker; it lives for that one, so a hopeless one can always be given up. */
function errand<T>(
  request: ImportRequest | UnzipRequest,
  name: string,
  take: (reply: ImportReply) => T | undefined,
  signal: AbortSignal | undefined,
): Promise<T> {
  if (signal?.aborted) return Promise.reject(new CancelledError(`Reading ${name}`))
  const worker = new Worker(new URL('./import-worker.ts', import.meta.url), { type: 'module' })
  return new Promise<T>((resolve, reject) => {
    signal?.addEventListener('abort', () => reject(new CancelledError(`Reading ${name}`)))
    worker.onmessage = ({ data }: MessageEvent<ImportReply>) => {
      const taken = take(data)
      if (taken !== undefined) resolve(taken)
      else if ('problem' in data) reject(new Error(data.problem))
    }
    worker.onerror = () => reject(new Error(`${name}: reading it used up the memory of this tab`))
    worker.postMessage(request)
  }).finally(() => worker.terminate())
}

/**
 * Reads or makes a model off the main thread.
 * @throws {Error} with a message that names the file and the reason; {CancelledError} when aborted.
 */
export function readModelInWorker(
  request: ImportRequest,
  signal?: AbortSignal,
  onStage: (stage: ImportStage) => void = () => undefined,
): Promise<LoadedModel> {
  const name = request.type === 'file' ? request.entry : request.prop
  return errand(
    request,
    name,
    (reply) => {
      if ('stage' in reply) onStage(reply.stage)
      return 'model' in reply ? reply.model : undefined
    },
    signal,
  )
}

/** The models of a zip and what belongs to them, by path. @throws as {@link readModelInWorker}. */
export const unzipInWorker = (
  name: string,
  file: Blob,
  signal?: AbortSignal,
): Promise<ReadonlyMap<string, Uint8Array>> =>
  errand({ type: 'zip', name, file }, name, (r) => ('files' in r ? r.files : undefined), signal)
