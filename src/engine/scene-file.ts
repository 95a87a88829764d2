import { CancelledError } from '@/core/errors'
import type { SceneModel } from '@/core/scene/scene-geometry'
import { browserPort } from '@/core/workers/browser-port'
import { WorkerChannel } from '@/core/workers/worker-channel'
import type { SceneFileReply, SceneFileRequest } from './scene-file-worker'

/** A scene as binary glTF, made in a worker of its own. @throws {CancelledError} when aborted; {Error} in words. */
export async function sceneAsGlb(
  name: string,
  models: readonly SceneModel[],
  signal: AbortSignal,
): Promise<Uint8Array<ArrayBuffer>> {
  const own = new WorkerChannel<SceneFileRequest, SceneFileReply>((onMessage, onError) =>
    browserPort(
      new Worker(new URL('./scene-file-worker.ts', import.meta.url), { type: 'module' }),
      onMessage,
      onError,
      'the worker that writes scenes stopped',
    ),
  )
  const cancel = () => own.fail(new CancelledError('The scene'))
  signal.addEventListener('abort', cancel)
  try {
    if (signal.aborted) throw new CancelledError('The scene')
    return (await own.ask({ type: 'glb', name, models: [...models] }, 'file')).file
  } finally {
    signal.removeEventListener('abort', cancel)
    own.close()
  }
}
