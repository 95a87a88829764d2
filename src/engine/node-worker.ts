import { parentPort } from 'node:worker_threads'
import { WorkerCore } from './worker-core'

const core = new WorkerCore(() => performance.now())

parentPort?.on('message', (message: unknown) => {
  const { reply, transfer } = core.handle(message)
  parentPort?.postMessage(reply, transfer)
})
