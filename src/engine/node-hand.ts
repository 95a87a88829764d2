import { parentPort } from 'node:worker_threads'
import { HandCore } from './hand-core'
import type { ToHand } from './sheet-hands'

/** A hand as a thread of Node. */
const core = new HandCore(() => parentPort?.postMessage('ready'))
parentPort?.on('message', (message: ToHand) => core.receive(message))
