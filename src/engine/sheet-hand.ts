import { HandCore } from './hand-core'
import type { ToHand } from './sheet-hands'

/** A hand as a browser's worker. */
const core = new HandCore(() => self.postMessage('ready'))
self.onmessage = ({ data }: MessageEvent<ToHand>) => core.receive(data)
