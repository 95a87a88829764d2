import { CancelledError } from '@/core/errors'
import type { ParamValues } from '@/core/params'
import type { PassResult } from '@/core/passes/pass-result'
import type { AtlasManifest, AtlasSetting } from '@/core/separate/atlas'
import type { AtlasSet } from '@/core/separate/atlas-pictures'
import type { BackdropManifest, BackdropRender } from '@/core/separate/backdrop'
import type { SeparationManifest } from '@/core/separate/separation-manifest'
import type { PackedPicture, SeparationSetting } from '@/core/separate/separation-desk'
import { movable } from '@/core/workers/answer-requests'
import { browserPort } from '@/core/workers/browser-port'
import { WorkerChannel } from '@/core/workers/worker-channel'
import type { DeskPort } from './render-separations'
import type { SeparationReply, SeparationRequestMessage } from './separation-worker'

/** The desk of a separation, in a worker, and the zip that its pictures may go to. */
export interface SeparationService {
  readonly desk: DeskPort
  /** Adds a file to the zip; its bytes move. */
  readonly add: (name: string, file: Uint8Array<ArrayBuffer>) => Promise<void>
  /** Takes a set for an atlas; its pictures move. @throws {InvalidValueError} naming a set that no page can hold. */
  readonly toAtlas: (setting: AtlasSetting, set: AtlasSet) => Promise<void>
  /** Packs what was taken, and adds its pages. */
  readonly packAtlas: (manifest: SeparationManifest) => Promise<AtlasManifest>
  /** Takes a backdrop apart; what was rendered moves. */
  readonly backdrop: (
    renders: Readonly<Record<BackdropRender, PassResult>>,
    look: ParamValues,
  ) => Promise<{
    readonly files: ReadonlyMap<string, Uint8Array<ArrayBuffer>>
    readonly manifest: BackdropManifest
  }>
  /** The zip of all that was added. */
  readonly finish: () => Promise<Blob>
}

/**
 * Separates in a worker of its own, which a cancel ends at once.
 * @throws {CancelledError} when aborted; what the task throws.
 */
export async function withSeparation<T>(
  setting: SeparationSetting,
  signal: AbortSignal,
  task: (service: SeparationService) => Promise<T>,
): Promise<T> {
  const own = new WorkerChannel<SeparationRequestMessage, SeparationReply>((onMessage, onError) =>
    browserPort(
      new Worker(new URL('./separation-worker.ts', import.meta.url), { type: 'module' }),
      onMessage,
      onError,
      'the worker that separates parts stopped',
    ),
  )
  const cancel = () => own.fail(new CancelledError('The separation'))
  signal.addEventListener('abort', cancel)
  // A result is used up by what it is made into.
  const move = ({ channels }: PassResult) => ({ transfer: movable(channels) })
  const packed = async (reply: Promise<{ readonly picture: PackedPicture }>) => (await reply).picture
  const desk: DeskPort = {
    depth: async (index, window, result) =>
      void (await own.ask({ type: 'depth', index, window, result }, 'done', move(result))),
    order: async () => (await own.ask({ type: 'order' }, 'ordered')).order,
    picture: (result, look, window, isPart) =>
      packed(own.ask({ type: 'picture', result, look, window, isPart }, 'packed', move(result))),
    nothing: () => packed(own.ask({ type: 'nothing' }, 'packed')),
    difference: async (result, look) =>
      (await own.ask({ type: 'difference', result, look }, 'compared', move(result))).difference,
  }
  try {
    if (signal.aborted) throw new CancelledError('The separation')
    await own.ask({ type: 'begin', setting: { ...setting, frame: { ...setting.frame } } }, 'done')
    return await task({
      desk,
      add: async (name, file) =>
        void (await own.ask({ type: 'add', name, file }, 'done', { transfer: movable([file]) })),
      toAtlas: async (setting, set) =>
        void (await own.ask({ type: 'to-atlas', setting: { ...setting }, set: { ...set } }, 'done')),
      packAtlas: async (manifest) => (await own.ask({ type: 'pack-atlas', manifest }, 'atlas')).atlas,
      backdrop: (renders, look) =>
        own.ask({ type: 'backdrop', renders: { ...renders }, look }, 'backdrop', {
          transfer: movable(Object.values(renders).flatMap(({ channels }) => channels)),
        }),
      finish: async () => (await own.ask({ type: 'finish' }, 'zip')).file,
    })
  } finally {
    signal.removeEventListener('abort', cancel)
    own.close()
  }
}
