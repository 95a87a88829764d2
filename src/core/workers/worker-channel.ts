import { BrokenWorkerError } from '../errors'

/** A worker as its asker sees it; made by an adapter for browsers or for Node. */
export interface WorkerPort {
  readonly post: (message: unknown, transfer?: readonly object[]) => void
  readonly close: () => void
}
export type SpawnWorker = (
  onMessage: (message: unknown) => void,
  onError: (reason: string) => void,
) => WorkerPort

/** What any worker may answer, beside answers of its own. */
export type CommonReply =
  | { readonly type: 'failed'; readonly request: number; readonly name: string; readonly message: string }
  | {
      readonly type: 'progress'
      readonly request: number
      readonly share01: number
      /** What is being done, by a name that both sides know. */
      readonly stage: string | null
    }

interface Numbered {
  readonly type: string
  readonly request: number
}
/** A request without its number, which the channel gives it. */
export type Asked<T> = T extends Numbered ? Omit<T, 'request'> : never
export type ReplyOf<R, K> = Extract<R, { readonly type: K }>

export interface AskOptions {
  /** Buffers, and what else can, that move to the worker instead of being copied. */
  readonly transfer?: readonly object[]
  readonly onProgress?: (share01: number, stage: string | null) => void
}

interface Waiting {
  readonly resolve: (reply: Numbered) => void
  readonly reject: (error: Error) => void
  readonly onProgress?: (share01: number, stage: string | null) => void
}

/**
 * Requests to one worker and its replies, in whatever order they come. The worker's side is `answerRequests`.
 * @typeParam Request what may be asked, with its number.
 * @typeParam Reply what may be answered, with the number of what was asked.
 */
export class WorkerChannel<Request extends Numbered, Reply extends Numbered> {
  private readonly port: WorkerPort
  private readonly waiting = new Map<number, Waiting>()
  private next = 1
  private broken: Error | null = null

  /** @param onBroken told when the worker fails as a whole; what waits has failed then. */
  constructor(spawn: SpawnWorker, onBroken: (error: Error) => void = () => undefined) {
    this.port = spawn(
      (message) => this.receive(message as Reply | CommonReply),
      (reason) => {
        const error = new BrokenWorkerError(reason)
        this.fail(error)
        onBroken(error)
      },
    )
  }

  /**
   * Asks and waits for an answer of a kind, or of one of some.
   * @throws {BrokenWorkerError} when the worker ended by itself.
   * @throws {Error} with the name and the words of what failed in the worker, or of what the channel failed with.
   */
  async ask<K extends Reply['type']>(
    message: Asked<Request>,
    kind: K | readonly K[],
    { transfer, onProgress }: AskOptions = {},
  ): Promise<ReplyOf<Reply, K>> {
    if (this.broken) throw this.broken
    const request = this.next++
    const reply = await new Promise<Numbered>((resolve, reject) => {
      this.waiting.set(request, { resolve, reject, onProgress })
      this.port.post({ ...message, request }, transfer)
    })
    const kinds: readonly string[] = typeof kind === 'string' ? [kind] : kind
    if (!kinds.includes(reply.type)) throw new Error(`expected ${kinds.join(' or ')}, got ${reply.type}`)
    return reply as ReplyOf<Reply, K>
  }

  private receive(reply: Reply | CommonReply): void {
    const waiter = this.waiting.get(reply.request)
    const common = commonOf(reply)
    if (common?.type === 'progress') {
      waiter?.onProgress?.(common.share01, common.stage)
      return
    }
    this.waiting.delete(reply.request)
    if (common) {
      const error = new Error(common.message)
      error.name = common.name
      waiter?.reject(error)
    } else waiter?.resolve(reply)
  }

  /** Fails what waits and whatever is asked from now on. */
  fail(error: Error): void {
    this.broken = error
    for (const waiter of this.waiting.values()) waiter.reject(error)
    this.waiting.clear()
  }

  /** Ends the worker in the middle of whatever it does. @param reason what then fails with. */
  close(reason: Error = new Error('the worker was closed')): void {
    this.port.close()
    this.fail(reason)
  }
}

const commonOf = (reply: Numbered): CommonReply | null =>
  reply.type === 'failed' || reply.type === 'progress' ? (reply as CommonReply) : null
