import { parentPort } from 'node:worker_threads'
import { answerRequests } from '@/core/workers/answer-requests'
import { parseToWorker } from './messages'
import { WorkerCore } from './worker-core'

const core = new WorkerCore(() => performance.now())
const answer = answerRequests(
  parseToWorker,
  (message) => core.answer(message),
  (reply, transfer) => parentPort?.postMessage(reply, transfer),
)

parentPort?.on('message', (message: unknown) => void answer(message))
