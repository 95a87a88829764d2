import { CancelledError } from '@/core/errors'
import type { MeshReport } from '@/core/geometry/mesh-report'
import { browserPort } from '@/core/workers/browser-port'
import { WorkerChannel } from '@/core/workers/worker-channel'
import {
  IMPORT_STAGES,
  type ImportMessage,
  type ImportReply,
  type ImportRequest,
  type ImportStage,
  type ReadModel,
} from './import-messages'

type ImportChannel = WorkerChannel<ImportMessage, ImportReply>

/** One errand's worker; it lives for that one, so a hopeless one can always be given up. */
function openErrand(name: string, signal: AbortSignal | undefined): ImportChannel {
  const channel: ImportChannel = new WorkerChannel((onMessage, onError) =>
    browserPort(
      new Worker(new URL('./import-worker.ts', import.meta.url), { type: 'module' }),
      onMessage,
      // What the browser says of it is of no help to who waits for a file.
      () => onError(`${name}: reading it used up the memory of this tab`),
      '',
    ),
  )
  const cancel = () => channel.close(new CancelledError(`Reading ${name}`))
  if (signal?.aborted) cancel()
  else signal?.addEventListener('abort', cancel, { once: true })
  return channel
}

/** A model as the application keeps it while it is open. */
export interface LoadedModel extends ReadModel {
  /** What was found in it: follows the model. Fails with {CancelledError} when the reading is aborted. */
  readonly report: Promise<MeshReport>
}

const isStage = (stage: string | null): stage is ImportStage => IMPORT_STAGES.some((known) => known === stage)

/**
 * Reads or makes a model off the main thread.
 * @throws {Error} with a message that names the file and the reason; {CancelledError} when aborted.
 */
export async function readModelInWorker(
  request: ImportRequest,
  signal?: AbortSignal,
  onStage: (stage: ImportStage) => void = () => undefined,
): Promise<LoadedModel> {
  const channel = openErrand(request.type === 'file' ? request.entry : request.prop, signal)
  try {
    const { model } = await channel.ask(request, 'model', {
      onProgress: (_share, stage) => {
        if (isStage(stage)) onStage(stage)
      },
    })
    const report = channel
      .ask({ type: 'report' }, 'report')
      .then((reply) => reply.report)
      .finally(() => channel.close())
    // Whoever wants it hears of it; nobody else need.
    report.catch(() => undefined)
    return { ...model, report }
  } catch (error) {
    channel.close()
    throw error
  }
}

/** The models of a zip and what belongs to them, by path. @throws as {@link readModelInWorker}. */
export async function unzipInWorker(
  name: string,
  file: Blob,
  signal?: AbortSignal,
): Promise<ReadonlyMap<string, Uint8Array>> {
  const channel = openErrand(name, signal)
  try {
    return (await channel.ask({ type: 'zip', name, file }, 'files')).files
  } finally {
    channel.close()
  }
}
