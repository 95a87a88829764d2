import { HandCore } from '../hand-core'
import type { SpawnHand, ToHand } from '../sheet-hands'

/** Hands of this thread: they paint as soon as they are told, all that is left. @param spoil may change what they are told. */
export const inThreadHands =
  (spoil: (message: ToHand) => void = () => undefined): SpawnHand =>
  (onReady) => {
    const core = new HandCore(() => queueMicrotask(onReady))
    return {
      post: (message) => {
        spoil(message)
        core.receive(message)
      },
      close: () => undefined,
    }
  }
