import { answerRequests } from '@/core/workers/answer-requests'
import { parseToWorker } from './messages'
import { WorkerCore } from './worker-core'

const core = new WorkerCore(() => performance.now())
const answer = answerRequests(
  parseToWorker,
  (message) => core.answer(message),
  (reply, transfer) => self.postMessage(reply, { transfer }),
)

self.onmessage = (event: MessageEvent<unknown>) => void answer(event.data)
