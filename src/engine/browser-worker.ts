import { WorkerCore } from './worker-core'

const core = new WorkerCore(() => performance.now())

self.onmessage = (event: MessageEvent<unknown>) => {
  const { reply, transfer } = core.handle(event.data)
  self.postMessage(reply, { transfer })
}
