import { CancelledError } from '@/core/errors'
import type { Tile } from '@/core/passes/pass-kind'
import type { PassResult } from '@/core/passes/pass-result'
import type { ChannelData, ChannelSpec } from '@/core/picture/channel'
import type { BlockParts, JobRecord, KeptBlock } from './render-jobs'
import type { Project, Rendered } from './project-schema'
import type { StorageReply, StorageRequest } from './storage-worker'

type WithoutRequest<T> = T extends { request: number } ? Omit<T, 'request'> : never
type ReplyOf<K extends StorageReply['type']> = Extract<StorageReply, { type: K }>

/** The storage worker as promises. */
class StorageService {
  private readonly worker = new Worker(new URL('./storage-worker.ts', import.meta.url), { type: 'module' })
  private readonly waiting = new Map<
    number,
    {
      resolve: (reply: StorageReply) => void
      reject: (error: Error) => void
      onProgress?: (share01: number) => void
    }
  >()
  private next = 1

  constructor() {
    this.worker.onmessage = (event: MessageEvent<StorageReply>) => {
      const waiter = this.waiting.get(event.data.request)
      if (event.data.type === 'progress') {
        waiter?.onProgress?.(event.data.share01)
        return
      }
      this.waiting.delete(event.data.request)
      if (event.data.type === 'failed') {
        const error = new Error(event.data.message)
        error.name = event.data.name
        waiter?.reject(error)
      } else waiter?.resolve(event.data)
    }
    this.worker.onerror = () => this.fail(new Error('this tab has not enough memory for it'))
  }

  async ask<K extends StorageReply['type']>(
    kind: K,
    message: WithoutRequest<StorageRequest>,
    transfer: ArrayBuffer[] = [],
    onProgress?: (share01: number) => void,
  ): Promise<ReplyOf<K>> {
    const request = this.next++
    const reply = await new Promise<StorageReply>((resolve, reject) => {
      this.waiting.set(request, { resolve, reject, onProgress })
      this.worker.postMessage({ ...message, request }, transfer)
    })
    if (reply.type !== kind) throw new Error(`expected ${kind}, got ${reply.type}`)
    return reply as ReplyOf<K>
  }

  fail(error: Error): void {
    for (const waiter of this.waiting.values()) waiter.reject(error)
    this.waiting.clear()
  }

  close(): void {
    this.worker.terminate()
  }
}

let shared: StorageService | null = null
const service = (): StorageService => (shared ??= new StorageService())

/** Keeps a finished block; the channels given move to the worker. */
export async function storeBlock(
  record: JobRecord,
  block: number,
  rect: Tile,
  parts: BlockParts[],
): Promise<void> {
  const buffers = parts.flatMap((part) => part.channels.map((c) => c.buffer as ArrayBuffer))
  await service().ask('done', { type: 'save-block', record, block, rect, parts }, buffers)
}

/** The kept blocks of one pass, put together. */
export async function fetchBlocks(
  jobId: string,
  passId: string,
  specs: readonly ChannelSpec[],
  frame: { readonly width: number; readonly height: number },
): Promise<{ channels: ChannelData[]; blocks: KeptBlock[] }> {
  const message = { type: 'load-blocks' as const, jobId, passId, specs: [...specs], ...frame }
  const { channels, blocks } = await service().ask('blocks', message)
  return { channels, blocks }
}

/** Runs one large task in a worker of its own, which a cancel ends at once. */
async function alone<T>(
  what: string,
  signal: AbortSignal | undefined,
  task: (s: StorageService) => Promise<T>,
) {
  const own = new StorageService()
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

/** Stores a pass. Its channels move to the worker: the arrays given are empty afterwards. */
export async function storeResult(projectId: string, resultId: string, result: PassResult): Promise<void> {
  const buffers = result.channels.map((c) => c.buffer).filter((b) => b instanceof ArrayBuffer)
  await service().ask('done', { type: 'save-result', projectId, resultId, result }, buffers)
}

/** A stored pass, or null where it is gone. */
export async function fetchResult(projectId: string, rendered: Rendered): Promise<PassResult | null> {
  return (await service().ask('result', { type: 'load-result', projectId, rendered })).result
}

type OnProgress = (share01: number) => void

/** A stored project as an archive. @throws {CancelledError} when aborted. */
export const packProject = (project: Project, signal?: AbortSignal, onProgress?: OnProgress): Promise<Blob> =>
  alone(
    'Writing the archive',
    signal,
    async (own) => (await own.ask('file', { type: 'pack', project }, [], onProgress)).file,
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
    const message = { type: 'import' as const, name, file, keepIdWhereFree }
    return (await own.ask('project', message, [], onProgress)).projectId
  })

/** Copies a stored project. @returns the copy's id. */
export const copyProject = (projectId: string): Promise<string> =>
  alone(
    'Copying',
    undefined,
    async (own) => (await own.ask('project', { type: 'duplicate', projectId })).projectId,
  )
