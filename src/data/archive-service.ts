import { CancelledError } from '@/core/errors'
import type { ArchiveReply, ArchiveRequest } from './archive-worker'
import type { ProjectBundle } from './project-archive'

/** The worker lives for one archive, so it can always be given up. */
function ask(message: ArchiveRequest, what: string, signal?: AbortSignal): Promise<ArchiveReply> {
  const worker = new Worker(new URL('./archive-worker.ts', import.meta.url), { type: 'module' })
  return new Promise<ArchiveReply>((resolve, reject) => {
    const cancel = () => reject(new CancelledError(what))
    if (signal?.aborted) cancel()
    signal?.addEventListener('abort', cancel)
    worker.onmessage = (event: MessageEvent<ArchiveReply>) =>
      'problem' in event.data ? reject(new Error(event.data.problem)) : resolve(event.data)
    worker.onerror = () => reject(new Error(`${what} used up the memory of this tab`))
    worker.postMessage(message)
  }).finally(() => worker.terminate())
}

/** @throws {CancelledError} when aborted. */
export async function packArchive(bundle: ProjectBundle, signal?: AbortSignal): Promise<Uint8Array> {
  const reply = await ask({ type: 'pack', bundle }, 'Writing the archive', signal)
  if (!('bytes' in reply)) throw new Error('expected an archive')
  return reply.bytes
}

/** @throws {Error} naming the file and what in it is wrong; {CancelledError} when aborted. */
export async function unpackArchive(
  bytes: Uint8Array,
  name: string,
  signal?: AbortSignal,
): Promise<ProjectBundle> {
  const reply = await ask({ type: 'unpack', bytes, name }, `Reading ${name}`, signal)
  if (!('bundle' in reply)) throw new Error('expected a project')
  return reply.bundle
}
