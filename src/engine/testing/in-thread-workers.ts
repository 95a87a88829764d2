import { answerRequests } from '@/core/workers/answer-requests'
import type { SpawnWorker } from '@/core/workers/worker-channel'
import { parseToWorker } from '../messages'
import { WorkerCore } from '../worker-core'

let spawned = 0

/** Render workers that answer in this thread, each after a delay of its own, so that tiles come back out of order. */
export const inThreadWorkers =
  (delaysMs: readonly number[]): SpawnWorker =>
  (onMessage) => {
    const core = new WorkerCore(() => performance.now())
    const delay = delaysMs[spawned++ % delaysMs.length]
    const answer = answerRequests(parseToWorker, (message) => core.answer(message), onMessage)
    return {
      post: (message) => void setTimeout(() => void answer(message), delay),
      close: () => undefined,
    }
  }
