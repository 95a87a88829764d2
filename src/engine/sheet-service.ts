import { CancelledError } from '@/core/errors'
import type { Sheet } from '@/core/sheet/sheet-schema'
import type { SheetReply, SheetRequest } from './sheet-worker'

type WithoutRequest<T> = T extends { request: number } ? Omit<T, 'request'> : never
type ReplyOf<K extends SheetReply['type']> = Extract<SheetReply, { type: K }>

/** The sheet worker as promises. */
export class SheetService {
  private readonly worker: Worker
  private readonly waiting = new Map<
    number,
    {
      resolve: (reply: SheetReply) => void
      reject: (error: Error) => void
      onProgress?: (share01: number) => void
    }
  >()
  private next = 1
  private closed = false

  constructor() {
    this.worker = new Worker(new URL('./sheet-worker.ts', import.meta.url), { type: 'module' })
    this.worker.onmessage = (event: MessageEvent<SheetReply>) => {
      const waiter = this.waiting.get(event.data.request)
      if (event.data.type === 'progress') {
        waiter?.onProgress?.(event.data.share01)
        return
      }
      this.waiting.delete(event.data.request)
      if (event.data.type === 'failed') waiter?.reject(new Error(event.data.message))
      else waiter?.resolve(event.data)
    }
    this.worker.onerror = (event) => {
      for (const waiter of this.waiting.values())
        waiter.reject(new Error(event.message || 'the sheet worker stopped'))
      this.waiting.clear()
    }
  }

  private ask(
    message: WithoutRequest<SheetRequest>,
    onProgress?: (share01: number) => void,
    transfer: ArrayBuffer[] = [],
  ): Promise<SheetReply> {
    // A worker that was ended would never answer: an export cancelled between two of its requests must end too.
    if (this.closed) return Promise.reject(new CancelledError('The sheet’s work'))
    const request = this.next++
    return new Promise((resolve, reject) => {
      this.waiting.set(request, { resolve, reject, onProgress })
      this.worker.postMessage({ ...message, request }, transfer)
    })
  }

  /** Hands over a pass or a picture; their arrays move to the worker and are empty afterwards. */
  async give(message: Extract<WithoutRequest<SheetRequest>, { type: 'pass' | 'picture' }>): Promise<void> {
    const arrays = message.type === 'pass' ? (message.result?.channels ?? []) : [message.bytes]
    const transfer = arrays.map((a) => a.buffer).filter((b) => b instanceof ArrayBuffer)
    await this.ask(message, undefined, transfer)
  }
  /** @throws {Error} naming the file and the reason where it is no picture that can be read. */
  async checkPicture(name: string, bytes: Uint8Array): Promise<void> {
    await this.ask({ type: 'check-picture', name, bytes })
  }
  /** Lets go of a picture. */
  async drop(message: Extract<WithoutRequest<SheetRequest>, { type: 'drop-picture' }>): Promise<void> {
    await this.ask(message)
  }
  /** A picture, or null where its source is missing. */
  async raster(
    message: Extract<WithoutRequest<SheetRequest>, { type: 'compose' | 'thumbnail' | 'pass-picture' }>,
  ): Promise<ReplyOf<'raster'> | null> {
    const reply = await this.ask(message)
    return reply.type === 'raster' ? reply : null
  }
  /** Tells with which lights and base colours a pass is to be seen. */
  async relight(message: Extract<WithoutRequest<SheetRequest>, { type: 'lights' }>): Promise<void> {
    await this.ask(message)
  }
  /** The lines of a pass as they are on a layer, as an SVG file; null where it has none. */
  async linesFile(
    message: Omit<Extract<WithoutRequest<SheetRequest>, { type: 'lines-file' }>, 'type'>,
  ): Promise<Uint8Array | null> {
    const reply = await this.ask({ type: 'lines-file', ...message })
    return reply.type === 'file' ? reply.bytes : null
  }
  /** Keys of the parts whose lines lie beneath a brush. */
  async partsBeneath(passId: string, path: number[], radius: number): Promise<string[]> {
    const reply = await this.ask({ type: 'lines-beneath', passId, path, radius })
    return reply.type === 'parts' ? reply.keys : []
  }
  /** What is beneath a place of a sheet, 0…1 across and down. */
  async pick(
    shotId: string,
    { width, height, fit }: Pick<Sheet, 'width' | 'height' | 'fit'>,
    x01: number,
    y01: number,
  ): Promise<ReplyOf<'picked'>> {
    const sheet = { width, height, fit }
    const reply = await this.ask({ type: 'pick', shotId, sheet, x01, y01 })
    if (reply.type !== 'picked') throw new Error(`expected a pick, got ${reply.type}`)
    return reply
  }
  async export(
    message: Extract<WithoutRequest<SheetRequest>, { type: 'export' }>,
    onProgress: (share01: number) => void,
  ): Promise<Uint8Array> {
    const reply = await this.ask(message, onProgress)
    if (reply.type !== 'file') throw new Error(`expected a file, got ${reply.type}`)
    return reply.bytes
  }

  /** Ends the worker in the middle of whatever it does. */
  close(): void {
    this.closed = true
    this.worker.terminate()
    for (const waiter of this.waiting.values()) waiter.reject(new CancelledError('The sheet’s work'))
    this.waiting.clear()
  }
}
