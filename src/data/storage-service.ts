import { CancelledError } from '@/core/errors'
import type { Tile } from '@/core/passes/tile'
import type { BundleCost } from '@/core/formats/pass-bundle'
import type { PassResult } from '@/core/passes/pass-result'
import type { PassKindName } from '@/core/passes/registry'
import type { ChannelData, ChannelSpec } from '@/core/picture/channel'
import { movable } from '@/core/workers/answer-requests'
import { browserPort } from '@/core/workers/browser-port'
import { WorkerChannel } from '@/core/workers/worker-channel'
import { storageProblem } from './project-repository'
import type { BlockParts, JobRecord, KeptBlock } from './render-jobs'
import type { Project, Rendered } from './project-schema'
import { ensureRoom } from './storage-room'
import type { StorageReply, StorageRequest } from './storage-worker'

type StorageChannel = WorkerChannel<StorageRequest, StorageReply>

/** The storage worker as promises. */
const openStorage = (): StorageChannel =>
  new WorkerChannel((onMessage, onError) =>
    browserPort(
      new Worker(new URL('./storage-worker.ts', import.meta.url), { type: 'module' }),
      onMessage,
      onError,
      'this tab has not enough memory for it',
    ),
  )

let shared: StorageChannel | null = null
const storage = (): StorageChannel => (shared ??= openStorage())

/** Keeps a finished block; the channels given move to the worker. */
export async function storeBlock(
  record: JobRecord,
  block: number,
  rect: Tile,
  parts: BlockParts[],
): Promise<void> {
  const transfer = movable(parts.flatMap((part) => part.channels))
  await storage().ask({ type: 'save-block', record, block, rect, parts }, 'done', { transfer })
}

/** The kept blocks of one pass, put together. */
export async function fetchBlocks(
  jobId: string,
  passId: string,
  specs: readonly ChannelSpec[],
  frame: { readonly width: number; readonly height: number },
): Promise<{ channels: ChannelData[]; blocks: KeptBlock[] }> {
  const message = { type: 'load-blocks' as const, jobId, passId, specs: [...specs], ...frame }
  const { channels, blocks } = await storage().ask(message, 'blocks')
  return { channels, blocks }
}

/** Runs one large task in a worker of its own, which a cancel ends at once. */
async function alone<T>(
  what: string,
  signal: AbortSignal | undefined,
  task: (own: StorageChannel) => Promise<T>,
) {
  const own = openStorage()
  const cancel = () => own.fail(new CancelledError(what))
  signal?.addEventListener('abort', cancel)
  try {
    if (signal?.aborted) throw new CancelledError(what)
    return await task(own)
  } finally {
    signal?.removeEventListener('abort', cancel)
    own.close()
  }
}

/** Stores a file as it was given. @throws {Error} in words where there is no room for it. */
export async function storeFile(
  projectId: string,
  fileId: string,
  name: string,
  bytes: Uint8Array,
): Promise<void> {
  try {
    await storage().ask({ type: 'save-file', projectId, fileId, name, bytes }, 'done')
  } catch (error) {
    throw new Error(storageProblem(error), { cause: error })
  }
}

/** Stores a pass. Its channels move to the worker: the arrays given are empty afterwards. */
export async function storeResult(projectId: string, resultId: string, result: PassResult): Promise<void> {
  const transfer = movable(result.channels)
  await storage().ask({ type: 'save-result', projectId, resultId, result }, 'done', { transfer })
}

/**
 * Stores a pass as another machine rendered it. @param name what it is called where it is wrong.
 * @returns what it is, without its channels and lines, and what it cost.
 * @throws {Error} in words where it is another pass, is damaged or has no room.
 */
export async function storeBundle(
  projectId: string,
  resultId: string,
  name: string,
  bundle: Blob,
  expected: { readonly kind: PassKindName; readonly width: number; readonly height: number },
): Promise<BundleCost & { readonly result: PassResult }> {
  await ensureRoom(name, bundle.size)
  try {
    const message = { type: 'save-bundle', projectId, resultId, name, bundle, expected } as const
    const { result, cost } = await storage().ask(message, 'stored')
    return { ...cost, result }
  } catch (error) {
    // Only what is wrong with the browser is the browser's.
    throw /quota/i.test(String(error)) ? new Error(storageProblem(error), { cause: error }) : error
  }
}

/** A stored pass, or null where it is gone. */
export async function fetchResult(projectId: string, rendered: Rendered): Promise<PassResult | null> {
  return (await storage().ask({ type: 'load-result', projectId, rendered }, 'result')).result
}

/** Stores tiles that were painted by hand; their bytes are moved. @throws {Error} in words where there is no room for them. */
export async function storePaint(
  projectId: string,
  tiles: readonly { readonly name: string; readonly bytes: Uint8Array<ArrayBuffer> }[],
): Promise<void> {
  try {
    const transfer = movable(tiles.map(({ bytes }) => bytes))
    const message = { type: 'save-paint', projectId, tiles: tiles.map((tile) => ({ ...tile })) } as const
    await storage().ask(message, 'done', { transfer })
  } catch (error) {
    throw new Error(storageProblem(error), { cause: error })
  }
}

/** Tiles that were painted by hand; those that are gone are left out. */
export async function fetchPaint(
  names: readonly string[],
): Promise<readonly { readonly name: string; readonly bytes: Uint8Array<ArrayBuffer> }[]> {
  return (await storage().ask({ type: 'load-paint', names: [...names] }, 'paint')).tiles
}

type OnProgress = (share01: number) => void

/** A stored project as an archive. @throws {CancelledError} when aborted. */
export const packProject = (project: Project, signal?: AbortSignal, onProgress?: OnProgress): Promise<Blob> =>
  alone(
    'Writing the archive',
    signal,
    async (own) => (await own.ask({ type: 'pack', project }, 'file', { onProgress })).file,
  )

/**
 * Stores the project of an archive, which may be larger than memory.
 * @param options.keepIdWhereFree keep the project's own id unless one of that id is there.
 * @returns its id.
 * @throws {Error} naming the file and what in it is wrong; {CancelledError} when aborted.
 */
export const importArchive = (
  file: Blob,
  name: string,
  options: { keepIdWhereFree?: boolean; signal?: AbortSignal; onProgress?: OnProgress } = {},
): Promise<string> =>
  alone(`Reading ${name}`, options.signal, async (own) => {
    const { keepIdWhereFree = false, onProgress } = options
    // What it holds is mostly packed: it takes this much at the least.
    await ensureRoom(name, file.size)
    const message = { type: 'import' as const, name, file, keepIdWhereFree }
    return (await own.ask(message, 'project', { onProgress })).projectId
  })

/** Copies a stored project. @returns the copy's id. */
export const copyProject = (projectId: string): Promise<string> =>
  alone(
    'Copying',
    undefined,
    async (own) => (await own.ask({ type: 'duplicate', projectId }, 'project')).projectId,
  )

/** A stored pass as a file. @throws {Error} in words; {CancelledError} when aborted. */
export const passAsFile = (
  message: Omit<Extract<StorageRequest, { type: 'write-pass' }>, 'type' | 'request'>,
  signal?: AbortSignal,
): Promise<Blob> =>
  alone(
    'Writing the pass',
    signal,
    async (own) => (await own.ask({ type: 'write-pass', ...message }, 'file')).file,
  )

/** Stored passes as one EXR of many layers. @throws {Error} in words; {CancelledError} when aborted. */
export const passesAsExr = (
  message: Omit<Extract<StorageRequest, { type: 'write-layers' }>, 'type' | 'request'>,
  signal?: AbortSignal,
  onProgress?: OnProgress,
): Promise<Blob> =>
  alone(
    'Writing the passes',
    signal,
    async (own) => (await own.ask({ type: 'write-layers', ...message }, 'file', { onProgress })).file,
  )
