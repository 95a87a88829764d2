import type { CommonReply } from './worker-channel'

/** An answer, and the buffers of it that move instead of being copied. */
export interface Answer<Reply> {
  readonly reply: Reply
  readonly transfer?: readonly ArrayBuffer[]
}

/** Tells how much of what was asked is done, 0…1, and what is being done. */
export type Tell = (share01: number, stage?: string | null) => void

/**
 * The worker's side of a `WorkerChannel`: gives every message an answer, also one that means nothing, or its asker would
 * wait for ever.
 * @param parse checks a message, which is anything. @throws where it is no request.
 * @param answer may tell how much is done.
 * @param post sends a reply.
 * @returns what to call with each message; resolves once it is answered.
 */
export const answerRequests =
  <Request extends { readonly request: number }, Reply>(
    parse: (message: unknown) => Request,
    answer: (request: Request, tell: Tell) => Answer<Reply> | Promise<Answer<Reply>>,
    post: (reply: Reply | CommonReply, transfer: ArrayBuffer[]) => void,
  ): ((message: unknown) => Promise<void>) =>
  async (message) => {
    const request = numberOf(message)
    try {
      const parsed = parse(message)
      const { reply, transfer = [] } = await answer(parsed, (share01, stage = null) =>
        post({ type: 'progress', request, share01, stage }, []),
      )
      post(reply, [...new Set(transfer)])
    } catch (error) {
      const [name, text] = error instanceof Error ? [error.name, error.message] : ['Error', String(error)]
      post({ type: 'failed', request, name, message: text }, [])
    }
  }

const numberOf = (message: unknown): number =>
  typeof message === 'object' &&
  message !== null &&
  'request' in message &&
  typeof message.request === 'number'
    ? message.request
    : -1

/** Buffers of arrays that can move: memory that threads share stays where it is. */
export const movable = (values: Iterable<unknown>): ArrayBuffer[] =>
  [...values].flatMap((value) =>
    ArrayBuffer.isView(value) && value.buffer instanceof ArrayBuffer ? [value.buffer] : [],
  )
